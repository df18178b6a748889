import { Sheet, twoLans } from '../../tests/topologies';
import { analyse, tablesOf } from '..';

const drawing = twoLans();
const tables = (id: string, of = drawing) => tablesOf(analyse(of), id);

test('a switch knows behind which port each interface is, a router who has which address', () => {
  const router = tables('R');
  expect(router.arp.map(({ address, interface: on, device }) => [address, on, device])).toEqual([
    ['10.84.1.11', 'g0', 'A'],
    ['10.84.2.11', 'g1', 'B'],
  ]);
  const [a] = tables('A').interfaces;
  expect(router.arp[0]!.mac).toBe(a!.mac);
  expect(tables('SA').macTable.map(({ vlan, port, device }) => [vlan, port, device])).toEqual([
    [1, 'p1', 'A'],
    [1, 'u1', 'R'],
  ]);
  expect(tables('SA').macTable[0]!.mac).toBe(a!.mac);
});

test('routes tell why they are there, interfaces why they are down, neighbours what is plugged in where', () => {
  expect(tables('A').routes.map(({ prefix, why }) => [prefix, why])).toEqual([
    ['10.84.1.0/24', 'connected, distance 0'],
    ['0.0.0.0/0', 'the gateway that is set, distance 1'],
  ]);
  expect(tables('A').neighbours).toEqual([{ port: 'e0', device: 'SA', remotePort: 'p1' }]);
  const { 'SA-p1-A-e0': _pulled, ...links } = drawing.links;
  expect(tables('A', { ...drawing, links }).interfaces[0]).toMatchObject({
    up: false,
    reason: 'Nothing is plugged in.',
  });
  const shut = twoLans();
  shut.devices.A!.interfaces!.e0!.enabled = false;
  expect(tables('A', shut).interfaces[0]).toMatchObject({ up: false, reason: 'It is shut.' });
});

test('two of three equal ways are told as such', () => {
  const sheet = new Sheet()
    .device(
      'R',
      'border-router',
      { g0: '10.0.1.1/24', g1: '10.0.2.1/24' },
      {
        settings: {
          routes: [
            { prefix: '10.9.0.0/16', via: '10.0.1.2' },
            { prefix: '10.9.0.0/16', via: '10.0.2.2' },
          ],
        },
      },
    )
    .device('X', 'border-router', { g0: '10.0.1.2/24', g1: '10.0.2.2/24' })
    .cable('R g0', 'X g0', 'crossover')
    .cable('R g1', 'X g1', 'crossover');
  const routes = tables('R', sheet.topology).routes.filter((route) => route.prefix === '10.9.0.0/16');
  expect(routes.map((route) => route.why)).toEqual(Array(2).fill('set by hand, distance 1, one of 2 equal ways'));
});

test('whoever gives leases knows to whom', () => {
  const lan = new Sheet()
    .device(
      'R',
      'border-router',
      { g0: '10.84.1.1/24' },
      {
        settings: { dhcpPools: [{ network: '10.84.1.0/24', router: '10.84.1.1' }] },
      },
    )
    .device('S', 'access-switch-12')
    .device('A', 'desktop', {}, { interfaces: { e0: { on: { kind: 'port', port: 'e0' }, v4: { dhcp: true } } } })
    .cable('R g0', 'S u1')
    .cable('S p1', 'A e0').topology;
  expect(tables('R', lan).leases).toEqual([
    { address: '10.84.1.2', mac: tables('A', lan).interfaces[0]!.mac, device: 'A', interface: 'e0' },
  ]);
  expect(tables('A', lan).interfaces[0]!.lease).toEqual({ address: '10.84.1.2/24', router: '10.84.1.1', server: 'R' });
});

test('routers of an area know each other, and their neighbours', () => {
  const ospf = { settings: { ospf: { networks: [{ prefix: '10.0.0.0/8', area: 0 }] } } };
  const three = new Sheet()
    .device('R1', 'border-router', { g0: '10.0.1.1/24' }, ospf)
    .device('R2', 'border-router', { g0: '10.0.1.2/24', g1: '10.0.2.2/24' }, ospf)
    .device('R3', 'border-router', { g1: '10.0.2.3/24' }, ospf)
    .cable('R1 g0', 'R2 g0', 'crossover')
    .cable('R2 g1', 'R3 g1', 'crossover').topology;
  expect(tables('R1', three).ospfNeighbours).toEqual([{ device: 'R2', address: '10.0.1.2', interface: 'g0', area: 0 }]);
  expect(tables('R1', three).ospfDatabase).toEqual([
    { area: 0, routers: ['10.0.1.1', '10.0.2.2', '10.0.2.3'], adjacencies: 2 },
  ]);
});

test('a host that no server answers takes an address of 169.254.0.0/16 by itself, which is no lease (RFC 3927)', () => {
  const topology = new Sheet()
    .device('A', 'desktop', {}, { interfaces: { e0: { on: { kind: 'port', port: 'e0' }, v4: { dhcp: true } } } })
    .host('B', '10.84.1.2/24')
    .cable('A e0', 'B e0', 'crossover').topology;
  const model = analyse(topology);
  const [row] = tablesOf(model, 'A').interfaces;
  expect(row).toMatchObject({
    addresses: [],
    lease: null,
    automatic: expect.stringMatching(/^169\.254\.\d+\.\d+\/16$/) as string,
  });
  expect(row!.automatic).not.toMatch(/^169\.254\.(0|255)\./);
  expect(model.layer3.leases.size).toBe(0);
});

import { Sheet, twoLans } from '../tests/topologies';
import { type Topology, KIT } from '../topology';
import { analyse, fittingMedium, portUses, problemsOf, suggestLink } from '.';

const codes = (topology: Topology): string[] => problemsOf(analyse(topology)).map((one) => one.code);

test('a sound drawing has no problems', () => expect(codes(twoLans())).toEqual([]));

test.each<[string, (topology: Topology) => void, string]>([
  ['a name that is there twice', (t) => void (t.devices.B!.name = 'A'), 'NAME_TWICE'],
  ['a device without a name', (t) => void (t.devices.B!.name = ' '), 'NO_NAME'],
  [
    'an address that is there twice',
    (t) => void (t.devices.B!.interfaces!.e0!.v4!.addresses = ['10.84.1.11/24']),
    'DUPLICATE_ADDRESS',
  ],
  [
    'the network address on a host',
    (t) => void (t.devices.B!.interfaces!.e0!.v4!.addresses = ['10.84.2.0/24']),
    'ADDRESS_NOT_USABLE',
  ],
  [
    'the broadcast address on a host',
    (t) => void (t.devices.B!.interfaces!.e0!.v4!.addresses = ['10.84.2.255/24']),
    'ADDRESS_NOT_USABLE',
  ],
  [
    'an address that cannot be read',
    (t) => void (t.devices.B!.interfaces!.e0!.v4!.addresses = ['10.84.2.300/24']),
    'ADDRESS_UNREADABLE',
  ],
  ['a gateway outside the subnet', (t) => void (t.devices.B!.settings!.gateway4 = '10.84.9.1'), 'GATEWAY_OUTSIDE'],
  ['a port that is switched off', (t) => void (t.devices.SB!.ports = { p1: { enabled: false } }), 'PORT_OFF'],
  ['a device without power', (t) => void (t.devices.SB!.powered = false), 'NO_POWER'],
])('%s is told', (_what, change, code) => {
  const topology = structuredClone(twoLans());
  change(topology);
  expect(codes(topology)).toContain(code);
});

test('without power the device is told once, not every link of it', () => {
  const topology = structuredClone(twoLans());
  topology.devices.SB!.powered = false;
  expect(codes(topology).filter((one) => one === 'NO_POWER')).toHaveLength(1);
});

describe('suggesting a link', () => {
  const sheet = () =>
    new Sheet()
      .device('R', 'border-router')
      .device('S', 'access-switch-12')
      .device('T', 'access-switch-12')
      .host('H', '10.0.0.1/24');
  const end = (device: string) => ({ device });

  test('a host takes a slow port of the switch, and the router a fast one', () => {
    const { topology } = sheet();
    expect(suggestLink(topology, end('S'), end('H'))).toEqual({
      a: { device: 'S', port: 'p1' },
      b: { device: 'H', port: 'e0' },
      medium: 'straight',
    });
    expect(suggestLink(topology, end('R'), end('S'))).toEqual({
      a: { device: 'R', port: 'g0' },
      b: { device: 'S', port: 'u1' },
      medium: 'straight',
    });
  });
  test('taken ports are left out, and what is suggested comes up', () => {
    const { topology } = sheet().cable('S u1', 'T u1').cable('S p1', 'H e0');
    expect(suggestLink(topology, end('S'), end('T'))).toEqual({
      a: { device: 'S', port: 'u2' },
      b: { device: 'T', port: 'u2' },
      medium: 'straight',
    });
    expect(suggestLink(topology, end('S'), end('H'))).toBeNull();
    expect(
      portUses(topology, 'S')
        .filter((one) => !one.free)
        .map((one) => one.facts.key),
    ).toEqual(['p1', 'u1']);
  });
  test('like ports that find no pairing by themselves need a crossover cable', () => {
    const { topology } = sheet().host('G', '10.0.0.2/24');
    const link = suggestLink(topology, end('H'), end('G'))!;
    expect(link.medium).toBe('crossover');
    topology.links.x = link;
    expect(analyse(topology).layer1.links.get('x')!.up).toBe(true);
    expect(
      fittingMedium(
        { key: 'a', connector: 'copper', speeds: [100], pairing: 'mdi' },
        { key: 'b', connector: 'sm-fibre', speeds: [1000] },
      ),
    ).toBeNull();
  });
});

describe('a suggested link comes up, for any two models of the kit', () => {
  const models = Object.keys(KIT);
  test.each(models)('%s and every other', (one) => {
    for (const other of models) {
      const { topology } = new Sheet()
        .device('X', one, {}, { powered: true })
        .device('Y', other, {}, { powered: true });
      for (const id of ['X', 'Y']) {
        const bays = Object.entries(KIT[topology.devices[id]!.model]!.bays ?? {}).filter(([, bay]) =>
          bay.accepts.includes('power'),
        );
        if (bays.length) topology.devices[id]!.modules = Object.fromEntries(bays.map(([bay]) => [bay, 'power']));
      }
      const link = suggestLink(topology, { device: 'X' }, { device: 'Y' });
      if (!link) continue;
      topology.links.l = link;
      if (link.medium === 'serial') topology.devices.X!.ports = { [link.a.port]: { clockEnd: true } };
      if (link.medium === 'wireless')
        for (const [id, port] of [
          ['X', link.a.port],
          ['Y', link.b.port],
        ] as const)
          topology.devices[id]!.ports = { [port]: { radio: { ssid: 'col-air', security: 'wpa2', key: 'pylon' } } };
      const state = analyse(topology).layer1.links.get('l')!;
      expect([other, state.up, state.reason?.text]).toEqual([other, true, undefined]);
    }
  });
});

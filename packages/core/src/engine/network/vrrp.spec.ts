import { type Address, formatAddress, parseAddress } from '../../address';
import { framesOf } from '../../frames';
import { Sheet } from '../../tests/topologies';
import { type Interface, type Settings, type Topology } from '../../topology';
import { AnalysisSession, type NetworkModel, type Probe, analyse, switchOff, tablesOf, trace } from '..';

const address = (text: string): Address => (parseAddress(text) as { value: Address }).value;
const interfaceConfig = (port: string, v4: string, more: Partial<Interface> = {}): Record<string, Interface> => ({
  [port]: { on: { kind: 'port', port }, v4: { addresses: [v4] }, ...more },
});
const sent = (model: NetworkModel, from: string, to: string, target: string, probe: Probe = { protocol: 'icmp' }) =>
  trace(model, from, to, address(target), probe);

describe('virtual routers (RFC 9568)', () => {
  /** A host behind two routers with one virtual address, both joined to a third one. */
  function twin(first: object, second: object): Topology {
    const vrrp = (more: object) => ({ vrrp: [{ group: 7, addresses: ['10.0.0.254'], ...more }] });
    return new Sheet()
      .device(
        'R1',
        'border-router',
        {},
        {
          interfaces: { ...interfaceConfig('g0', '10.0.0.1/24', vrrp(first)), ...interfaceConfig('g1', '10.1.0.1/24') },
        },
      )
      .device(
        'R2',
        'border-router',
        {},
        {
          interfaces: {
            ...interfaceConfig('g0', '10.0.0.2/24', vrrp(second)),
            ...interfaceConfig('g1', '10.1.0.2/24'),
          },
        },
      )
      .device('SW', 'access-switch-12')
      .device('UP', 'access-switch-12')
      .host('A', '10.0.0.9/24', '10.0.0.254')
      .device(
        'B',
        'desktop',
        { e0: '10.1.0.9/24' },
        {
          settings: {
            routes: [
              { prefix: '10.0.0.0/24', via: '10.1.0.1' },
              { prefix: '10.0.0.0/24', via: '10.1.0.2' },
            ],
          },
        },
      )
      .cable('R1 g0', 'SW p1')
      .cable('R2 g0', 'SW p2')
      .cable('A e0', 'SW p3')
      .cable('R1 g1', 'UP p1')
      .cable('R2 g1', 'UP p2')
      .cable('B e0', 'UP p3').topology;
  }
  const by = (drawing: Topology): string | undefined =>
    sent(analyse(drawing), 'A', 'B', '10.1.0.9').request.hops[1]?.device;

  test('the higher priority is active, and of equal ones the higher address', () => {
    expect(by(twin({ priority: 150 }, {}))).toBe('R1');
    expect(by(twin({}, { priority: 150 }))).toBe('R2');
    expect(by(twin({}, {}))).toBe('R2');
  });
  test('whoever has the address itself is active before all others', () => {
    expect(by(twin({ addresses: ['10.0.0.1'] }, { priority: 254, addresses: ['10.0.0.1'] }))).toBeUndefined();
    const owner = twin({ addresses: ['10.0.0.1'] }, { priority: 254, addresses: ['10.0.0.1'] });
    owner.devices.A!.settings = { gateway4: '10.0.0.1' };
    expect(by(owner)).toBe('R1');
  });
  test('when it fails the other takes over, and hosts need not know', () => {
    const drawing = twin({ priority: 150 }, {});
    const session = AnalysisSession.open(drawing);
    session.apply(switchOff(drawing, [{ kind: 'device', id: 'R1' }]));
    const { model } = session;
    expect(sent(model, 'A', 'B', '10.1.0.9').request.hops[1]?.device).toBe('R2');
    expect(tablesOf(model, 'R2').vrrp).toMatchObject([{ group: 7, active: true }]);
    expect(tablesOf(analyse(drawing), 'R2').vrrp).toMatchObject([{ interface: 'g0', active: false, priority: 100 }]);
  });
  test('its address can be asked for, and whoever is active answers', () => {
    const drawing = twin({ priority: 150 }, {});
    const lent = (model: NetworkModel) =>
      model.reach
        .targets()
        .slice(-1)
        .map((target) => `${target.device} ${formatAddress(target.address)} ${model.reach.answer('A', target).answer}`);
    expect(lent(analyse(drawing))).toEqual(['R1 10.0.0.254 yes']);
    const session = AnalysisSession.open(drawing);
    session.apply(switchOff(drawing, [{ kind: 'device', id: 'R1' }]));
    expect(lent(session.model)).toEqual(['R2 10.0.0.254 yes']);
  });
  test('it answers with the MAC address of its group, and one that stands by does not answer', () => {
    const model = analyse(twin({ priority: 150 }, {}));
    const probe = { protocol: 'icmp' } as const;
    const frames = framesOf(model, sent(model, 'A', 'B', '10.1.0.9'), probe);
    const found = frames.find((frame) => frame.what === 'ARP reply for 10.0.0.254')!;
    expect(found.headers[0]!.fields.find((field) => field.name === 'Source')!.text).toBe('00:00:5e:00:01:07');
    expect(sent(model, 'A', 'R1', '10.0.0.254').answer).toBe('yes');
  });
  test('groups of different numbers do not know of each other: both answer, and that is not certain', () => {
    const model = analyse(twin({}, { group: 8 }));
    expect(sent(model, 'A', 'B', '10.1.0.9')).toMatchObject({
      answer: 'uncertain',
      reason: { code: 'DUPLICATE_ADDRESS' },
    });
  });
});

describe('a firewall by zones', () => {
  const any = { kind: 'any' } as const;
  function guarded(firewall: NonNullable<Settings['firewall']>, filters: Settings['filters'] = {}): Topology {
    const service = { settings: { gateway4: '192.0.2.1', services: { web: { enabled: true, port: 80 } } } };
    return new Sheet()
      .device(
        'FW',
        'firewall',
        { g0: '10.0.0.1/24', g1: '192.0.2.1/24', g2: '10.0.1.1/24' },
        { settings: { firewall, filters } },
      )
      .host('IN', '10.0.0.9/24', '10.0.0.1')
      .device('OUT', 'desktop', { e0: '192.0.2.9/24' }, service)
      .host('OTHER', '10.0.1.9/24', '10.0.1.1')
      .cable('FW g0', 'IN e0', 'crossover')
      .cable('FW g1', 'OUT e0', 'crossover')
      .cable('FW g2', 'OTHER e0', 'crossover').topology;
  }
  const zones = {
    in: { name: 'inside', interfaces: ['g0'] },
    out: { name: 'outside', interfaces: ['g1'] },
  };
  const outwards = { from: 'in', to: 'out', action: 'permit' as const };
  const answer = (drawing: Topology, from: string, to: string, target: string, probe?: Probe) => {
    const model = analyse(drawing);
    const found = sent(model, from, to, target, probe);
    expect(model.reach.answer(from, { device: to, address: address(target) }, probe).answer).toBe(found.answer);
    return found;
  };

  test('what answers a connection passes, what begins one from there does not', () => {
    const drawing = guarded({ zones, policies: [outwards] });
    expect(answer(drawing, 'IN', 'OUT', '192.0.2.9').answer).toBe('yes');
    const back = answer(drawing, 'OUT', 'IN', '10.0.0.9');
    expect(back).toMatchObject({ answer: 'no', reached: false, reason: { code: 'FILTERED' } });
    expect(back.reason!.text).toBe('FW is a firewall: from outside to inside no policy permits it.');
  });
  test('without a policy nothing passes between zones; the firewall itself is reached', () => {
    const drawing = guarded({ zones, policies: [] });
    expect(answer(drawing, 'IN', 'OUT', '192.0.2.9').answer).toBe('no');
    expect(answer(drawing, 'IN', 'FW', '10.0.0.1').answer).toBe('yes');
  });
  test('a zone and an interface in none have nothing to say to each other; two in one zone have', () => {
    expect(answer(guarded({ zones, policies: [outwards] }), 'IN', 'OTHER', '10.0.1.9').reason?.text).toContain(
      'from inside to no zone nothing passes',
    );
    const both = { ...zones, in: { name: 'inside', interfaces: ['g0', 'g2'] } };
    expect(answer(guarded({ zones: both, policies: [] }), 'IN', 'OTHER', '10.0.1.9').answer).toBe('yes');
  });
  test('the first policy whose filter picks the packet decides', () => {
    const filters = {
      WEB: {
        family: 4 as const,
        rules: [
          {
            action: 'permit' as const,
            proto: 'tcp' as const,
            src: any,
            dst: any,
            dstPorts: { op: 'eq' as const, from: 80 },
          },
        ],
      },
    };
    const drawing = guarded(
      {
        zones,
        policies: [
          { ...outwards, filter: 'WEB' },
          { ...outwards, action: 'deny' },
        ],
      },
      filters,
    );
    expect(answer(drawing, 'IN', 'OUT', '192.0.2.9', { protocol: 'tcp', port: 80 }).answer).toBe('yes');
    expect(answer(drawing, 'IN', 'OUT', '192.0.2.9').reason?.text).toContain('its policy 2 denies it');
  });
});

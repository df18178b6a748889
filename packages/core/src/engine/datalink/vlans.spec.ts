import { parseAddress } from '../../address';
import { Sheet } from '../../tests/topologies';
import { type Device, type PortConfig, type Topology } from '../../topology';
import { type EngineOptions, type Trace, analyse } from '..';

const access = (accessVlan: number, more: object = {}): PortConfig => ({
  role: { kind: 'switched', mode: 'access', accessVlan, ...more },
});
const trunk = (more: object = {}): PortConfig => ({ role: { kind: 'switched', mode: 'trunk', ...more } });
const sub = (port: string, vlan: number, address: string, more: object = {}) => ({
  on: { kind: 'sub' as const, port, vlan, ...more },
  v4: { addresses: [address] },
});
const svi = (vlan: number, address: string) => ({ on: { kind: 'svi' as const, vlan }, v4: { addresses: [address] } });

function ask(
  topology: Topology,
  from: string,
  device: string,
  text: string,
  options: Partial<EngineOptions> = {},
): Trace {
  const read = parseAddress(text);
  if (!read.ok) throw new Error(read.error.text);
  return analyse(topology, options).reach.ask(from, { device, address: read.value });
}
const answer = (...args: Parameters<typeof ask>): string => ask(...args).answer;

/** Two hosts of one subnet on two switches that are joined by a cable between their first uplinks. */
const twoSwitches = (a: { access: PortConfig; up: PortConfig }, b: { access: PortConfig; up: PortConfig }): Topology =>
  new Sheet()
    .device('S1', 'access-switch-12', {}, { ports: { p1: a.access, u1: a.up } })
    .device('S2', 'access-switch-12', {}, { ports: { p1: b.access, u1: b.up } })
    .host('A', '10.84.1.1/24')
    .host('B', '10.84.1.2/24')
    .cable('S1 u1', 'S2 u1')
    .cable('S1 p1', 'A e0')
    .cable('S2 p1', 'B e0').topology;

describe('frames between two switches (IEEE 802.1Q-2018 §8.6)', () => {
  test.each<[string, PortConfig, PortConfig, PortConfig, PortConfig, 'yes' | 'no']>([
    ['untouched ports share VLAN 1', {}, {}, {}, {}, 'yes'],
    ['hosts in different VLANs do not hear each other', access(10), trunk(), access(20), trunk(), 'no'],
    ['a trunk carries a VLAN with its tag', access(10), trunk(), access(10), trunk(), 'yes'],
    ['a VLAN that one end does not allow stops there', access(10), trunk({ allowed: [20] }), access(10), trunk(), 'no'],
    ['the native VLAN passes untagged', access(10), trunk({ native: 10 }), access(10), trunk({ native: 10 }), 'yes'],
    [
      'a native VLAN outside the allowed list drops untagged frames',
      access(10),
      trunk({ native: 10, allowed: [20] }),
      access(10),
      trunk({ native: 10 }),
      'no',
    ],
    ['an access port drops tagged frames', access(10), trunk(), access(10), access(10), 'no'],
    [
      'an access port meets the native VLAN of a trunk',
      access(10),
      trunk({ native: 10 }),
      access(10),
      access(10),
      'yes',
    ],
    ['two access ports join their VLANs, whatever the numbers', access(10), access(10), access(20), access(20), 'yes'],
    ['two natives join their VLANs', access(10), trunk({ native: 10 }), access(20), trunk({ native: 20 }), 'yes'],
  ])('%s', (_what, accessA, upA, accessB, upB, wanted) => {
    expect(answer(twoSwitches({ access: accessA, up: upA }, { access: accessB, up: upB }), 'A', 'B', '10.84.1.2')).toBe(
      wanted,
    );
  });

  test.each<[string, PortConfig, PortConfig, string]>([
    ['two access ports of different VLANs', access(10), access(20), 'ACCESS_VLAN_MISMATCH'],
    ['two trunks of different natives', trunk({ native: 10 }), trunk({ native: 20 }), 'NATIVE_MISMATCH'],
  ])('%s on one cable are reported', (_what, a, b, code) => {
    const model = analyse(twoSwitches({ access: {}, up: a }, { access: {}, up: b }));
    expect(model.layer2.warnings.map((warning) => warning.code)).toEqual([code]);
  });

  test('a switch in between must know the VLAN where VLANs have to be created', () => {
    const chain = (vlans: Record<string, string>[]): Topology => {
      const sheet = new Sheet().host('A', '10.84.1.1/24').host('B', '10.84.1.2/24');
      for (const [at, known] of vlans.entries())
        sheet.device(
          `S${at}`,
          'access-switch-12',
          {},
          { ports: { p1: access(10), u1: trunk(), u2: trunk() }, settings: { vlans: known } },
        );
      return sheet.cable('S0 u2', 'S1 u1').cable('S1 u2', 'S2 u1').cable('S0 p1', 'A e0').cable('S2 p1', 'B e0')
        .topology;
    };
    const all: Record<string, string>[] = [{ 10: 'tickets' }, { 10: 'tickets' }, { 10: 'tickets' }];
    const forgotten: Record<string, string>[] = [{ 10: 'tickets' }, { 20: 'shop' }, { 10: 'tickets' }];
    expect(answer(chain(all), 'A', 'B', '10.84.1.2', { vlanPolicy: 'created' })).toBe('yes');
    expect(answer(chain(forgotten), 'A', 'B', '10.84.1.2', { vlanPolicy: 'created' })).toBe('no');
    expect(answer(chain(forgotten), 'A', 'B', '10.84.1.2', { vlanPolicy: 'implicit' })).toBe('yes');
  });
});

test('a hub repeats frames with their tags, and to everybody', () => {
  const sheet = new Sheet()
    .device('S1', 'access-switch-12', {}, { ports: { p1: access(10), u1: trunk() } })
    .device('S2', 'access-switch-12', {}, { ports: { p1: access(10), u1: trunk() } })
    .device('H', 'hub')
    .host('A', '10.84.1.1/24')
    .host('B', '10.84.1.2/24')
    .host('C', '10.84.1.3/24')
    .cable('S1 u1', 'H p1')
    .cable('S2 u1', 'H p2')
    .cable('S1 p1', 'A e0')
    .cable('S2 p1', 'B e0')
    .cable('H p3', 'C e0');
  expect(answer(sheet.topology, 'A', 'B', '10.84.1.2')).toBe('yes');
  // C hears only untagged frames: those of VLAN 1, where A is not.
  expect(answer(sheet.topology, 'A', 'C', '10.84.1.3')).toBe('no');
});

describe('a router with sub-interfaces', () => {
  const stick = (interfaces: NonNullable<Device['interfaces']>, up: PortConfig = trunk()): Topology =>
    new Sheet()
      .device('R', 'border-router', {}, { interfaces: interfaces })
      .device('S', 'access-switch-12', {}, { ports: { p1: access(10), p2: access(20), u1: up } })
      .host('A', '10.84.10.2/24', '10.84.10.1')
      .host('B', '10.84.20.2/24', '10.84.20.1')
      .cable('R g0', 'S u1')
      .cable('S p1', 'A e0')
      .cable('S p2', 'B e0').topology;
  const both = { 'g0.10': sub('g0', 10, '10.84.10.1/24'), 'g0.20': sub('g0', 20, '10.84.20.1/24') };

  test('routes between the VLANs of a trunk', () => {
    const trace = ask(stick(both), 'A', 'B', '10.84.20.2');
    expect(trace.answer).toBe('yes');
    expect(trace.request.hops.map((hop) => hop.device)).toEqual(['A', 'R', 'B']);
    expect(trace.request.hops[1]).toMatchObject({ in: 'g0.10', out: 'g0.20' });
  });
  test('needs a trunk: behind an access port its tags are dropped', () =>
    expect(answer(stick(both, access(10)), 'A', 'B', '10.84.20.2')).toBe('no'));
  test('takes its native VLAN without a tag', () => {
    const native = { 'g0.10': sub('g0', 10, '10.84.10.1/24', { untagged: true }), 'g0.20': both['g0.20'] };
    expect(answer(stick(native, trunk({ native: 10 })), 'A', 'B', '10.84.20.2')).toBe('yes');
    expect(answer(stick(native, trunk()), 'A', 'B', '10.84.20.2')).toBe('no');
  });
  test('a sub-interface follows its port: with the cable broken it has no route', () => {
    const topology = stick(both);
    topology.links['R-g0-S-u1']!.broken = true;
    expect(analyse(topology).layer3.nodes.get('R')!.table.all()).toEqual([]);
  });
});

describe('a layer-3 switch', () => {
  const routed = (change: (device: Device) => void = () => {}): Topology => {
    const { topology } = new Sheet()
      .device(
        'L',
        'l3-switch',
        {},
        {
          ports: { p1: access(10), p2: access(20) },
          interfaces: { vlan10: svi(10, '10.84.10.1/24'), vlan20: svi(20, '10.84.20.1/24') },
        },
      )
      .host('A', '10.84.10.2/24', '10.84.10.1')
      .host('B', '10.84.20.2/24', '10.84.20.1')
      .cable('L p1', 'A e0')
      .cable('L p2', 'B e0');
    change(topology.devices.L!);
    return topology;
  };
  test('routes between its VLAN interfaces', () => expect(answer(routed(), 'A', 'B', '10.84.20.2')).toBe('yes'));
  test('not with forwarding off', () =>
    expect(
      ask(
        routed((device) => void (device.settings = { forwarding: { v4: false } })),
        'A',
        'B',
        '10.84.20.2',
      ).reason?.code,
    ).toBe('NOT_FORWARDING'));
  test('a VLAN interface is down while no port that is up carries its VLAN', () => {
    const lone = routed((device) => void (device.interfaces!.vlan30 = svi(30, '10.84.30.1/24')));
    const interfaces = analyse(lone).layer3.nodes.get('L')!.interfaceStates;
    expect(interfaces.map((interfaceConfig) => [interfaceConfig.key, interfaceConfig.up])).toEqual([
      ['vlan10', true],
      ['vlan20', true],
      ['vlan30', false],
    ]);
  });
  test('a port can be routed and then has an address of its own', () => {
    const topology = routed((device) => {
      device.ports!.p2 = { role: { kind: 'routed' } };
      delete device.interfaces!.vlan20;
      device.interfaces!.p2 = { on: { kind: 'port', port: 'p2' }, v4: { addresses: ['10.84.20.1/24'] } };
    });
    expect(answer(topology, 'A', 'B', '10.84.20.2')).toBe('yes');
  });
});

test('a host or a plain router port drops tagged frames', () => {
  const tagged = new Sheet()
    .device('S', 'access-switch-12', {}, { ports: { p1: trunk({ native: 99 }), p2: access(10) } })
    .host('A', '10.84.1.1/24')
    .host('B', '10.84.1.2/24')
    .cable('S p1', 'A e0')
    .cable('S p2', 'B e0');
  expect(answer(tagged.topology, 'A', 'B', '10.84.1.2')).toBe('no');
});

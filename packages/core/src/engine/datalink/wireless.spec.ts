import { parseAddress } from '../../address';
import { Sheet } from '../../tests/topologies';
import { type PortConfig, type Topology } from '../../topology';
import { AnalysisSession, type EngineOptions, type NetworkModel, analyse } from '..';

const network = (ssid: string, vlan?: number) => ({ ssid, security: 'open' as const, ...(vlan && { vlan }) });
const on = (ssid: string) => ({ ports: { e0: {}, w0: { radio: { ssid, security: 'open' as const } } } });
const switched = (role: object): PortConfig => ({ role: { kind: 'switched', ...role } as PortConfig['role'] });

/** A switch with a desk in VLAN 20 and one in VLAN 30, an access point with a network in each, and a phone in each. */
const twoNetworks = (uplink: PortConfig = switched({ mode: 'trunk' }), ap: PortConfig = {}): Topology =>
  new Sheet()
    .device(
      'S',
      'access-switch-12',
      {},
      {
        ports: {
          p1: uplink,
          p2: switched({ mode: 'access', accessVlan: 20 }),
          p3: switched({ mode: 'access', accessVlan: 30 }),
        },
      },
    )
    .device(
      'AP',
      'access-point',
      {},
      { settings: { ssids: [network('staff', 20), network('guests', 30)] }, ports: { e0: ap } },
    )
    .host('DESK', '10.84.1.1/24')
    .host('GATE', '10.84.1.2/24')
    .device('STAFF', 'smartphone', { w0: '10.84.1.3/24' }, on('staff'))
    .device('GUEST', 'smartphone', { w0: '10.84.1.4/24' }, on('guests'))
    .device('OTHER', 'smartphone', { w0: '10.84.1.5/24' }, on('guests'))
    .cable('S p1', 'AP e0')
    .cable('S p2', 'DESK e0')
    .cable('S p3', 'GATE e0')
    .cable('AP w0', 'STAFF w0', 'wireless')
    .cable('AP w0', 'GUEST w0', 'wireless')
    .cable('AP w0', 'OTHER w0', 'wireless').topology;

const ADDRESSES: Record<string, string> = {
  DESK: '10.84.1.1',
  GATE: '10.84.1.2',
  STAFF: '10.84.1.3',
  GUEST: '10.84.1.4',
  OTHER: '10.84.1.5',
};
function hears(topology: Topology, from: string, options: Partial<EngineOptions> = {}): string[] {
  return heardIn(analyse(topology, options), from);
}
function heardIn({ reach, instances }: NetworkModel, from: string): string[] {
  return Object.entries(ADDRESSES).flatMap(([device, text]) => {
    const address = parseAddress(text);
    return device !== from &&
      instances.has(device) &&
      address.ok &&
      reach.ask(from, { device, address: address.value }).answer === 'yes'
      ? [device]
      : [];
  });
}

describe('networks of one access point in VLANs of their own', () => {
  test.each<[string, PortConfig, PortConfig]>([
    ['an access point left as it is, on a trunk', switched({ mode: 'trunk' }), {}],
    ['a trunk at both ends', switched({ mode: 'trunk' }), switched({ mode: 'trunk' })],
    ['a trunk that allows these two', switched({ mode: 'trunk', allowed: [20, 30] }), {}],
  ])('are kept apart and reach their own: %s', (_what, uplink, ap) => {
    const topology = twoNetworks(uplink, ap);
    expect(hears(topology, 'STAFF')).toEqual(['DESK']);
    expect(hears(topology, 'GUEST')).toEqual(['GATE', 'OTHER']);
    expect(hears(topology, 'DESK')).toEqual(['STAFF']);
    expect(hears(topology, 'STAFF', { vlanPolicy: 'created' })).toEqual([]);
  });
  test('that a trunk does not allow stops there', () => {
    const topology = twoNetworks(switched({ mode: 'trunk', allowed: [30] }));
    expect(hears(topology, 'STAFF')).toEqual([]);
    expect(hears(topology, 'GUEST')).toEqual(['GATE', 'OTHER']);
  });
  test('do not pass an access port, which takes no tags', () => {
    expect(hears(twoNetworks(switched({ mode: 'access', accessVlan: 30 })), 'GUEST')).toEqual(['OTHER']);
  });
  test('a phone that joins the other network is in its VLAN at once, also after a small edit', () => {
    const before = twoNetworks();
    const after = structuredClone(before);
    after.devices.STAFF!.ports = on('guests').ports;
    expect(hears(after, 'STAFF')).toEqual(['GATE', 'GUEST', 'OTHER']);
    const session = AnalysisSession.open(before);
    expect(heardIn(session.model, 'STAFF')).toEqual(['DESK']);
    const joined = session.apply({ kind: 'changePort', device: 'STAFF', port: 'w0', set: on('guests').ports.w0 });
    expect([joined.ok, heardIn(session.model, 'STAFF')]).toEqual([true, ['GATE', 'GUEST', 'OTHER']]);
  });
});

describe('an access point left at its default', () => {
  const plain = (uplink: PortConfig): Topology =>
    new Sheet()
      .device('S', 'access-switch-12', {}, { ports: { p1: uplink, p2: switched({ mode: 'access', accessVlan: 30 }) } })
      .device('AP', 'access-point', {}, { settings: { ssids: [network('guests')] } })
      .host('GATE', '10.84.1.2/24')
      .device('GUEST', 'smartphone', { w0: '10.84.1.4/24' }, on('guests'))
      .cable('S p1', 'AP e0')
      .cable('S p2', 'GATE e0')
      .cable('AP w0', 'GUEST w0', 'wireless').topology;
  test('on an access port is ordinary: its network is in that VLAN, and no problem is told', () => {
    const topology = plain(switched({ mode: 'access', accessVlan: 30 }));
    expect(hears(topology, 'GUEST')).toEqual(['GATE']);
    expect(analyse(topology).layer2.warnings.map(({ code }) => code)).toEqual([]);
  });
  test('that was set to a VLAN of its own meets another one, and that is told', () => {
    const topology = plain(switched({ mode: 'access', accessVlan: 30 }));
    topology.devices.AP!.ports = { e0: switched({ mode: 'access', accessVlan: 20 }) };
    expect(analyse(topology).layer2.warnings.map(({ code }) => code)).toEqual(['ACCESS_VLAN_MISMATCH']);
  });
});

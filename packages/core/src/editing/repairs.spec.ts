import { type ReasonCode, analyse, problemsOf } from '../engine';
import { Sheet, twoLans } from '../tests/topologies';
import { type Device, type Settings, type Topology, applyBatch } from '../topology';
import { repairOf } from '.';

const at = { x: 0, y: 0 };
const pair = (medium: 'straight' | 'crossover' | 'serial' | 'rollover', more = {}) =>
  new Sheet().host('A', '10.84.1.1/26').device('S', 'access-switch-12').cable('A e0', 'S p1', medium, more).topology;
const routers = (clocks: boolean): Topology => {
  const serial = { modules: { b1: 'serial-1' }, ...(clocks && { ports: { 'b1/s0': { clockEnd: true } } }) };
  return new Sheet()
    .device('R', 'modular-router', {}, serial)
    .device('Q', 'modular-router', {}, serial)
    .cable('R b1/s0', 'Q b1/s0', 'serial').topology;
};
const lan = (gateway: string | undefined): Topology => {
  const drawn = structuredClone(twoLans());
  drawn.devices.A!.settings = gateway === undefined ? {} : { gateway4: gateway };
  return drawn;
};
const bundled = (protocol: 'passive' | 'static'): Topology => {
  const bundle = (own: 'passive' | 'static') => ({
    settings: { bundles: { b1: { members: ['u1', 'u2'], protocol: own } } },
  });
  return new Sheet()
    .device('S', 'access-switch-12', {}, bundle(protocol))
    .device('T', 'access-switch-12', {}, bundle('passive'))
    .cable('S u1', 'T u1')
    .cable('S u2', 'T u2').topology;
};
const looped = (): Topology => {
  const off = { settings: { spanningTree: { on: false } } };
  return new Sheet()
    .device('S', 'access-switch-12', {}, off)
    .device('T', 'access-switch-12', {}, off)
    .cable('S u1', 'T u1')
    .cable('S u2', 'T u2').topology;
};
const translating = (nat: NonNullable<Settings['nat']>, natSide?: 'outside'): Topology => {
  const on = (vlan: number) => ({ kind: 'sub' as const, port: 'g0', vlan });
  const interfaces: Device['interfaces'] = {
    'g0.10': { on: on(10), v4: { addresses: ['10.84.1.1/26'] } },
    'g0.20': { on: on(20), v4: { addresses: ['10.84.2.1/26'] } },
    g1: { on: { kind: 'port', port: 'g1' }, v4: { addresses: ['198.51.100.2/30'] }, ...(natSide && { natSide }) },
  };
  return new Sheet().device('R', 'border-router', {}, { interfaces, settings: { nat } }).topology;
};
const twice = (): Topology => {
  const { topology } = new Sheet().host('A', '10.84.1.1/26').host('B', '10.84.1.1/26');
  return topology;
};

test.each<[string, ReasonCode, Topology, string]>([
  ['a crossover between unlike ports', 'WRONG_PAIRING', pair('crossover'), 'Take straight-through copper'],
  ['a serial cable in copper ports', 'CONNECTOR_MISMATCH', pair('serial'), 'Take straight-through copper'],
  ['a rollover cable', 'CONSOLE_CABLE', pair('rollover'), 'Take straight-through copper'],
  ['a broken cable', 'CABLE_BROKEN', pair('straight', { broken: true }), 'Take a whole cable'],
  [
    'a port that is off',
    'PORT_OFF',
    {
      ...pair('straight'),
      devices: {
        ...pair('straight').devices,
        S: { name: 'S', model: 'access-switch-12', at, ports: { p1: { enabled: false } } },
      },
    },
    'Switch S p1 on',
  ],
  ['a loop that no switch breaks', 'STORM', looped(), 'Let T take part in the spanning tree'],
  ['a device that is off', 'NO_POWER', new Sheet().device('S', 'hub', {}, { powered: false }).topology, 'Switch S on'],
  ['empty power bays', 'NO_POWER', new Sheet().device('C', 'core-switch').topology, 'Put a power supply into power1'],
  ['a serial link without a clock', 'NO_CLOCK', routers(false), 'Give the clock at R'],
  ['two clocks', 'TWO_CLOCKS', routers(true), 'Give no clock at Q'],
  [
    'half against full duplex',
    'DUPLEX_DIFFERS',
    {
      ...pair('straight'),
      devices: {
        ...pair('straight').devices,
        S: { name: 'S', model: 'access-switch-12', at, ports: { p1: { speed: 100, duplex: 'full' } } },
      },
    },
    'Let both ports find speed and duplex',
  ],
  [
    'a name that is there twice',
    'NAME_TWICE',
    new Sheet().device('A', 'hub', {}, { name: 'HB-1' }).device('B', 'hub', {}, { name: 'HB-1' }).topology,
    'Call it HB-2',
  ],
  ['an address that is there twice', 'DUPLICATE_ADDRESS', twice(), 'Give B 10.84.1.2/26'],
  [
    'a space in an address',
    'ADDRESS_UNREADABLE',
    new Sheet().host('A', '10.84.1. 7/26').topology,
    'Write 10.84.1.7/26',
  ],
  [
    'a hostname that differs',
    'HOSTNAME_DIFFERS',
    new Sheet().device('S', 'hub', {}, { settings: { hostname: 'T' } }).topology,
    'Let it call itself S',
  ],
  [
    'open telnet',
    'TELNET_OPEN',
    new Sheet().device('S', 'access-switch-12', {}, { settings: { management: { telnet: true } } }).topology,
    'Take ssh instead',
  ],
  [
    'a slow port beside a fast one',
    'SLOWER_PORT',
    new Sheet().device('R', 'border-router').device('S', 'access-switch-12').cable('R g0', 'S p1').topology,
    'Plug it into R g0 and S u1',
  ],
  ['a bundle nobody begins', 'BUNDLE_NOT_FORMED', bundled('passive'), 'Let S begin'],
  [
    'a router that does not forward',
    'FORWARDING_OFF',
    {
      ...twoLans(),
      devices: { ...twoLans().devices, R: { ...twoLans().devices.R!, settings: { forwarding: { v4: false } } } },
    },
    'Let R forward',
  ],
  [
    'a translation that does not know its sides',
    'NAT_SIDE_MISSING',
    translating([{ kind: 'overload', sources: ['10.84.0.0/16'], outsideInterface: 'g1' }]),
    'Make g1 the outside and g0.10, g0.20 the inside',
  ],
  [
    'a translation that knows only where its outside is',
    'NAT_SIDE_MISSING',
    translating([{ kind: 'static', inside: '10.84.2.10', outside: '198.51.100.3' }], 'outside'),
    'Make g0.20 the inside',
  ],
  ['a host without a gateway', 'NO_GATEWAY', lan(undefined), 'Set 10.84.1.1'],
  ['a gateway that is nobody’s', 'GATEWAY_NOT_ROUTER', lan('10.84.1.200'), 'Set 10.84.1.1'],
])('%s is mended, and the problem is gone', (_what, code, topology, text) => {
  const found = problemsOf(analyse(topology)).filter((problem) => problem.code === code);
  expect(found).not.toEqual([]);
  const repair = repairOf(topology, found[0]!)!;
  expect(repair.text).toBe(text);
  const done = applyBatch(topology, 'repair', repair.commands);
  if (!done.ok) throw new Error(done.error);
  expect(problemsOf(analyse(done.value.document)).filter((problem) => problem.code === code)).toEqual([]);
});

test('of a bundle whose ends want different things a person says which is meant', () => {
  const topology = bundled('static');
  const [problem] = problemsOf(analyse(topology)).filter((problem) => problem.code === 'BUNDLE_NOT_FORMED');
  expect(problem!.text).toMatch(/static at one end/);
  expect(repairOf(topology, problem!)).toBeNull();
});
test('which side of a translation is outside a person says where no rule does', () => {
  const topology = translating([
    { kind: 'pool', sources: ['10.84.0.0/16'], pool: { from: '198.51.100.3', to: '198.51.100.3' } },
  ]);
  const [problem] = problemsOf(analyse(topology)).filter(({ code }) => code === 'NAT_SIDE_MISSING');
  expect(repairOf(topology, problem!)).toBeNull();
});
test('what has no certain repair has none', () => {
  const topology = new Sheet().host('A', 'the shop/26').topology;
  for (const problem of problemsOf(analyse(topology))) expect(repairOf(topology, problem)).toBeNull();
  expect(repairOf(topology, { code: 'NO_COMMON_SPEED', text: '', at: { link: 'gone' } })).toBeNull();
  expect(repairOf(topology, { code: 'WRONG_PAIRING', text: '', at: { link: 'gone' } })).toBeNull();
});
test('between ports that only find their pairing where the lab lets them, the cable is the right one as built', () => {
  const { topology } = new Sheet()
    .device('R', 'border-router')
    .device('S', 'access-switch-12')
    .cable('R g0', 'S u1', 'crossover');
  const options = { autoPairing: false };
  const [problem] = problemsOf(analyse(topology, options)).filter((problem) => problem.code === 'WRONG_PAIRING');
  expect(repairOf(topology, problem!, { options })!.text).toBe('Take straight-through copper');
});
test('a VLAN that must exist is created', () => {
  const { topology } = new Sheet().device(
    'S',
    'access-switch-12',
    {},
    {
      ports: { p1: { role: { kind: 'switched', mode: 'access', accessVlan: 20 } } },
    },
  );
  const options = { vlanPolicy: 'created' as const };
  const [problem] = problemsOf(analyse(topology, options));
  const repair = repairOf(topology, problem!, { options })!;
  expect(repair.text).toBe('Create VLAN 20 on S');
  const done = applyBatch(topology, 'repair', repair.commands);
  expect(done.ok && problemsOf(analyse(done.value.document, options))).toEqual([]);
});

import { AnalysisSession, type NetworkModel, type ReasonCode, problemsOf } from '../engine';
import { type PlanProblemCode, applyPlanCommands, planProblems } from '../plan';
import { smallBrief, smallPlan } from '../tests/plans';
import { Sheet, demoLab } from '../tests/topologies';
import { type Topology, applyBatch, readTopology } from '../topology';
import { DRAWING_FAULTS, type DrawingFault, PLAN_FAULTS } from '.';

/** What the demo labs do not have: serial links, power bays, bundles, telephones, relays, logins, addresses by IPv6 routers. */
function workshop(): Topology {
  const bundle = { b: { members: ['u1', 'u2'], protocol: 'active' as const } };
  const trunk = { role: { kind: 'switched' as const, mode: 'trunk' as const } };
  const trunks = { ports: { u1: trunk, u2: trunk } };
  const login = { ssh: true, telnet: false, privileged: 'hashed' as const, saved: true };
  const interfaceConfig = (port: string, v4: string, more: object = {}) => ({
    [port]: { on: { kind: 'port' as const, port }, v4: { addresses: [v4] }, ...more },
  });
  const routes = (prefix: string, via: string) => ({ routes: [{ prefix, via }] });
  return new Sheet()
    .device(
      'R1',
      'modular-router',
      {},
      {
        modules: { b1: 'serial-1' },
        ports: { 'b1/s0': { clockEnd: true, label: 'to R2' } },
        interfaces: {
          ...interfaceConfig('g0', '10.84.1.1/24', {
            v6: { addresses: ['fd5e:7a3c:90b1:1::1/64'], linkLocal: 'fe80::1' },
          }),
          ...interfaceConfig('b1/s0', '10.84.9.1/30'),
        },
        settings: {
          ...routes('10.84.2.0/24', '10.84.9.2'),
          dhcpPools: [
            { network: '10.84.2.0/24', router: '10.84.2.1', ranges: [{ from: '10.84.2.50', to: '10.84.2.60' }] },
          ],
          management: login,
        },
      },
    )
    .device(
      'R2',
      'modular-router',
      {},
      {
        modules: { b1: 'serial-1' },
        interfaces: {
          ...interfaceConfig('g0', '10.84.2.1/24', { relays: ['10.84.9.1'] }),
          ...interfaceConfig('b1/s0', '10.84.9.2/30'),
        },
        settings: routes('10.84.1.0/24', '10.84.9.1'),
      },
    )
    .device('C', 'core-switch', {}, { modules: { power1: 'power' } })
    .device('S1', 'access-switch-12', {}, { ...trunks, settings: { bundles: bundle, vlans: { 20: 'voice' } } })
    .device(
      'S2',
      'access-switch-12',
      {},
      {
        ports: {
          ...trunks.ports,
          p2: { role: { kind: 'switched', mode: 'access', voiceVlan: 20 } },
          p3: { role: { kind: 'switched', mode: 'access', voiceVlan: 20 } },
        },
        settings: { bundles: bundle },
      },
    )
    .device(
      'A',
      'desktop',
      {},
      {
        interfaces: interfaceConfig('e0', '10.84.1.11/24', { v6: { addresses: ['fd5e:7a3c:90b1:1::11/64'] } }),
        settings: { gateway4: '10.84.1.1', gateway6: 'fe80::1' },
      },
    )
    .host('B', '10.84.2.11/24', '10.84.2.1')
    .device('D', 'desktop', {}, { interfaces: { e0: { on: { kind: 'port', port: 'e0' }, v4: { dhcp: true } } } })
    .device('P1', 'phone')
    .device('P2', 'phone')
    .cable('R1 b1/s0', 'R2 b1/s0', 'serial')
    .cable('R1 g0', 'S1 u3')
    .cable('S1 u1', 'S2 u1', 'crossover')
    .cable('S1 u2', 'S2 u2', 'crossover')
    .cable('S2 p1', 'A e0')
    .cable('S2 p2', 'P1 e0')
    .cable('S2 p3', 'P2 e0')
    .cable('R2 g0', 'C p1')
    .cable('C p2', 'B e0')
    .cable('C p3', 'D e0').topology;
}

/** Two ways between switches that run the spanning tree, the middle one meant as root. */
const ring = (): Topology =>
  new Sheet()
    .device('M1', 'access-switch-12', {}, { settings: { spanningTree: { priority: 4096 } } })
    .device('M2', 'access-switch-12')
    .device('E', 'access-switch-12')
    .host('A', '10.84.1.11/24')
    .cable('M1 u1', 'M2 u1', 'crossover')
    .cable('M1 u2', 'M2 u2', 'crossover')
    .cable('M2 u3', 'E u1', 'crossover')
    .cable('E p1', 'A e0').topology;

/** Two routers with nothing but OSPF between them. */
function neighbours(): Topology {
  const ospf = { settings: { ospf: { networks: [{ prefix: '10.84.0.0/16', area: 0 }] } } };
  return new Sheet()
    .device('R1', 'border-router', { g0: '10.84.1.1/24', g1: '10.84.9.1/30' }, ospf)
    .device('R2', 'border-router', { g0: '10.84.2.1/24', g1: '10.84.9.2/30' }, ospf)
    .host('A', '10.84.1.11/24', '10.84.1.1')
    .host('B', '10.84.2.11/24', '10.84.2.1')
    .cable('R1 g1', 'R2 g1', 'crossover')
    .cable('R1 g0', 'A e0', 'crossover')
    .cable('R2 g0', 'B e0', 'crossover').topology;
}

const drawings: readonly Topology[] = [
  ...['season-opening', 'summit-dual-stack', 'three-stations', 'winch-isolation'].map(
    (slug) => demoLab(slug).reference,
  ),
  workshop(),
  ring(),
  neighbours(),
];

/** What names each mistake: a problem of the drawing, or `reach` where people feel it first; `nothing` but a requirement. */
const NAMED: Record<string, ReasonCode | 'reach' | 'nothing'> = {
  duplicateAddress: 'DUPLICATE_ADDRESS',
  copiedDevice: 'DUPLICATE_ADDRESS',
  addressOutsideSubnet: 'GATEWAY_OUTSIDE',
  networkAddress: 'ADDRESS_NOT_USABLE',
  broadcastAddress: 'ADDRESS_NOT_USABLE',
  wrongPrefixLength: 'PREFIX_DIFFERS',
  mistypedRange: 'NOT_PRIVATE',
  prefixTwice: 'ADDRESS_UNREADABLE',
  straySpace: 'ADDRESS_UNREADABLE',
  gatewayMissing: 'NO_GATEWAY',
  gatewayOutsideSubnet: 'GATEWAY_OUTSIDE',
  gatewayNotRouter: 'GATEWAY_NOT_ROUTER',
  gatewayNotLinkLocal: 'nothing',
  overlappingSubnets: 'PREFIX_DIFFERS',
  wrongCable: 'WRONG_PAIRING',
  slowPort: 'SLOWER_PORT',
  wrongPort: 'reach',
  portOff: 'PORT_OFF',
  slowLink: 'nothing',
  duplexDifference: 'DUPLEX_DIFFERS',
  portTakenTwice: 'PORT_TAKEN_TWICE',
  missingModule: 'reach',
  missingPowerSupply: 'NO_POWER',
  missingClock: 'NO_CLOCK',
  unlabelledPort: 'nothing',
  unconnectedDevice: 'NOT_CONNECTED',
  missingDevice: 'reach',
  missingLink: 'reach',
  addressMissing: 'reach',
  untitled: 'nothing',
  accessVlan: 'reach',
  vlanNotCreated: 'VLAN_NOT_CREATED',
  trunkWithoutVlan: 'TRUNK_WITHOUT_VLAN',
  nativeVlan: 'NATIVE_MISMATCH',
  bundleModes: 'BUNDLE_NOT_FORMED',
  loop: 'STORM',
  edgeRoot: 'ROOT_AT_EDGE',
  missingRoute: 'NO_RETURN_ROUTE',
  forwardingOff: 'FORWARDING_OFF',
  ospfArea: 'reach',
  ospfPassive: 'reach',
  ospfNetwork: 'reach',
  filterTooStrict: 'reach',
  filterTooLax: 'reach',
  filterWrongSide: 'reach',
  natSources: 'reach',
  natSides: 'NAT_SIDE_MISSING',
  poolOfAnotherSubnet: 'DHCP_NOBODY',
  missingRelay: 'DHCP_NOBODY',
  exhaustedPool: 'POOL_TOO_SMALL',
  secondDhcpServer: 'DHCP_TWICE',
  nobodyAnswers: 'DHCP_NOBODY',
  phoneWithoutPower: 'NO_POWER',
  voiceVlan: 'NO_VOICE_VLAN',
  telnetOpen: 'TELNET_OPEN',
  noPrivilegedPassword: 'NO_PRIVILEGED_PASSWORD',
  notSaved: 'nothing',
  duplicateName: 'NAME_TWICE',
  hostnameDiffers: 'HOSTNAME_DIFFERS',
  wrongSite: 'nothing',
};

test('every mistake has a name of its own', () => {
  expect(DRAWING_FAULTS.map(({ kind }) => kind).sort()).toEqual(Object.keys(NAMED).sort());
  const titles = [...DRAWING_FAULTS, ...PLAN_FAULTS].map(({ title }) => title);
  expect(new Set(titles).size).toBe(titles.length);
});

/** Of the many places of a mistake in a large drawing, some. */
function someOf<T>(all: Iterable<T>, most = 4): T[] {
  const list = [...all];
  return list.filter((_each, at) => at % Math.ceil(list.length / most) === 0);
}
const codesOf = (model: NetworkModel): string[] => problemsOf(model).map(({ code }) => code);
const count = (codes: readonly string[], code: string): number => codes.filter((each) => each === code).length;

const sessions = drawings.map((drawing) => {
  const session = AnalysisSession.open(drawing, { vlanPolicy: 'created', autoPairing: false });
  return { drawing, session, codes: codesOf(session.model), tally: session.model.reach.tally() };
});

describe.each(DRAWING_FAULTS.map((operator) => [operator.kind, operator] as const))('%s', (kind, operator) => {
  const planted = sessions.flatMap((before) =>
    someOf(operator.faultsIn(before.drawing)).map((fault) => {
      const done = applyBatch(before.drawing, 'fault', [...fault.commands]);
      return { ...before, fault, done };
    }),
  );

  test('it can be made somewhere, goes, tells where it is, and leaves a sound drawing that is another one', () => {
    expect(planted.length).toBeGreaterThan(0);
    for (const { drawing, fault, done } of planted) {
      expect(done).toMatchObject({ ok: true });
      if (!done.ok) continue;
      expect(readTopology(done.value.document)).toMatchObject({ ok: true });
      expect(done.value.document).not.toEqual(drawing);
      expect(fault.text).toMatch(/^[A-Z].*\.$/);
      expect(isThere(fault, done.value.document)).toBe(true);
    }
  });

  test(`what is wrong is named: ${NAMED[kind]}`, () => {
    const isNoticed = planted.some(({ session, fault, codes, tally }) => {
      const fork = session.fork();
      for (const command of fault.commands) fork.apply(command);
      const after = fork.model.reach.tally();
      const expected = NAMED[kind]!;
      if (expected === 'reach' || expected === 'nothing') return after.yes !== tally.yes || after.no !== tally.no;
      return count(codesOf(fork.model), expected) > count(codes, expected);
    });
    expect(isNoticed).toBe(NAMED[kind] !== 'nothing');
  });
});

/** Whether the place that a fault tells is one of the drawing. */
function isThere({ at }: DrawingFault, { devices, links }: Topology): boolean {
  const device = at.device?.split('/')[0];
  return (device === undefined || device in devices) && (at.link === undefined || at.link in links);
}

test.each<[string, PlanProblemCode | null]>([
  ['insideIsProvider', 'PROVIDER_RANGE'],
  ['subnetTooSmall', 'TOO_SMALL'],
  ['overlappingBlocks', 'OVERLAP'],
  ['planDiffers', null],
])('of a plan: %s', (kind, code) => {
  const [plan, brief] = [smallPlan(), smallBrief()];
  const operator = PLAN_FAULTS.find((each) => each.kind === kind)!;
  const faults = [...operator.faultsIn({ plan, brief })];
  expect(faults.length).toBeGreaterThan(0);
  const found = faults.flatMap(({ commands }) => {
    const done = applyPlanCommands(plan, 'fault', [...commands]);
    if (!done.ok) throw new Error(done.error);
    expect(done.value.document).not.toEqual(plan);
    return planProblems(done.value.document, brief).map((problem) => problem.code);
  });
  if (code) expect(found).toContain(code);
});

test('kinds of plan and drawing are told apart', () => {
  const kinds = [...DRAWING_FAULTS, ...PLAN_FAULTS].map(({ kind }) => kind);
  expect(new Set(kinds).size).toBe(kinds.length);
  expect(PLAN_FAULTS).toHaveLength(4);
});

import { Sheet } from '../../tests/topologies';
import { type Interface, type Settings, type Topology } from '../../topology';
import { analyse, problemsOf } from '..';

const named = (settings: Settings, g0: Partial<Interface> = {}): string[] => {
  const { topology } = new Sheet()
    .device('R', 'border-router', { g0: '10.1.0.1/24' }, { settings })
    .host('A', '10.1.0.2/24', '10.1.0.1')
    .cable('R g0', 'A e0', 'crossover');
  Object.assign(topology.devices.R!.interfaces!.g0!, g0);
  return problemsOf(analyse(topology)).flatMap(({ code, text }) => (code === 'NAMES_NOTHING' ? [text] : []));
};
const filters = { f4: { family: 4 as const, rules: [] } };

describe('a setting that names what its device does not have is told', () => {
  test.each<[string, Settings, Partial<Interface>, RegExp]>([
    [
      'a route',
      { routes: [{ prefix: '0.0.0.0/0', interface: 'g9' }] },
      {},
      /route to 0\.0\.0\.0\/0: it has no interface "g9"/,
    ],
    [
      'a translation',
      { nat: [{ kind: 'overload', outsideInterface: 'wan' }] },
      {},
      /translation 1: it has no interface "wan"/,
    ],
    [
      'its sources',
      { nat: [{ kind: 'overload', sources: ['10.1.0.0/24', 'inside'] }] },
      {},
      /"inside" is neither a prefix nor a filter/,
    ],
    [
      'a bundle',
      { bundles: { b0: { members: ['g0', 'g9'], protocol: 'active' } } },
      {},
      /bundle b0: it has no port "g9"/,
    ],
    [
      'a zone',
      { firewall: { zones: { in: { name: 'Inside', interfaces: ['g9'] } }, policies: [] } },
      {},
      /zone Inside: it has no interface "g9"/,
    ],
    [
      'a policy',
      { firewall: { zones: {}, policies: [{ from: 'in', to: 'out', action: 'permit', filter: 'f9' }] } },
      {},
      /policy from in to out: it has no zone "in"/,
    ],
    ['a filter on an interface', {}, { filterIn4: 'f9' }, /interface g0: it has no filter "f9"/],
    ['a filter of the other family', { filters }, { filterIn6: 'f4' }, /the filter "f4" is one for IPv4/],
  ])('%s', (_what, settings, g0, sentence) => {
    expect(named(settings, g0).join('\n')).toMatch(sentence);
  });
  test('and such a route is not used, with a next hop or without', () => {
    const { topology } = new Sheet().device('R', 'border-router', { g0: '10.1.0.1/24' }).host('A', '10.1.0.2/24');
    topology.devices.R!.settings = {
      routes: [
        { prefix: '0.0.0.0/0', interface: 'g9' },
        { prefix: '10.9.0.0/16', via: '10.1.0.2', interface: 'g9' },
      ],
    };
    const { table } = analyse(topology).layer3.nodes.get('R')!;
    expect(table.lookup({ family: 4, value: 0x0a090001n })).toEqual([]);
  });
  test('and what is there is not', () => {
    expect(
      named(
        {
          filters,
          nat: [{ kind: 'overload', outsideInterface: 'g1', sources: ['10.1.0.0/24', 'f4'] }],
          routes: [{ prefix: '10.9.0.0/16', interface: 'g0' }],
        },
        { filterIn4: 'f4' },
      ),
    ).toEqual([]);
  });
});

test('a route by a tunnel that is set up is no mistake, though what tunnels carry is not computed', () => {
  const tunnel = (address: string, source: string, destination: string): Interface => ({
    on: { kind: 'tunnel', source, destination, mode: 'gre' },
    v4: { addresses: [address] },
  });
  const { topology } = new Sheet()
    .device(
      'R1',
      'border-router',
      { g0: '192.0.2.1/30', g1: '10.1.0.1/24' },
      { settings: { routes: [{ prefix: '10.2.0.0/24', via: '10.9.9.2' }] } },
    )
    .device(
      'R2',
      'border-router',
      { g0: '192.0.2.2/30', g1: '10.2.0.1/24' },
      { settings: { routes: [{ prefix: '10.1.0.0/24', interface: 't0' }] } },
    )
    .host('A', '10.1.0.2/24', '10.1.0.1')
    .host('B', '10.2.0.2/24', '10.2.0.1')
    .cable('R1 g0', 'R2 g0')
    .cable('R1 g1', 'A e0', 'crossover')
    .cable('R2 g1', 'B e0', 'crossover');
  topology.devices.R1!.interfaces!.t0 = tunnel('10.9.9.1/30', '192.0.2.1', '192.0.2.2');
  topology.devices.R2!.interfaces!.t0 = tunnel('10.9.9.2/30', '192.0.2.2', '192.0.2.1');
  expect(problemsOf(analyse(topology))).toEqual([]);
});

test('an access point that a port feeds is not told to go to a faster one that does not', () => {
  const feeding = (powered?: boolean): Topology =>
    new Sheet()
      .device('S', 'access-switch-12')
      .device('AP', 'access-point', {}, powered === undefined ? {} : { powered })
      .cable('S p1', 'AP e0').topology;
  const codes = (topology: Topology) => problemsOf(analyse(topology)).map(({ code }) => code);
  expect(codes(feeding())).toEqual([]);
  expect(codes(feeding(true))).toEqual(['SLOWER_PORT']);
});

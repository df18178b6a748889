import { formatAddress, formatPrefix } from '../../address';
import { Sheet } from '../../tests/topologies';
import { type Device, type Interface, type Topology } from '../../topology';
import { type NetworkModel, USUAL_DISTANCES, analyse, problemsOf } from '..';

type Extra = Partial<Omit<Interface, 'on' | 'v4'>>;
/** A router with modular ports g0…g3: addresses by port, and more on each interface. */
function router(
  sheet: Sheet,
  id: string,
  settings: Device['settings'],
  interfaceConfigs: Record<string, [string, Extra?] | string>,
): void {
  const interfaces = Object.fromEntries(
    Object.entries(interfaceConfigs).map(([port, interfaceConfig]): [string, Interface] => {
      const [address, more] = typeof interfaceConfig === 'string' ? [interfaceConfig] : interfaceConfig;
      const on = port.startsWith('lo') ? { kind: 'loopback' as const } : { kind: 'port' as const, port };
      return [port, { on, v4: { addresses: [address] }, ...more }];
    }),
  );
  sheet.device(id, 'modular-router', {}, { interfaces, ...(settings && { settings }) });
}
const ospf = (area: number, more: object = {}) => ({ ospf: { networks: [{ prefix: '10.0.0.0/8', area }], ...more } });
const cost = (value: number, more: object = {}): Extra => ({ ospf: { cost: value, ...more } });
/** Routes of a device as "prefix source metric: next hops". */
const routes = (model: NetworkModel, id: string): string[] => {
  const byPrefix = new Map<string, string[]>();
  for (const { prefix, source, metric, via } of model.layer3.nodes.get(id)!.table.all()) {
    if (source === 'connected') continue;
    const key = `${formatPrefix(prefix)} ${source} ${metric}`;
    byPrefix.set(key, [...(byPrefix.get(key) ?? []), via ? formatAddress(via) : 'null']);
  }
  return [...byPrefix].map(([key, hops]) => `${key}: ${hops.sort().join(' ')}`).sort();
};
const neighbours = (topology: Topology): string[] =>
  analyse(topology).layer3.ospf.adjacencies.map(({ a, b }) => `${a.node.instance.id} ${b.node.instance.id}`);

/** R1 – R2 – R3 in a row with a network behind R3, and R1 – R3 directly. */
function triangle(direct: number, settings = ospf(0)): Topology {
  const sheet = new Sheet();
  router(sheet, 'R1', settings, { g0: ['10.0.12.1/30', cost(5)], g1: ['10.0.13.1/30', cost(direct)] });
  router(sheet, 'R2', settings, { g0: ['10.0.12.2/30', cost(5)], g1: ['10.0.23.1/30', cost(5)] });
  router(sheet, 'R3', settings, {
    g0: ['10.0.23.2/30', cost(5)],
    g1: ['10.0.13.2/30', cost(direct)],
    lo0: ['10.9.3.3/24', cost(1)],
  });
  return sheet.cable('R1 g0', 'R2 g0').cable('R2 g1', 'R3 g0').cable('R1 g1', 'R3 g1').topology;
}

describe('OSPF within an area (RFC 2328 §16.1)', () => {
  test('the cheaper way wins, whatever the number of hops', () => {
    expect(routes(analyse(triangle(20)), 'R1')).toContain('10.9.3.0/24 ospf 11: 10.0.12.2');
    expect(routes(analyse(triangle(2)), 'R1')).toContain('10.9.3.0/24 ospf 3: 10.0.13.2');
  });
  test('ways of equal cost are all kept', () => {
    expect(routes(analyse(triangle(10)), 'R1')).toContain('10.9.3.0/24 ospf 11: 10.0.12.2 10.0.13.2');
  });
  test('costs follow from the reference bandwidth and the speed, at least 1', () => {
    const plain = (referenceMbps: number): string[] => {
      const sheet = new Sheet();
      router(sheet, 'R1', ospf(0, { referenceMbps }), { g0: '10.0.12.1/30' });
      router(sheet, 'R2', ospf(0, { referenceMbps }), { g0: '10.0.12.2/30', lo0: '10.9.2.2/32' });
      return routes(analyse(sheet.cable('R1 g0', 'R2 g0').topology), 'R1');
    };
    expect(plain(100)).toEqual(['10.9.2.2/32 ospf 2: 10.0.12.2']);
    expect(plain(10_000)).toEqual(['10.9.2.2/32 ospf 20: 10.0.12.2']);
  });
  test('when a link breaks, the other way is taken', () => {
    const topology = triangle(2);
    topology.links['R1-g1-R3-g1']!.broken = true;
    expect(routes(analyse(topology), 'R1')).toContain('10.9.3.0/24 ospf 11: 10.0.12.2');
  });
});

describe('who become neighbours (RFC 2328 §10.5)', () => {
  const pair = (
    first: Extra,
    second: Extra,
    settings: [object, object] = [{}, {}],
    addresses = ['10.0.0.1/24', '10.0.0.2/24'],
  ) => {
    const sheet = new Sheet();
    router(sheet, 'R1', ospf(0, settings[0]), { g0: [addresses[0]!, first] });
    router(sheet, 'R2', ospf(0, settings[1]), { g0: [addresses[1]!, second] });
    return neighbours(sheet.cable('R1 g0', 'R2 g0').topology);
  };
  test('two on one wire that agree do', () => expect(pair({}, {})).toEqual(['R1 R2']));
  test.each<[string, Extra, Extra]>([
    ['other timers', { ospf: { hello: 5 } }, {}],
    ['another area', { ospf: { area: 1 } }, {}],
    ['a passive end', {}, { ospf: { passive: true } }],
    ['another MTU', { mtu: 1400 }, {}],
    ['nobody who may be elected', { ospf: { priority: 0 } }, { ospf: { priority: 0 } }],
    ['another kind of network', { ospf: { network: 'point-to-point' } }, {}],
  ])('with %s they do not', (_what, first, second) => expect(pair(first, second)).toEqual([]));
  test('with another mask, or one router id for both, they do not', () => {
    expect(pair({}, {}, [{}, {}], ['10.0.0.1/24', '10.0.0.2/25'])).toEqual([]);
    expect(pair({}, {}, [{ routerId: '1.1.1.1' }, { routerId: '1.1.1.1' }])).toEqual([]);
  });
  test('with an area that only one takes for a stub they do not', () => {
    const areas = { areas: { 0: { type: 'stub' } } };
    expect(pair({}, {}, [areas, {}])).toEqual([]);
    expect(pair({}, {}, [areas, areas])).toEqual(['R1 R2']);
  });
  test('a filter that drops their messages keeps them apart', () => {
    const sheet = new Sheet();
    const filters = {
      f: {
        family: 4 as const,
        rules: [
          {
            action: 'permit' as const,
            proto: 'tcp' as const,
            src: { kind: 'any' as const },
            dst: { kind: 'any' as const },
          },
        ],
      },
    };
    router(sheet, 'R1', { ...ospf(0), filters }, { g0: ['10.0.0.1/24', { filterIn4: 'f' }] });
    router(sheet, 'R2', ospf(0), { g0: '10.0.0.2/24' });
    expect(neighbours(sheet.cable('R1 g0', 'R2 g0').topology)).toEqual([]);
  });
});

/** Area 1 (R1) – R2 – backbone – R3 – area 2 (R4). */
function areas(more: object = {}): Topology {
  const sheet = new Sheet();
  const in2 = (value: number, area: number): Extra => ({ ospf: { cost: value, area } });
  router(sheet, 'R1', ospf(1, more), { g0: ['10.1.0.1/30', in2(3, 1)], lo0: ['10.1.9.1/24', in2(1, 1)] });
  router(sheet, 'R2', ospf(0, more), { g0: ['10.1.0.2/30', in2(3, 1)], g1: ['10.0.0.1/30', in2(4, 0)] });
  router(sheet, 'R3', ospf(0), { g0: ['10.0.0.2/30', in2(4, 0)], g1: ['10.2.0.1/30', in2(5, 2)] });
  router(sheet, 'R4', ospf(2), { g0: ['10.2.0.2/30', in2(5, 2)], lo0: ['10.2.9.1/24', in2(1, 2)] });
  return sheet.cable('R1 g0', 'R2 g0').cable('R2 g1', 'R3 g0').cable('R3 g1', 'R4 g0').topology;
}
describe('OSPF between areas (RFC 2328 §12.4.3, §16.2)', () => {
  test('prefixes of other areas come through the backbone with the costs of the way', () => {
    const model = analyse(areas());
    expect(routes(model, 'R1')).toEqual([
      '10.0.0.0/30 ospf 7: 10.1.0.2',
      '10.2.0.0/30 ospf 12: 10.1.0.2',
      '10.2.9.0/24 ospf 13: 10.1.0.2',
    ]);
    expect(routes(model, 'R4')).toContain('10.1.9.0/24 ospf 13: 10.2.0.1');
  });
  test('an area that is cut off from the backbone is not reached', () => {
    const topology = areas();
    topology.links['R2-g1-R3-g0']!.broken = true;
    expect(routes(analyse(topology), 'R1')).toEqual([]);
  });
  test('a totally stubby area hears of a default only: that is the affair of the router that joins it', () => {
    const topology = areas({ areas: { 1: { type: 'totally-stub' } } });
    expect(routes(analyse(topology), 'R1')).toEqual(['0.0.0.0/0 ospf 4: 10.1.0.2']);
    const type = (id: string, of: 'stub' | 'totally-stub') =>
      void (topology.devices[id]!.settings!.ospf!.areas = { 1: { type: of } });
    type('R1', 'stub');
    expect(routes(analyse(topology), 'R1')).toEqual(['0.0.0.0/0 ospf 4: 10.1.0.2']);
    type('R1', 'totally-stub');
    type('R2', 'stub');
    expect(routes(analyse(topology), 'R1')).toHaveLength(4);
  });
  test('whether a router joins areas without being in the backbone is a choice of the lab (RFC 3509, RFC 2328)', () => {
    // R2 is in areas 1 and 2 and not in the backbone.
    const sheet = new Sheet();
    const at = (area: number): Extra => ({ ospf: { cost: 3, area } });
    router(sheet, 'R1', ospf(1), { g0: ['10.1.0.1/30', at(1)], lo0: ['10.1.9.1/24', at(1)] });
    router(sheet, 'R2', ospf(1), { g0: ['10.1.0.2/30', at(1)], g1: ['10.2.0.1/30', at(2)] });
    router(sheet, 'R3', ospf(2), { g0: ['10.2.0.2/30', at(2)] });
    const topology = sheet.cable('R1 g0', 'R2 g0').cable('R2 g1', 'R3 g0').topology;
    expect(routes(analyse(topology), 'R3')).toEqual([]);
    expect(routes(analyse(topology, { borderRouters: 'rfc2328' }), 'R3')).toEqual([
      '10.1.0.0/30 ospf 6: 10.2.0.1',
      '10.1.9.0/24 ospf 9: 10.2.0.1',
    ]);
  });
  test('two routers with one id make what depends on them uncertain, also where they are no neighbours', () => {
    const topology = areas();
    const setId = (id: string, routerId: string) =>
      void (topology.devices[id]!.settings!.ospf = { ...topology.devices[id]!.settings!.ospf, routerId });
    for (const id of ['R1', 'R4']) setId(id, '1.1.1.1');
    const model = analyse(topology);
    expect(problemsOf(model).filter(({ code }) => code === 'ROUTER_ID_TWICE')).toMatchObject([
      { text: expect.stringContaining('R1 and R4 have the router id 1.1.1.1') as string },
    ]);
    const target = (device: string, text: string) =>
      model.reach.targets().find((one) => one.device === device && formatAddress(one.address) === text)!;
    expect(model.reach.ask('R2', target('R4', '10.2.9.1'))).toMatchObject({
      answer: 'uncertain',
      reason: { code: 'ROUTE_UNSTABLE', text: expect.stringContaining('R1 and R4 share a router id') as string },
    });
    // What both say nothing of is as certain as before.
    expect(model.reach.ask('R2', target('R3', '10.2.0.1')).answer).toBe('yes');
    for (const from of ['R1', 'R2', 'R3', 'R4'])
      for (const to of model.reach.targets())
        if (to.device !== from) expect(model.reach.answer(from, to).answer).toBe(model.reach.ask(from, to).answer);
    setId('R4', '4.4.4.4');
    expect(problemsOf(analyse(topology)).map(({ code }) => code)).not.toContain('ROUTER_ID_TWICE');
  });
});

describe('routes from elsewhere', () => {
  const static3 = { routes: [{ prefix: '172.16.0.0/16' }, { prefix: '0.0.0.0/0' }] };
  test('static routes are taken over with metric 20, a default only when that is asked for', () => {
    const topology = triangle(20);
    topology.devices.R3!.settings = { ...ospf(0, { redistribute: ['static'] }), ...static3 };
    expect(routes(analyse(topology), 'R1').filter((route) => !route.startsWith('10.'))).toEqual([
      '172.16.0.0/16 ospf 20: 10.0.12.2',
    ]);
    topology.devices.R3!.settings = { ...ospf(0, { defaultOriginate: 'if-present' }), ...static3 };
    expect(routes(analyse(topology), 'R1')).toContain('0.0.0.0/0 ospf 1: 10.0.12.2');
    topology.devices.R3!.settings = ospf(0, { defaultOriginate: 'if-present' });
    expect(routes(analyse(topology), 'R1').filter((route) => route.startsWith('0'))).toEqual([]);
  });
  test('as type 1 the way to who brings it in counts, and it goes before type 2 whatever the metrics (RFC 2328 11)', () => {
    const topology = triangle(20);
    topology.devices.R3!.settings = { ...ospf(0, { redistribute: ['static'], externalType: 1 }), ...static3 };
    const [first] = routes(analyse(topology), 'R1').filter((route) => route.startsWith('172'));
    // 20 as it is brought in, and 5 + 5 by R2, as the direct link to R3 costs 20.
    expect(first).toBe('172.16.0.0/16 ospf 30: 10.0.12.2');
    topology.devices.R2!.settings = { ...ospf(0, { redistribute: ['static'] }), routes: [{ prefix: '172.16.0.0/16' }] };
    expect(routes(analyse(topology), 'R1').filter((route) => route.startsWith('172'))).toEqual([first]);
  });
  test('what a router in a not-so-stubby area brings in is known everywhere, and nothing from elsewhere comes into it (RFC 3101)', () => {
    const area1 = { areas: { 1: { type: 'nssa' as const } } };
    const topology = areas(area1);
    const inside = structuredClone(topology);
    inside.devices.R1!.settings = {
      ospf: { ...inside.devices.R1!.settings!.ospf!, redistribute: ['static'] },
      routes: [{ prefix: '172.16.0.0/16' }],
    };
    const last = Object.keys(inside.devices).sort().at(-1)!;
    expect(routes(analyse(inside), last).filter((route) => route.startsWith('172'))).toHaveLength(1);
    const outside = structuredClone(topology);
    outside.devices[last]!.settings = {
      ospf: { ...outside.devices[last]!.settings!.ospf!, redistribute: ['static'] },
      routes: [{ prefix: '172.16.0.0/16' }],
    };
    expect(routes(analyse(outside), 'R2').filter((route) => route.startsWith('172'))).toHaveLength(1);
    expect(routes(analyse(outside), 'R1').filter((route) => route.startsWith('172'))).toEqual([]);
  });
  test('a router that joins a not-so-stubby area tells a default there, unless it is told not to (RFC 3101 2.4)', () => {
    const defaults = (area1: object): string[] =>
      routes(analyse(areas({ areas: { 1: { type: 'nssa', ...area1 } } })), 'R1').filter((route) =>
        route.startsWith('0.'),
      );
    expect(defaults({})).toEqual(['0.0.0.0/0 ospf 1: 10.1.0.2']);
    expect(defaults({ announceDefault: false })).toEqual([]);
  });
  test('what comes from elsewhere does not come through an area of the same number that is another one', () => {
    // R4 takes its own area for a stub one and brings a route in; R1 is in a not-so-stubby area with the same number.
    const topology = areas({ areas: { 1: { type: 'nssa', announceDefault: false } } });
    const { interfaces } = topology.devices.R4!;
    interfaces!.lo0!.ospf = { area: 1, cost: 1 };
    topology.devices.R4!.settings = {
      ...ospf(2, { redistribute: ['static'], areas: { 1: { type: 'stub' } } }),
      ...static3,
    };
    expect(routes(analyse(topology), 'R2')).toContainEqual(expect.stringMatching(/^172\.16/));
    expect(routes(analyse(topology), 'R1').filter((route) => route.startsWith('172'))).toEqual([]);
  });
  test('whom routers believe more is a table of the lab', () => {
    const topology = triangle(20);
    topology.devices.R1!.settings = { ...ospf(0), routes: [{ prefix: '10.9.3.0/24', via: '10.0.13.2' }] };
    const distances = { ...USUAL_DISTANCES, static: 150 };
    expect(routes(analyse(topology), 'R1')).toContain('10.9.3.0/24 static 0: 10.0.13.2');
    expect(routes(analyse(topology, { distances }), 'R1')).toContain('10.9.3.0/24 ospf 11: 10.0.12.2');
  });
  test('a static route is believed more than OSPF, one with a larger distance less', () => {
    const topology = triangle(20);
    const to3 = (distance: number) => ({ routes: [{ prefix: '10.9.3.0/24', via: '10.0.13.2', distance }] });
    topology.devices.R1!.settings = { ...ospf(0), ...to3(1) };
    expect(routes(analyse(topology), 'R1')).toContain('10.9.3.0/24 static 0: 10.0.13.2');
    topology.devices.R1!.settings = { ...ospf(0), ...to3(200) };
    expect(routes(analyse(topology), 'R1')).toContain('10.9.3.0/24 ospf 11: 10.0.12.2');
  });
});

describe('RIPv2 (RFC 2453)', () => {
  const rip = (more: object = {}) => ({ rip: { networks: ['10.0.0.0/8'], ...more } });
  /** Routers in a row, R0 to Rn, with a network behind the last. */
  function row(count: number, last: object = {}): Topology {
    const sheet = new Sheet();
    for (let at = 0; at < count; at++)
      router(sheet, `R${at}`, rip(at === count - 1 ? last : {}), {
        ...(at > 0 && { g0: `10.0.${at}.2/30` }),
        ...(at < count - 1 && { g1: `10.0.${at + 1}.1/30` }),
        ...(at === count - 1 && { lo0: '10.9.0.1/24' }),
      });
    for (let at = 1; at < count; at++) sheet.cable(`R${at - 1} g1`, `R${at} g0`);
    return sheet.topology;
  }
  const far = (count: number): string[] =>
    routes(analyse(row(count)), 'R0').filter((route) => route.startsWith('10.9.'));
  test('each router adds one; 16 is unreachable', () => {
    expect(far(3)).toEqual(['10.9.0.0/24 rip 3: 10.0.1.2']);
    expect(far(15)).toEqual(['10.9.0.0/24 rip 15: 10.0.1.2']);
    expect(far(16)).toEqual([]);
  });
  test('a passive interface tells nothing and still listens', () => {
    const topology = row(2);
    topology.devices.R1!.interfaces!.g0!.rip = { passive: true };
    expect(routes(analyse(topology), 'R0')).toEqual([]);
    topology.devices.R1!.interfaces!.g0!.rip = {};
    topology.devices.R0!.interfaces!.g1!.rip = { passive: true };
    expect(routes(analyse(topology), 'R0')).toEqual(['10.9.0.0/24 rip 2: 10.0.1.2']);
  });
  test('of OSPF and RIP the first is believed; each takes over what the other taught when told to', () => {
    const topology = row(3);
    const both = { ...ospf(0), ...rip() };
    for (const id of ['R0', 'R1', 'R2']) topology.devices[id]!.settings = both;
    expect(routes(analyse(topology), 'R0')).toContain('10.9.0.0/24 ospf 3: 10.0.1.2');
    topology.devices.R2!.settings = rip();
    topology.devices.R1!.settings = { ...ospf(0, { redistribute: ['rip'] }), ...rip() };
    topology.devices.R0!.settings = ospf(0);
    expect(routes(analyse(topology), 'R0')).toContain('10.9.0.0/24 ospf 20: 10.0.1.2');
  });
});

import fc from 'fast-check';
import { formatAddress, formatPrefix, parseAddress } from '../../address';
import { Sheet } from '../../tests/topologies';
import { type StaticRoute, type Topology } from '../../topology';
import { runs } from '../../tests/runs';
import { type Trace, analyse, problemsOf } from '..';

const read = (text: string) => {
  const parsed = parseAddress(text);
  if (!parsed.ok) throw new Error(parsed.error.text);
  return parsed.value;
};

/** Three routers in a row with a host at each end: A – R1 – R2 – R3 – B. */
function row(routes: Record<string, StaticRoute[]>, change: (topology: Topology) => void = () => {}): Topology {
  const { topology } = new Sheet()
    .device(
      'R1',
      'border-router',
      { g0: '10.84.1.1/24', g1: '10.84.15.1/30' },
      { settings: { routes: routes.R1 ?? [] } },
    )
    .device(
      'R2',
      'border-router',
      { g0: '10.84.15.2/30', g1: '10.84.15.5/30' },
      { settings: { routes: routes.R2 ?? [] } },
    )
    .device(
      'R3',
      'border-router',
      { g0: '10.84.15.6/30', g1: '10.84.9.1/24' },
      { settings: { routes: routes.R3 ?? [] } },
    )
    .host('A', '10.84.1.10/24', '10.84.1.1')
    .host('B', '10.84.9.10/24', '10.84.9.1')
    .cable('R1 g0', 'A e0')
    .cable('R1 g1', 'R2 g0')
    .cable('R2 g1', 'R3 g0')
    .cable('R3 g1', 'B e0');
  change(topology);
  return topology;
}
const toB: Record<string, StaticRoute[]> = {
  R1: [{ prefix: '10.84.8.0/22', via: '10.84.15.2' }],
  R2: [
    { prefix: '10.84.8.0/22', via: '10.84.15.6' },
    { prefix: '10.84.0.0/22', via: '10.84.15.1' },
  ],
  R3: [{ prefix: '10.84.0.0/22', via: '10.84.15.5' }],
};
const ping = (topology: Topology, from = 'A', to = 'B', address = '10.84.9.10'): Trace =>
  analyse(topology).reach.ask(from, { device: to, address: read(address) });
const table = (topology: Topology, device: string): string[] =>
  analyse(topology)
    .layer3.nodes.get(device)!
    .table.all()
    .map(
      (route) =>
        `${formatPrefix(route.prefix)} ${route.source} ${route.distance}${route.via ? ` via ${formatAddress(route.via)}` : ''}`,
    )
    .sort();

test('with routes there and back everybody is reached, and each hop names the line it used', () => {
  const trace = ping(row(toB));
  expect(trace.answer).toBe('yes');
  expect(trace.request.hops.map((hop) => hop.decided)).toEqual([
    'Route 0.0.0.0/0 via 10.84.1.1, gateway.',
    'Route 10.84.8.0/22 via 10.84.15.2, static.',
    'Route 10.84.8.0/22 via 10.84.15.6, static.',
    '10.84.9.0/24 is connected on g1.',
    "10.84.9.10 is B's own address: accepted.",
  ]);
  expect(trace.reply!.delivered).toBe('A');
});

test.each<[string, string, StaticRoute[], string, 'request' | 'reply', string]>([
  ['the first router', 'R1', [], 'NO_ROUTE', 'request', 'R1'],
  ['the second router', 'R2', [{ prefix: '10.84.0.0/22', via: '10.84.15.1' }], 'NO_ROUTE', 'request', 'R2'],
  ['the way back', 'R3', [], 'NO_ROUTE', 'reply', 'R3'],
  ['the way back in the middle', 'R2', [{ prefix: '10.84.8.0/22', via: '10.84.15.6' }], 'NO_ROUTE', 'reply', 'R2'],
])('a route missing on %s is found there, with the direction', (_what, device, routes, code, direction, at) => {
  const trace = ping(row({ ...toB, [device]: routes }));
  expect([trace.answer, trace.reason?.code, trace.direction, trace.reason?.at.device]).toEqual([
    'no',
    code,
    direction,
    at,
  ]);
});

test('a request that arrives without an answer is told apart from one that does not', () => {
  expect(ping(row({ ...toB, R3: [] }))).toMatchObject({ answer: 'no', reached: true });
  expect(ping(row({ ...toB, R1: [] }))).toMatchObject({ answer: 'no', reached: false });
});

describe('which route is taken', () => {
  test('the longest prefix, whatever its distance', () => {
    const topology = row({
      ...toB,
      R1: [{ prefix: '10.84.9.0/24', via: '10.84.15.2', distance: 200 }, { prefix: '10.84.8.0/22' }],
    });
    expect(ping(topology).answer).toBe('yes');
    expect(table(topology, 'R1')).toContain('10.84.9.0/24 static 200 via 10.84.15.2');
  });
  test('of equal prefixes the smaller distance', () => {
    const topology = row({
      ...toB,
      R1: [
        { prefix: '10.84.8.0/22', via: '10.84.15.2', distance: 5 },
        { prefix: '10.84.8.0/22', via: '10.84.1.77', distance: 10 },
      ],
    });
    expect(table(topology, 'R1').filter((row) => row.startsWith('10.84.8.0'))).toEqual([
      '10.84.8.0/22 static 5 via 10.84.15.2',
    ]);
  });
  test('connected before static', () => {
    const topology = row({ ...toB, R1: [...toB.R1!, { prefix: '10.84.1.0/24', via: '10.84.15.2' }] });
    expect(table(topology, 'R1').filter((row) => row.startsWith('10.84.1.0'))).toEqual(['10.84.1.0/24 connected 0']);
  });
  test('the default route is the last resort', () => {
    expect(ping(row({ ...toB, R1: [{ prefix: '0.0.0.0/0', via: '10.84.15.2' }] })).answer).toBe('yes');
  });
  test('a null route discards what it holds', () => {
    const trace = ping(row({ ...toB, R2: [...toB.R2!, { prefix: '10.84.9.10/32' }] }));
    expect(trace.reason).toMatchObject({ code: 'NULL_ROUTE', at: { device: 'R2' } });
  });
});

describe('next hops', () => {
  test('one outside every connected subnet makes no route, and is told', () => {
    const topology = row({ ...toB, R1: [{ prefix: '10.84.8.0/22', via: '172.29.64.1' }] });
    expect(table(topology, 'R1').some((row) => row.startsWith('10.84.8.0'))).toBe(false);
    expect(
      analyse(topology)
        .layer3.nodes.get('R1')!
        .refused.map((reason) => reason.text)
        .join(' '),
    ).toMatch(/172\.29\.64\.1 lies in no connected subnet/);
  });
  test('one is found through another route, but not through the default and not through itself', () => {
    const via = (routes: StaticRoute[]) =>
      table(row({ ...toB, R1: routes }), 'R1').filter((row) => row.startsWith('10.84.8.0'));
    expect(
      via([
        { prefix: '10.84.8.0/22', via: '10.84.15.6' },
        { prefix: '10.84.15.4/30', via: '10.84.15.2' },
      ]),
    ).toEqual(['10.84.8.0/22 static 1 via 10.84.15.2']);
    expect(
      via([
        { prefix: '10.84.8.0/22', via: '10.84.15.6' },
        { prefix: '0.0.0.0/0', via: '10.84.15.2' },
      ]),
    ).toEqual([]);
    expect(via([{ prefix: '10.84.8.0/22', via: '10.84.9.1' }])).toEqual([]);
  });
  test('one is found by the longest prefix of all, wherever in the list it stands', () => {
    const routes: StaticRoute[] = [
      { prefix: '10.84.8.0/22', via: '10.99.1.9' },
      { prefix: '10.99.0.0/16', via: '10.84.15.2' },
      { prefix: '10.99.1.0/24', via: '10.84.1.77' },
    ];
    for (const list of [routes, routes.toReversed(), [routes[1]!, routes[0]!, routes[2]!]])
      expect(table(row({ ...toB, R1: list }), 'R1')).toContain('10.84.8.0/22 static 1 via 10.84.1.77');
  });
  test('one that leads into a null route is discarded with it', () => {
    const topology = row({
      ...toB,
      R1: [{ prefix: '10.84.8.0/22', via: '10.99.1.9' }, { prefix: '10.99.0.0/16' }],
    });
    expect(ping(topology).reason).toMatchObject({ code: 'NULL_ROUTE', at: { device: 'R1' } });
  });
  test('one that the router has itself is none, and that is told', () => {
    const topology = row({ ...toB, R1: [{ prefix: '10.84.8.0/22', via: '10.84.15.1' }] });
    expect(table(topology, 'R1').some((row) => row.startsWith('10.84.8.0'))).toBe(false);
    expect(problemsOf(analyse(topology)).map(({ text }) => text)).toContain(
      'The route of R1 to 10.84.8.0/22 is not used: its next hop 10.84.15.1 is an address of R1 itself.',
    );
    const host = row(toB, (topology) => void (topology.devices.A!.settings!.gateway4 = '10.84.1.10'));
    expect(ping(host).reason).toMatchObject({ code: 'GATEWAY_OUTSIDE', at: { device: 'A' } });
  });
  test('a floating route stands in when what the better one leans on is gone', () => {
    const routes: StaticRoute[] = [
      { prefix: '10.84.8.0/22', via: '10.99.1.9' },
      { prefix: '10.99.0.0/16', via: '10.84.15.2' },
      { prefix: '10.84.8.0/22', via: '10.84.1.77', distance: 200 },
    ];
    const to = (list: StaticRoute[]): string[] =>
      table(row({ ...toB, R1: list }), 'R1').filter((row) => row.startsWith('10.84.8.0'));
    expect(to(routes)).toEqual(['10.84.8.0/22 static 1 via 10.84.15.2']);
    expect(to([routes[0]!, routes[2]!])).toEqual(['10.84.8.0/22 static 200 via 10.84.1.77']);
  });
  test('of two equal ones each is found by itself', () => {
    const routes: StaticRoute[] = [
      { prefix: '10.84.8.0/22', via: '10.99.1.9' },
      { prefix: '10.84.8.0/22', via: '10.84.1.77' },
      { prefix: '10.99.0.0/16', via: '10.84.15.2' },
    ];
    expect(table(row({ ...toB, R1: routes }), 'R1').filter((row) => row.startsWith('10.84.8.0'))).toEqual([
      '10.84.8.0/22 static 1 via 10.84.1.77',
      '10.84.8.0/22 static 1 via 10.84.15.2',
    ]);
  });
  test('routes that lean on one another are not certain, and neither is what is sent by them', () => {
    // Each finds its next hop through the other: which of both ways they share depends on who was first.
    const routes: StaticRoute[] = [
      ...toB.R1!,
      { prefix: '10.98.0.0/16', via: '10.84.1.77' },
      { prefix: '10.99.0.0/16', via: '10.84.15.2' },
      { prefix: '10.98.1.0/24', via: '10.99.2.9' },
      { prefix: '10.99.2.0/24', via: '10.98.1.9' },
    ];
    const model = analyse(row({ ...toB, R1: routes }));
    const trace = model.reach.ask('A', { device: 'B', address: read('10.99.2.20') });
    expect([trace.answer, trace.reason?.code, trace.reason?.at.device]).toEqual(['uncertain', 'ROUTE_UNSTABLE', 'R1']);
    expect(model.reach.ask('A', { device: 'B', address: read('10.84.9.10') }).answer).toBe('yes');
    expect(problemsOf(model).filter(({ code }) => code === 'ROUTE_UNSTABLE')).toHaveLength(2);
  });
  test('whatever stands in the list, its order does not matter', () => {
    const parts = ['10.99.0.0/16', '10.99.1.0/24', '10.99.2.0/24', '10.99.1.128/25', '10.98.0.0/16', '10.84.8.0/22'];
    const hops = [
      '10.84.15.2',
      '10.84.1.77',
      '10.99.1.9',
      '10.99.1.200',
      '10.99.2.9',
      '10.98.7.7',
      '10.84.8.8',
      undefined,
    ];
    const route = fc.record(
      { prefix: fc.constantFrom(...parts), via: fc.constantFrom(...hops), distance: fc.constantFrom(1, 1, 5) },
      { requiredKeys: ['prefix', 'via', 'distance'] },
    );
    const list = fc
      .array(route, { minLength: 2, maxLength: 8 })
      .chain((all) => fc.tuple(fc.constant(all), fc.shuffledSubarray(all, { minLength: all.length })));
    fc.assert(
      fc.property(list, ([first, second]) => {
        const [one, other] = [first, second].map((all) =>
          table(row({ ...toB, R1: all.map(({ via, ...rest }) => ({ ...rest, ...(via && { via }) })) }), 'R1'),
        );
        expect(one).toEqual(other);
      }),
      { numRuns: runs(150) },
    );
  });
  test('one that nobody has is asked for in vain', () => {
    const trace = ping(row({ ...toB, R1: [{ prefix: '10.84.8.0/22', via: '10.84.1.99' }] }));
    expect(trace.reason).toMatchObject({ code: 'NEXT_HOP_UNREACHABLE', at: { device: 'R1' } });
  });
  test('with its link down a connected route goes, and so does every route through it', () => {
    const topology = row(toB, (topology) => void (topology.links['R1-g1-R2-g0']!.broken = true));
    expect(table(topology, 'R1')).toEqual(['10.84.1.0/24 connected 0']);
    expect(ping(topology).reason).toMatchObject({ code: 'NO_ROUTE', at: { device: 'R1' } });
  });
});

describe('what a host thinks is local (its own mask decides)', () => {
  const change = (mask: number) =>
    row(toB, (topology) => void (topology.devices.A!.interfaces!.e0!.v4 = { addresses: [`10.84.1.10/${mask}`] }));
  test('a mask too short makes it ask for a far host on the wire, in vain', () => {
    expect(ping(change(16)).reason).toMatchObject({ code: 'NO_ANSWER', at: { device: 'A' } });
  });
  test('a mask too long works by luck as long as the gateway lies inside', () =>
    expect(ping(change(26)).answer).toBe('yes'));
  test('a mask that leaves the gateway outside leaves no gateway', () =>
    expect(ping(change(30)).reason).toMatchObject({ code: 'GATEWAY_OUTSIDE', at: { device: 'A' } }));
});

test('packets for any address of a router are accepted on any of its interfaces', () => {
  expect(ping(row(toB), 'A', 'R1', '10.84.15.1').answer).toBe('yes');
  expect(ping(row(toB), 'A', 'R3', '10.84.9.1').answer).toBe('yes');
});

test('IPv6 is routed by the same rules', () => {
  const { topology } = new Sheet()
    .device(
      'R',
      'border-router',
      {},
      {
        interfaces: {
          g0: { on: { kind: 'port', port: 'g0' }, v6: { addresses: ['fd5e:7a3c:90b1:1::1/64'] } },
          g1: { on: { kind: 'port', port: 'g1' }, v6: { addresses: ['fd5e:7a3c:90b1:2::1/64'] } },
        },
      },
    )
    .device(
      'A',
      'desktop',
      {},
      {
        interfaces: { e0: { on: { kind: 'port', port: 'e0' }, v6: { addresses: ['fd5e:7a3c:90b1:1::10/64'] } } },
        settings: { gateway6: 'fd5e:7a3c:90b1:1::1' },
      },
    )
    .device(
      'B',
      'desktop',
      {},
      {
        interfaces: { e0: { on: { kind: 'port', port: 'e0' }, v6: { addresses: ['fd5e:7a3c:90b1:2::10/64'] } } },
        settings: { gateway6: 'fd5e:7a3c:90b1:2::1' },
      },
    )
    .cable('R g0', 'A e0')
    .cable('R g1', 'B e0');
  expect(ping(topology, 'A', 'B', 'fd5e:7a3c:90b1:2::10').answer).toBe('yes');
  delete topology.devices.B!.settings;
  expect(ping(topology, 'A', 'B', 'fd5e:7a3c:90b1:2::10')).toMatchObject({ answer: 'no', direction: 'reply' });
});

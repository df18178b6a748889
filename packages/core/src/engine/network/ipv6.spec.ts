import { type Address, formatAddress, formatPrefix, parseAddress } from '../../address';
import { Sheet } from '../../tests/topologies';
import { type Device, type Interface, type Settings, type Topology } from '../../topology';
import { type NetworkModel, analyse, complaints, modifiedEui64, tablesOf, trace, whoStops } from '..';

const interfaceConfig = (
  port: string,
  v6: NonNullable<Interface['v6']>,
  more: Partial<Interface> = {},
): Record<string, Interface> => ({
  [port]: { on: { kind: 'port', port }, v6, ...more },
});
const fixed = (...addresses: string[]): NonNullable<Interface['v6']> => ({ addresses });
const device = (interfaces: Record<string, Interface>, settings: Settings = {}): Partial<Device> => ({
  interfaces,
  settings,
});
const addressesOf = (model: NetworkModel, id: string): string[] =>
  model.layer3.nodes
    .get(id)!
    .interfaceStates.flatMap((interfaceState) => interfaceState.addresses.map((on) => formatAddress(on.address)));
const linkLocal = (model: NetworkModel, id: string, key: string): string =>
  formatAddress(
    model.layer3.nodes.get(id)!.interfaceStates.find((interfaceState) => interfaceState.key === key)!.linkLocal!,
  );
const routesOf = (model: NetworkModel, id: string): string[] =>
  model.layer3.nodes
    .get(id)!
    .table.all()
    .map(({ prefix, source, via, out, metric }) =>
      [formatPrefix(prefix), source, via && formatAddress(via), out?.key, metric].join(' '),
    );
const address6 = (text: string): Address => (parseAddress(text) as { value: Address }).value;
const answer = (model: NetworkModel, from: string, to: string) => {
  const target = model.reach.targets().find((target) => target.device === to && target.address.family === 6)!;
  const trace = model.reach.ask(from, target);
  // The quick answer is that of the trace.
  expect(model.reach.answer(from, target).answer).toBe(trace.answer);
  return trace;
};

test('an interface identifier is made of a MAC address as RFC 2464 section 4 shows it', () => {
  expect(modifiedEui64('34:56:78:9a:bc:de').toString(16)).toBe('365678fffe9abcde');
});

/** A host that is told everything, a router, and a host with what is typed. */
function lan(
  ra: NonNullable<Interface['v6']>['ra'],
  host: NonNullable<Interface['v6']>,
  prefix = 64,
  settings: Settings = {},
): Topology {
  return new Sheet()
    .device(
      'R',
      'border-router',
      {},
      device(
        {
          ...interfaceConfig('g0', { addresses: [`2001:db8:0:1::1/${prefix}`], ...(ra && { ra }) }),
          ...interfaceConfig('g1', fixed('2001:db8:0:2::1/64')),
        },
        settings,
      ),
    )
    .device('A', 'desktop', {}, device(interfaceConfig('e0', host)))
    .device(
      'B',
      'desktop',
      {},
      device(interfaceConfig('e0', fixed('2001:db8:0:2::b/64')), { gateway6: '2001:db8:0:2::1' }),
    )
    .cable('R g0', 'A e0', 'crossover')
    .cable('R g1', 'B e0', 'crossover').topology;
}

describe('addresses that nobody typed (RFC 4862)', () => {
  test('a host makes its address of the prefix that a router tells, and goes out by that router', () => {
    const model = analyse(lan(undefined, { slaac: true }));
    const [address] = addressesOf(model, 'A');
    expect(address).toMatch(/^2001:db8:0:1:.*ff:fe/);
    // It ends as the address of the link does.
    expect(address!.split(':').slice(-4)).toEqual(linkLocal(model, 'A', 'e0').split(':').slice(-4));
    expect(routesOf(model, 'A')).toContain(`::/0 ra ${linkLocal(model, 'R', 'g0')} e0 0`);
    expect(answer(model, 'A', 'B')).toMatchObject({ answer: 'yes' });
    expect(answer(model, 'B', 'A')).toMatchObject({ answer: 'yes' });
  });
  test('the same drawing makes the same addresses, and a MAC address that is set is used', () => {
    const drawing = lan(undefined, { slaac: true });
    expect(addressesOf(analyse(drawing), 'A')).toEqual(addressesOf(analyse(structuredClone(drawing)), 'A'));
    drawing.devices.A!.ports = { e0: { mac: '34:56:78:9a:bc:de' } };
    expect(addressesOf(analyse(drawing), 'A')).toEqual(['2001:db8:0:1:3656:78ff:fe9a:bcde']);
  });
  test.each([
    ['the router is told to be silent', lan({ send: false }, { slaac: true })],
    ['its prefix is not 64 bits long', lan(undefined, { slaac: true }, 80)],
    ['addresses come from a server', lan({ managed: true }, { slaac: true })],
  ])('there is none where %s', (_why, drawing) => {
    expect(addressesOf(analyse(drawing), 'A')).toEqual([]);
  });
  test('without a router the way out is missing, and it is told', () => {
    const drawing = lan({ send: false }, { slaac: true, addresses: ['2001:db8:0:1::a/64'] });
    expect(answer(analyse(drawing), 'A', 'B').reason).toMatchObject({
      code: 'NO_GATEWAY',
      text: expect.stringMatching(/hears no router/) as string,
    });
  });
  test('a server gives an address (RFC 8415), a router the way out', () => {
    const pool = {
      dhcp6Pools: [{ network: '2001:db8:0:1::/64', ranges: [{ from: '2001:db8:0:1::100', to: '2001:db8:0:1::1ff' }] }],
    };
    const model = analyse(lan({ managed: true }, { dhcp: 'stateful' }, 64, pool));
    expect(addressesOf(model, 'A')).toEqual(['2001:db8:0:1::100']);
    expect(answer(model, 'A', 'B')).toMatchObject({ answer: 'yes' });
    expect(tablesOf(model, 'R').leases).toMatchObject([{ address: '2001:db8:0:1::100', device: 'A' }]);
    expect(addressesOf(analyse(lan({ managed: true }, { dhcp: 'stateful' })), 'A')).toEqual([]);
  });
  test('a whole /64 as a pool ends at once, with its first address that is free', () => {
    const pool = { dhcp6Pools: [{ network: '2001:db8:0:1::/64' }] };
    expect(addressesOf(analyse(lan(undefined, { dhcp: 'stateful' }, 64, pool)), 'A')).toEqual(['2001:db8:0:1::2']);
  });
});

describe('a host that has only its address of the link (RFC 6724 4)', () => {
  // The router says that addresses come from a server, and there is none.
  const only = (): Topology => lan({ managed: true }, { slaac: true });
  test('reaches its router, at any of its addresses, and who is on its wire', () => {
    const model = analyse(only());
    expect(addressesOf(model, 'A')).toEqual([]);
    expect(routesOf(model, 'A')).toContainEqual(expect.stringMatching(/^2001:db8:0:1::\/64 connected {2}e0/));
    expect(answer(model, 'A', 'R').answer).toBe('yes');
    const source = answer(model, 'A', 'R').source!;
    expect(formatAddress(source)).toBe(linkLocal(model, 'A', 'e0'));
  });
  test('and nobody beyond: no router passes on what comes from it, and says so (RFC 4291 2.5.6, RFC 4443 3.1)', () => {
    const model = analyse(only());
    const beyond = answer(model, 'A', 'B');
    expect([beyond.answer, beyond.reason?.code, beyond.reason?.at.device]).toEqual(['no', 'BEYOND_SCOPE', 'R']);
    expect(complaints(model, beyond).map(({ delivered }) => delivered)).toEqual(['A']);
  });
});

test('in a circle a packet comes by its own sender and goes on, until somebody has the last of it (RFC 8200 3)', () => {
  const routes = (via: string): Settings => ({ routes: [{ prefix: '2001:db8:9::/48', via }] });
  const { topology } = new Sheet()
    .device('R1', 'border-router', {}, device(interfaceConfig('g0', fixed('2001:db8::1/64')), routes('2001:db8::2')))
    .device('R2', 'border-router', {}, device(interfaceConfig('g0', fixed('2001:db8::2/64')), routes('2001:db8::1')))
    .cable('R1 g0', 'R2 g0', 'crossover');
  const model = analyse(topology);
  const circle = trace(model, 'R1', 'R2', address6('2001:db8:9::1'));
  // An even number of hops: who sent it sees the end itself, and needs nobody to tell.
  expect([circle.reason?.code, whoStops(circle.request), complaints(model, circle)]).toEqual(['ROUTE_LOOP', 'R1', []]);
});

describe('next hops on the link', () => {
  test('a host with an address of the link as its gateway', () => {
    const drawing = lan({ send: false }, fixed('2001:db8:0:1::a/64'));
    const gateway6 = linkLocal(analyse(drawing), 'R', 'g0');
    drawing.devices.A!.settings = { gateway6 };
    expect(answer(analyse(drawing), 'A', 'B')).toMatchObject({ answer: 'yes' });
    drawing.devices.A!.settings = { gateway6: 'fe80::dead' };
    expect(answer(analyse(drawing), 'A', 'B').reason?.code).toBe('NEXT_HOP_UNREACHABLE');
  });
  test('a static route wants an interface where there are several', () => {
    const routed = (route: { prefix: string; via: string; interface?: string }): NetworkModel =>
      analyse(
        new Sheet()
          .device(
            'R1',
            'border-router',
            {},
            device(
              {
                ...interfaceConfig('g0', { addresses: ['2001:db8:0:1::1/64'], linkLocal: 'fe80::1' }),
                ...interfaceConfig('g1', fixed('2001:db8:0:9::1/64')),
              },
              { routes: [route] },
            ),
          )
          .device(
            'R2',
            'border-router',
            {},
            device({
              ...interfaceConfig('g0', { addresses: ['2001:db8:0:1::2/64'], linkLocal: 'fe80::2' }),
              ...interfaceConfig('g1', fixed('2001:db8:0:2::1/64')),
            }),
          )
          .cable('R1 g0', 'R2 g0', 'crossover')
          .host('X', '10.0.0.1/24')
          .cable('R1 g1', 'X e0', 'crossover')
          .host('Y', '10.0.0.1/24')
          .cable('R2 g1', 'Y e0', 'crossover').topology,
      );
    const to = { prefix: '2001:db8:0:2::/64', via: 'fe80::2' };
    const target: Address = (parseAddress('2001:db8:0:2::1') as { value: Address }).value;
    expect(routed({ ...to, interface: 'g0' }).reach.ask('R1', { device: 'R2', address: target })).toMatchObject({
      answer: 'yes',
    });
    expect(routed(to).reach.ask('R1', { device: 'R2', address: target }).reason?.code).toBe('NO_ROUTE');
  });
});

describe('OSPFv3 (RFC 5340)', () => {
  const area = (number: number, more: object = {}) => ({ ospf6: { area: number, ...more } });
  /** R1 – R2 – R3 in a row, each with a LAN behind it. */
  function row(second = 0, settings: Partial<Record<string, Settings>> = {}, hello?: number): Topology {
    const sheet = new Sheet();
    for (const [at, id] of ['R1', 'R2', 'R3'].entries()) {
      const left = at > 0 ? interfaceConfig('g0', { enabled: true }, area(at === 2 ? second : 0)) : {};
      const right =
        at < 2
          ? interfaceConfig('g1', { enabled: true }, area(at === 1 ? second : 0, at === 0 && hello ? { hello } : {}))
          : {};
      const stub = interfaceConfig(
        'g2',
        fixed(`2001:db8:0:${at + 1}::1/64`),
        area(at === 2 ? second : 0, { passive: true }),
      );
      sheet.device(
        id,
        'border-router',
        {},
        device(
          { ...left, ...right, ...stub },
          { ospf6: { routerId: `${at + 1}.${at + 1}.${at + 1}.${at + 1}` }, ...settings[id] },
        ),
      );
      sheet.device(`H${at + 1}`, 'desktop', {}, device(interfaceConfig('e0', { slaac: true })));
      sheet.cable(`${id} g2`, `H${at + 1} e0`, 'crossover');
    }
    return sheet.cable('R1 g1', 'R2 g0', 'crossover').cable('R2 g1', 'R3 g0', 'crossover').topology;
  }
  test('neighbours need no common subnet, and are reached by their addresses of the link', () => {
    const model = analyse(row());
    const routes = routesOf(model, 'R1').filter((route) => route.includes(' ospf '));
    expect(routes).toEqual([
      `2001:db8:0:2::/64 ospf ${linkLocal(model, 'R2', 'g0')} g1 2`,
      `2001:db8:0:3::/64 ospf ${linkLocal(model, 'R2', 'g0')} g1 3`,
    ]);
    expect(answer(model, 'H1', 'H3')).toMatchObject({ answer: 'yes' });
  });
  test('between areas, and a stub area hears of a default only when it is to hear of nothing else', () => {
    expect(answer(analyse(row(7)), 'H1', 'H3')).toMatchObject({ answer: 'yes' });
    const total = { ospf6: { areas: { 7: { type: 'totally-stub' as const } } } };
    const model = analyse(
      row(7, {
        R2: { ospf6: { routerId: '2.2.2.2', ...total.ospf6 } },
        R3: { ospf6: { routerId: '3.3.3.3', ...total.ospf6 } },
      }),
    );
    expect(routesOf(model, 'R3').filter((route) => route.includes(' ospf '))).toEqual([
      `::/0 ospf ${linkLocal(model, 'R2', 'g1')} g0 2`,
    ]);
    expect(answer(model, 'H3', 'H1')).toMatchObject({ answer: 'yes' });
  });
  test.each([
    ['timers differ', row(0, {}, 5)],
    ['ids are the same', row(0, { R2: { ospf6: { routerId: '1.1.1.1' } } })],
    ['one has no id', row(0, { R2: { ospf6: {} } })],
  ])('they are none where %s', (_why, drawing) => {
    expect(routesOf(analyse(drawing), 'R1').filter((route) => route.includes(' ospf '))).toEqual([]);
  });
});

test('where a tunnel might lead there, the answer is left open', () => {
  const drawing = lan(undefined, { slaac: true });
  drawing.devices.R!.interfaces!.t0 = { on: { kind: 'tunnel', source: '10.0.0.1', destination: '10.9.9.9' } };
  drawing.devices.Z = {
    name: 'Z',
    model: 'desktop',
    at: { x: 0, y: 0 },
    ...device(interfaceConfig('e0', fixed('2001:db8:0:9::9/64'))),
  };
  expect(answer(analyse(drawing), 'A', 'Z')).toMatchObject({ answer: 'uncertain', reason: { code: 'NOT_COMPUTED' } });
});

test('two servers of one family leave the other family certain', () => {
  const sheet = new Sheet()
    .device('S', 'access-switch-12')
    .device(
      'A',
      'desktop',
      {},
      device({ e0: { on: { kind: 'port', port: 'e0' }, v4: { dhcp: true }, v6: fixed('2001:db8:0:1::a/64') } }),
    )
    .device(
      'B',
      'desktop',
      {},
      device({
        e0: { on: { kind: 'port', port: 'e0' }, v4: { addresses: ['10.0.0.9/24'] }, v6: fixed('2001:db8:0:1::b/64') },
      }),
    )
    .cable('S p1', 'A e0')
    .cable('S p2', 'B e0');
  for (const at of [1, 2])
    sheet
      .device(
        `R${at}`,
        'border-router',
        { g0: `10.0.0.${at}/24` },
        { settings: { dhcpPools: [{ network: '10.0.0.0/24' }] } },
      )
      .cable(`S u${at}`, `R${at} g0`);
  const model = analyse(sheet.topology);
  expect(answer(model, 'A', 'B').answer).toBe('yes');
  const four = model.reach.targets().find((target) => target.device === 'B' && target.address.family === 4)!;
  expect(model.reach.ask('A', four).reason?.code).toBe('DHCP_TWICE');
});

import { type Address, formatAddress, formatPrefix, parseAddress } from '../address';
import { Sheet } from '../tests/topologies';
import { type Interface, type Topology, emptyTopology } from '../topology';
import { analyse, linkLocalOf, trace } from '.';

const address = (text: string): Address => {
  const read = parseAddress(text);
  if (!read.ok) throw new Error(read.error.text);
  return read.value;
};

/** The sample system of RFC 2328, figure 2: routers with what their interfaces cost. N3, N6, N8 and N9 have several. */
const ROUTERS: Record<string, Record<string, number>> = {
  RT1: { N1: 3, N3: 1 },
  RT2: { N2: 3, N3: 1 },
  RT3: { N3: 1, N4: 2, 'RT3-RT6': 8 },
  RT4: { N3: 1, 'RT4-RT5': 8 },
  RT5: { 'RT4-RT5': 8, 'RT5-RT6': 7, 'RT5-RT7': 6 },
  RT6: { 'RT3-RT6': 6, 'RT5-RT6': 6, 'RT6-RT10': 7 },
  RT7: { 'RT5-RT7': 6, N6: 1 },
  RT8: { N6: 1, N7: 4 },
  RT9: { N9: 1, N11: 3 },
  RT10: { N6: 1, N8: 3, 'RT6-RT10': 5 },
  RT11: { N8: 2, N9: 1 },
  RT12: { N9: 1, N10: 2, H1: 10 },
};
const prefixOf = (nets: readonly string[], net: string): string => `10.0.${nets.indexOf(net)}.0/24`;

function sampleSystem(): { topology: Topology; nets: string[] } {
  const nets = [...new Set(Object.values(ROUTERS).flatMap((router) => Object.keys(router)))].sort();
  const topology = emptyTopology();
  const ports = (count: number) =>
    Array.from({ length: count }, (_, at) => ({
      key: `p${at}`,
      connector: 'copper' as const,
      speeds: [100],
      auto: true,
    }));
  topology.models = {
    RT: { name: 'Router', kind: 'router', class: 'intermediary', forwards: true, ports: ports(4) },
    wire: { name: 'Wire', kind: 'hub', class: 'intermediary', bridges: 'hub', ports: ports(6) },
  };
  for (const net of nets) topology.devices[net] = { name: net, model: 'wire', at: { x: 0, y: 0 } };
  const used = new Map<string, number>();
  for (const [router, interfaceConfigs] of Object.entries(ROUTERS)) {
    const nth = Number(router.slice(2));
    const interfaces: Record<string, Interface> = {};
    for (const [at, [net, cost]] of Object.entries(interfaceConfigs).entries()) {
      const port = `p${at}`;
      interfaces[port] = {
        on: { kind: 'port', port },
        v4: { addresses: [`10.0.${nets.indexOf(net)}.${nth}/24`] },
        ospf: { area: 0, cost },
      };
      used.set(net, (used.get(net) ?? -1) + 1);
      topology.links[`${router}-${net}`] = {
        a: { device: router, port },
        b: { device: net, port: `p${used.get(net)}` },
        medium: 'straight',
      };
    }
    topology.devices[router] = {
      name: router,
      model: 'RT',
      at: { x: 0, y: 0 },
      interfaces,
      settings: { ospf: { routerId: `0.0.0.${nth}` } },
    };
  }
  return { topology, nets };
}

test('RFC 2328, table 2: what router RT6 of the sample system has for local destinations', () => {
  const { topology, nets } = sampleSystem();
  const { nodes } = analyse(topology).layer3;
  const routes = nodes
    .get('RT6')!
    .table.all()
    .filter((route) => route.source === 'ospf');
  const byNetwork = Object.fromEntries<string>(
    routes.map(({ prefix, metric, via }) => [
      nets.find((net) => prefixOf(nets, net) === formatPrefix(prefix))!,
      `${metric} RT${formatAddress(via!).split('.').at(-1)}`,
    ]),
  );
  expect(byNetwork).toMatchObject({
    N1: '10 RT3',
    N2: '10 RT3',
    N3: '7 RT3',
    N4: '8 RT3',
    N6: '8 RT10',
    N7: '12 RT10',
    N8: '10 RT10',
    N9: '11 RT10',
    N10: '13 RT10',
    N11: '14 RT10',
    H1: '21 RT10',
  });
});

test('RFC 2328, table 3: of externals of type 1 the way and the metric are added; N12 is brought in twice', () => {
  const { topology } = sampleSystem();
  // RT5 and RT7 take static routes over with the same metric; to RT5 it is 6, to RT7 8.
  for (const [router, prefixes] of [
    ['RT5', ['192.0.12.0/24', '192.0.13.0/24']],
    ['RT7', ['192.0.12.0/24', '192.0.15.0/24']],
  ] as const) {
    const { ospf } = topology.devices[router]!.settings!;
    topology.devices[router]!.settings = {
      ospf: { ...ospf, redistribute: ['static'], externalType: 1 },
      routes: prefixes.map((prefix) => ({ prefix })),
    };
  }
  const { nodes } = analyse(topology).layer3;
  const routes = nodes
    .get('RT6')!
    .table.all()
    .filter(({ prefix }) => formatPrefix(prefix).startsWith('192.'))
    .map(({ prefix, metric, via }) => `${formatPrefix(prefix)} ${metric} RT${formatAddress(via!).split('.').at(-1)}`);
  expect(routes.sort()).toEqual(['192.0.12.0/24 26 RT5', '192.0.13.0/24 26 RT5', '192.0.15.0/24 28 RT10']);
});

test('RFC 3021: both addresses of a /31 are those of hosts, and neither is for everybody', () => {
  const model = analyse(
    new Sheet()
      .device('R1', 'border-router', { g0: '192.0.2.0/31' })
      .device('R2', 'border-router', { g0: '192.0.2.1/31' })
      .cable('R1 g0', 'R2 g0', 'crossover').topology,
  );
  expect(trace(model, 'R1', 'R2', address('192.0.2.1')).answer).toBe('yes');
  expect(trace(model, 'R2', 'R1', address('192.0.2.0')).answer).toBe('yes');
});

test('RFC 919: the last address of a /30 is for everybody, and no single one answers for it', () => {
  const model = analyse(
    new Sheet()
      .device('R1', 'border-router', { g0: '192.0.2.1/30' })
      .device('R2', 'border-router', { g0: '192.0.2.2/30' })
      .cable('R1 g0', 'R2 g0', 'crossover').topology,
  );
  expect(trace(model, 'R1', 'R2', address('192.0.2.3')).reason?.code).toBe('BROADCAST_ADDRESS');
});

test('RFC 3022, 2.2: the stub’s host 10.0.0.10 opens a connection to 138.76.29.7, which sees 138.76.28.4', () => {
  const model = analyse(
    new Sheet()
      .device(
        'STUB',
        'border-router',
        {},
        {
          interfaces: {
            g0: { on: { kind: 'port', port: 'g0' }, v4: { addresses: ['138.76.28.4/19'] }, natSide: 'outside' },
            g1: { on: { kind: 'port', port: 'g1' }, v4: { addresses: ['10.0.0.1/8'] }, natSide: 'inside' },
          },
          settings: { nat: [{ kind: 'overload', outsideInterface: 'g0', sources: ['10.0.0.0/8'] }] },
        },
      )
      .host('PRIVATE', '10.0.0.10/8', '10.0.0.1')
      .device(
        'GLOBAL',
        'server',
        { e0: '138.76.29.7/19' },
        { settings: { services: { telnet: { enabled: true, port: 23 } } } },
      )
      .cable('STUB g0', 'GLOBAL e0', 'crossover')
      .cable('PRIVATE e0', 'STUB g1', 'crossover').topology,
  );
  const found = trace(model, 'PRIVATE', 'GLOBAL', address('138.76.29.7'), { protocol: 'tcp', port: 23 });
  expect(found.answer).toBe('yes');
  expect([found.source, found.packet!.source].map((address) => formatAddress(address!))).toEqual([
    '10.0.0.10',
    '138.76.28.4',
  ]);
  expect(formatAddress(found.reply!.hops.at(-1)!.packet!.destination)).toBe('10.0.0.10');
});

test('RFC 4291, appendix A: the MAC address 34-56-78-9A-BC-DE makes the identifier 36-56-78-FF-FE-9A-BC-DE', () => {
  const topology = new Sheet().device('A', 'desktop', {}, { ports: { e0: { mac: '34:56:78:9a:bc:de' } } }).topology;
  const instance = analyse(topology).instances.get('A')!;
  const made = linkLocalOf(instance, 'e0', { on: { kind: 'port', port: 'e0' }, v6: { enabled: true } })!;
  expect(formatAddress(made)).toBe('fe80::3656:78ff:fe9a:bcde');
});

test('RFC 4632, 5.1: the most specific of all routes to a destination is taken, also against a default and an aggregate', () => {
  const sheet = new Sheet().device(
    'R',
    'border-router',
    { g0: '10.1.0.1/24', g1: '10.2.0.1/24', g2: '10.3.0.1/24' },
    {
      settings: {
        routes: [
          { prefix: '0.0.0.0/0', via: '10.1.0.2' },
          { prefix: '172.16.0.0/12', via: '10.2.0.2' },
          { prefix: '172.16.32.0/20', via: '10.3.0.2' },
        ],
      },
    },
  );
  for (const nth of [1, 2, 3])
    sheet
      .device(`N${nth}`, 'border-router', { g0: `10.${nth}.0.2/24` })
      .cable(`R g${nth - 1}`, `N${nth} g0`, 'crossover');
  const { table } = analyse(sheet.topology).layer3.nodes.get('R')!;
  const next = (text: string) => table.lookup(address(text)).map((route) => formatAddress(route.via!));
  expect(['172.16.33.1', '172.16.48.1', '172.31.255.255', '172.32.0.0'].map(next)).toEqual([
    ['10.3.0.2'],
    ['10.2.0.2'],
    ['10.2.0.2'],
    ['10.1.0.2'],
  ]);
});

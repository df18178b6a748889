import {
  type Interface,
  type Model,
  type PortConfig,
  type PortFacts,
  type Settings,
  type Topology,
  type FilterRule,
  emptyTopology,
} from '../topology';

/** Reader of networks with measured answers ("oracle-case/1"). A key that it does not know is refused by name. */
export interface CaseFile {
  format: 'oracle-case/1';
  topology: CaseTopology;
  expected: {
    /** For a failure: why, who said so, and 1 where the request had arrived. */
    pings: [string, string, string, 'ok' | 'fail', string?, (string | null)?, number?][];
    excluded: [string, string, string][];
    tcp?: [string, string, string, number, 'open' | 'refused' | 'timeout' | 'unreachable'][];
    udp?: [string, string, string, number, 'answer' | 'refused' | 'timeout' | 'unreachable'][];
    /** By router: prefix, next hops or "connected" or "blackhole", protocol. */
    routes?: Record<string, [string, string[], string][]>;
    /** By "device.interface". */
    leases?: Record<string, { address: string; router: string | null } | null>;
    /** By "device.interface": the address that a server of IPv6 gave. */
    leases6?: Record<string, string | null>;
    /** Device, interface and address that was made of what a router advertised. */
    auto?: [string, string, string][];
    /** Device and address of virtual routers that it is active for. */
    virtual?: [string, string][];
    /** Hops to an address; "*" where one is silent, "!why from" where somebody complains. */
    traces?: [string, string, string[]][];
    /** Whether several ways of equal cost exist: a trace then shows one of them. */
    ecmp?: boolean;
    /** Device, interface and address of interfaces that are down. */
    down_addresses?: [string, string, string][];
  };
}
export interface CaseTopology {
  family: string;
  /** 2 for networks in which routers advertise only where it is said. */
  set?: number;
  nodes: CaseNode[];
  links: { a: [string, string]; b: [string, string]; up?: boolean }[];
  tests?: { tcp?: CaseTest[]; udp?: CaseTest[] };
}
/** `at` is the port behind a forwarded one. */
interface CaseTest {
  from: string;
  to: string;
  address: string;
  port: number;
  at?: number;
  listen?: boolean;
}
interface CaseOspf {
  router_id?: string;
  networks?: { prefix: string; area: number | string }[];
  /** Areas by interface, of OSPFv3. */
  interfaces?: Record<string, string>;
  passive?: string[];
  costs?: Record<string, number>;
  areas?: Record<string, 'stub' | 'totally-stub' | 'nssa'>;
  redistribute?: ('connected' | 'static')[];
  external_type?: 1 | 2;
  default_originate?: boolean | 'always';
}
export interface CaseNode {
  id: string;
  kind: 'host' | 'switch' | 'hub' | 'router' | 'l3switch';
  interfaces: CaseInterface[];
  gateway4?: string;
  gateway6?: string;
  default4?: string;
  default6?: string;
  stp?: boolean;
  stp_priority?: number;
  svis?: { vlan: number; addresses?: string[]; up?: boolean }[];
  static_routes?: { prefix: string; via: string; distance?: number }[];
  bundles?: (Pick<CaseInterface, 'addresses' | 'mode' | 'vlan' | 'allowed' | 'native'> & {
    name: string;
    members: string[];
    protocol: 'active' | 'passive' | 'static';
  })[];
  loopbacks?: { name: string; addresses: string[] }[];
  ospf?: CaseOspf;
  ospf6?: CaseOspf;
  rip?: {
    version: number;
    networks?: string[];
    passive?: string[];
    redistribute?: ('connected' | 'static')[];
    default_originate?: boolean;
  };
  dhcp_server?: { pools: { network: string; range: [string, string]; router?: string | null }[] };
  dhcp6_server?: { pools: { network: string; range: [string, string] }[] };
  dhcp_relay?: { interface: string; server: string }[];
  filters?: { interface: string; direction: 'in' | 'out'; family?: 4 | 6; rules: CaseRule[] }[];
  nat?: { inside: string[]; outside: string; rules?: CaseTranslation[] };
}
interface CaseTranslation {
  kind: 'static' | 'portForward' | 'pool' | 'overload';
  inside?: string;
  outside?: string;
  proto?: 'tcp' | 'udp';
  inside_port?: number;
  outside_port?: number;
  sources?: string[];
  pool?: [string, string];
}
export interface CaseInterface {
  name: string;
  up?: boolean;
  mac?: string;
  addresses?: string[];
  dhcp?: boolean;
  mode?: 'access' | 'trunk' | 'routed';
  vlan?: number;
  allowed?: 'all' | number[];
  native?: number;
  subinterfaces?: { vlan: number; addresses?: string[]; up?: boolean; vrrp?: CaseVirtual[] }[];
  stp_cost?: number;
  stp_priority?: number;
  slaac?: boolean;
  dhcp6?: 'stateless' | 'stateful';
  ra?: { send?: boolean; managed?: boolean; other?: boolean };
  vrrp?: CaseVirtual[];
}
interface CaseVirtual {
  group: number;
  addresses: string[];
  priority?: number;
}
type CasePorts = number | [number, number] | { op: 'gt' | 'lt'; from: number };
export interface CaseRule {
  action: 'permit' | 'deny';
  proto?: 'ip' | 'icmp' | 'tcp' | 'udp';
  src?: string;
  dst?: string;
  dport?: CasePorts;
  sport?: CasePorts;
  icmp_type?: number | 'echo-reply';
  established?: boolean;
}

const KIND: Record<CaseNode['kind'], Pick<Model, 'kind' | 'class' | 'forwards' | 'bridges'>> = {
  host: { kind: 'desktop', class: 'end' },
  switch: { kind: 'switch', class: 'intermediary', bridges: 'vlan' },
  hub: { kind: 'hub', class: 'intermediary', bridges: 'hub' },
  router: { kind: 'router', class: 'intermediary', forwards: true },
  l3switch: { kind: 'l3-switch', class: 'intermediary', forwards: true, bridges: 'vlan' },
};

/** Reads the network of a case file. Every node gets a model of its own with just its ports. */
export function readCase(source: CaseTopology): Topology {
  const topology = emptyTopology();
  topology.title = source.family;
  topology.models = {};
  for (const [at, node] of source.nodes.entries()) {
    refuseUnknown(node.id, node, NODE_KEYS);
    for (const port of node.interfaces) refuseUnknown(`${node.id} ${port.name}`, port, PORT_KEYS);
    const model = `case-${node.id}`;
    topology.models[model] = {
      name: node.kind,
      ...KIND[node.kind],
      ports: node.interfaces.map((port) => portFacts(node, port)),
    };
    const bundleOf = (port: CaseInterface) => node.bundles?.find(({ members }) => members.includes(port.name));
    const ports = entriesToMap(
      node.interfaces.map((port) => [port.name, portConfig(node, { ...port, ...bundledAs(bundleOf(port)) })]),
    );
    const interfaces = entriesToMap(
      node.interfaces.flatMap((port) => (bundleOf(port) ? [] : interfacesOf(node, port, source.set))),
    );
    for (const { name, addresses } of node.bundles ?? [])
      if (addresses) interfaces[name] = { on: { kind: 'bundle', bundle: name }, ...addressing(addresses) };
    for (const { name, addresses } of node.loopbacks ?? [])
      interfaces[name] = { on: { kind: 'loopback' }, ...addressing(addresses) };
    for (const svi of node.svis ?? [])
      interfaces[`vlan${svi.vlan}`] = {
        on: { kind: 'svi', vlan: svi.vlan },
        ...enabled(svi.up),
        ...addressing(svi.addresses),
      };
    attachProtocols(node, interfaces);
    const settings = settingsOf(node, source);
    topology.devices[node.id] = {
      name: node.id,
      model,
      at: { x: (at % 6) * 160, y: Math.floor(at / 6) * 120 },
      ...(Object.keys(ports).length && { ports }),
      ...(Object.keys(interfaces).length && { interfaces }),
      ...(Object.keys(settings).length && { settings }),
    };
  }
  for (const [at, link] of source.links.entries())
    topology.links[`l${at}`] = {
      a: { device: link.a[0], port: link.a[1] },
      b: { device: link.b[0], port: link.b[1] },
      medium: 'straight',
      ...(link.up === false && { broken: true }),
    };
  return topology;
}

/** What is not read would be missing from the network without a word. */
function refuseUnknown(where: string, object: object, known: ReadonlySet<string>): void {
  for (const key of Object.keys(object)) if (!known.has(key)) throw new Error(`${where}: "${key}" is not read.`);
}
const NODE_KEYS: ReadonlySet<string> = new Set<keyof CaseNode>([
  'id',
  'kind',
  'interfaces',
  'gateway4',
  'gateway6',
  'default4',
  'default6',
  'stp',
  'stp_priority',
  'svis',
  'static_routes',
  'bundles',
  'loopbacks',
  'ospf',
  'ospf6',
  'rip',
  'dhcp_server',
  'dhcp6_server',
  'dhcp_relay',
  'filters',
  'nat',
]);
const PORT_KEYS: ReadonlySet<string> = new Set<keyof CaseInterface>([
  'name',
  'up',
  'mac',
  'addresses',
  'dhcp',
  'mode',
  'vlan',
  'allowed',
  'native',
  'subinterfaces',
  'stp_cost',
  'stp_priority',
  'slaac',
  'dhcp6',
  'ra',
  'vrrp',
]);

/** How a port is set that is one of a bundle: as the bundle. */
function bundledAs(bundle: NonNullable<CaseNode['bundles']>[number] | undefined): Partial<CaseInterface> {
  if (!bundle) return {};
  const { name: _name, members: _members, protocol: _protocol, addresses: _addresses, ...switching } = bundle;
  return switching;
}

const isBridged = (node: CaseNode, port: CaseInterface): boolean =>
  node.kind === 'switch' || (node.kind === 'l3switch' && port.mode !== 'routed');
const enabled = (up: boolean | undefined): { enabled?: false } => (up === false ? { enabled: false } : {});
const entriesToMap = <T>(entries: [string, T | null][]): Record<string, T> =>
  Object.fromEntries(entries.filter((entry): entry is [string, T] => entry[1] !== null));

const portFacts = (node: CaseNode, port: CaseInterface): PortFacts => ({
  key: port.name,
  connector: 'copper',
  speeds: [1000],
  pairing: 'mdi',
  auto: true,
  ...((node.kind === 'switch' || node.kind === 'l3switch') && { switched: true }),
});

function portConfig(node: CaseNode, port: CaseInterface): PortConfig | null {
  const config: PortConfig = { ...enabled(port.up), ...(port.mac && { mac: port.mac }) };
  if (isBridged(node, port))
    config.role =
      port.mode === 'trunk'
        ? {
            kind: 'switched',
            mode: 'trunk',
            allowed: port.allowed ?? 'all',
            ...(port.native !== undefined && { native: port.native }),
          }
        : {
            kind: 'switched',
            mode: 'access',
            ...(port.vlan !== undefined && { accessVlan: port.vlan }),
          };
  else if (node.kind === 'l3switch') config.role = { kind: 'routed' };
  if (port.stp_cost !== undefined || port.stp_priority !== undefined)
    config.stp = {
      ...(port.stp_cost !== undefined && { cost: port.stp_cost }),
      ...(port.stp_priority !== undefined && { priority: port.stp_priority }),
    };
  return Object.keys(config).length ? config : null;
}

function addressing(addresses: readonly string[] | undefined, dhcp?: boolean): Pick<Interface, 'v4' | 'v6'> {
  const [v4, v6] = [
    (addresses ?? []).filter((address) => !address.includes(':')),
    (addresses ?? []).filter((address) => address.includes(':')),
  ];
  return {
    ...(dhcp ? { v4: { dhcp: true } } : v4.length && { v4: { addresses: v4 } }),
    ...(v6.length && { v6: { addresses: v6 } }),
  };
}

function interfacesOf(node: CaseNode, port: CaseInterface, set = 1): [string, Interface][] {
  if (isBridged(node, port) || node.kind === 'hub') return [];
  const { v4, v6 } = addressing(port.addresses, port.dhcp);
  const speaks6 = Boolean(v6) || port.slaac || port.dhcp6 !== undefined;
  // In the second set routers are silent unless they are told to speak.
  const ra = node.kind === 'router' && set === 2 && speaks6 ? { ra: { send: false, ...port.ra } } : {};
  const auto = { ...(port.slaac && { slaac: true }), ...(port.dhcp6 && { dhcp: port.dhcp6 }) };
  return [
    [
      port.name,
      {
        on: { kind: 'port', port: port.name },
        ...(v4 && { v4 }),
        ...(speaks6 && { v6: { ...v6, ...auto, ...ra } }),
        ...virtuals(port.vrrp),
      },
    ],
    ...(port.subinterfaces ?? []).map((sub): [string, Interface] => [
      `${port.name}.${sub.vlan}`,
      {
        on: { kind: 'sub', port: port.name, vlan: sub.vlan },
        ...enabled(sub.up),
        ...addressing(sub.addresses),
        ...virtuals(sub.vrrp),
      },
    ]),
  ];
}
const virtuals = (vrrp: readonly CaseVirtual[] | undefined): Pick<Interface, 'vrrp'> =>
  vrrp?.length ? { vrrp: vrrp.map((virtual) => ({ ...virtual })) } : {};

/** What the case says beside the interfaces goes to the interfaces themselves. */
function attachProtocols(node: CaseNode, interfaces: Record<string, Interface>): void {
  const change = (name: string, set: Partial<Interface>): void => {
    const config = interfaces[name];
    if (config) interfaces[name] = { ...config, ...set };
  };
  for (const name of node.ospf?.passive ?? []) change(name, { ospf: { passive: true } });
  for (const [name, cost] of Object.entries(node.ospf?.costs ?? {}))
    change(name, { ospf: { ...interfaces[name]?.ospf, cost } });
  for (const [name, area] of Object.entries(node.ospf6?.interfaces ?? {}))
    change(name, { ospf6: { area: Number(area) } });
  for (const name of node.ospf6?.passive ?? []) change(name, { ospf6: { ...interfaces[name]?.ospf6, passive: true } });
  for (const [name, cost] of Object.entries(node.ospf6?.costs ?? {}))
    change(name, { ospf6: { ...interfaces[name]?.ospf6, cost } });
  for (const name of node.rip?.passive ?? []) change(name, { rip: { passive: true } });
  for (const { interface: name, server } of node.dhcp_relay ?? [])
    change(name, { relays: [...(interfaces[name]?.relays ?? []), server] });
  for (const [at, filter] of (node.filters ?? []).entries())
    change(filter.interface, { [`filter${filter.direction === 'in' ? 'In' : 'Out'}${filter.family ?? 4}`]: `f${at}` });
  for (const name of node.nat?.inside ?? []) change(name, { natSide: 'inside' });
  if (node.nat) change(node.nat.outside, { natSide: 'outside' });
}

function settingsOf(node: CaseNode, source: CaseTopology): Settings {
  const routes = [
    ...(node.static_routes ?? []).map((route) => ({
      prefix: route.prefix,
      ...(route.via !== 'null' && { via: route.via }),
      ...(route.distance !== undefined && { distance: route.distance }),
    })),
    ...(node.default4 ? [{ prefix: '0.0.0.0/0', via: node.default4 }] : []),
    ...(node.default6 ? [{ prefix: '::/0', via: node.default6 }] : []),
  ];
  const listening = (['tcp', 'udp'] as const).flatMap((protocol) =>
    (source.tests?.[protocol] ?? [])
      .filter((test) => test.to === node.id && test.listen !== false)
      .map(({ at, port }) => [`${protocol}-${at ?? port}`, { enabled: true, port: at ?? port }] as const),
  );
  return {
    ...(node.gateway4 && { gateway4: node.gateway4 }),
    ...(node.gateway6 && { gateway6: node.gateway6 }),
    ...(routes.length && { routes }),
    ...((node.stp !== undefined || node.stp_priority !== undefined) && {
      spanningTree: {
        ...(node.stp !== undefined && { on: node.stp }),
        ...(node.stp_priority !== undefined && { priority: node.stp_priority }),
      },
    }),
    ...(node.bundles?.length && {
      bundles: Object.fromEntries(node.bundles.map(({ name, members, protocol }) => [name, { members, protocol }])),
    }),
    ...(node.ospf && { ospf: readOspf(node.ospf) }),
    // The program that was measured tells a default into not-so-stubby areas of OSPFv2 only.
    ...(node.ospf6 && { ospf6: readOspf(node.ospf6, false) }),
    ...(node.rip && {
      rip: {
        ...(node.rip.networks && { networks: node.rip.networks }),
        ...(node.rip.redistribute && { redistribute: node.rip.redistribute }),
        ...(node.rip.default_originate && { defaultOriginate: true }),
      },
    }),
    ...(node.dhcp_server && {
      dhcpPools: node.dhcp_server.pools.map((pool) => ({
        network: pool.network,
        ranges: [{ from: pool.range[0], to: pool.range[1] }],
        ...(pool.router && { router: pool.router }),
      })),
    }),
    ...(node.dhcp6_server && {
      dhcp6Pools: node.dhcp6_server.pools.map(({ network, range: [from, to] }) => ({
        network,
        ranges: [{ from, to }],
      })),
    }),
    ...(node.filters?.length && {
      filters: Object.fromEntries(
        node.filters.map(({ family = 4, rules }, at) => [
          `f${at}`,
          { family, rules: rules.map((rule) => readRule(rule, family)) },
        ]),
      ),
    }),
    ...(node.nat && { nat: readTranslations(node.nat) }),
    ...(listening.length && { services: Object.fromEntries(listening) }),
  };
}

const readOspf = (ospf: CaseOspf, announceDefault = true): NonNullable<Settings['ospf']> => ({
  ...(ospf.router_id && { routerId: ospf.router_id }),
  ...(ospf.networks && { networks: ospf.networks.map(({ prefix, area }) => ({ prefix, area: Number(area) })) }),
  ...(ospf.areas && {
    areas: entriesToMap(
      Object.entries(ospf.areas).map(([area, type]) => [area, { type, ...(!announceDefault && { announceDefault }) }]),
    ),
  }),
  ...(ospf.redistribute && { redistribute: ospf.redistribute }),
  ...(ospf.external_type && { externalType: ospf.external_type }),
  ...(ospf.default_originate && {
    defaultOriginate: ospf.default_originate === 'always' ? ('always' as const) : ('if-present' as const),
  }),
});

const readTranslations = ({ outside: outsideInterface, rules }: NonNullable<CaseNode['nat']>): Settings['nat'] =>
  (rules ?? [{ kind: 'overload' as const }]).map(
    ({ kind, inside, outside, proto, inside_port, outside_port, sources, pool }) => ({
      kind,
      ...(!outside && { outsideInterface }),
      ...(inside && { inside }),
      ...(outside && { outside }),
      ...(proto && { proto }),
      ...(inside_port && { insidePort: inside_port }),
      ...(outside_port && { outsidePort: outside_port }),
      ...(sources && { sources }),
      ...(pool && { pool: { from: pool[0], to: pool[1] } }),
    }),
  );

const matcher = (text: string | undefined): FilterRule['src'] =>
  text === undefined || text === 'any' ? { kind: 'any' } : { kind: 'prefix', prefix: text };
const readPorts = (ports: CasePorts): NonNullable<FilterRule['dstPorts']> => {
  if (typeof ports === 'number') return { op: 'eq', from: ports };
  return Array.isArray(ports) ? { op: 'range', from: ports[0], to: ports[1] } : ports;
};
/** Types that are named, of ICMP (RFC 792) and of ICMPv6 (RFC 4443). */
const NAMED_TYPES = { 'echo-reply': { 4: 0, 6: 129 } } as const;
const readRule = (rule: CaseRule, family: 4 | 6): FilterRule => ({
  action: rule.action,
  proto: rule.proto ?? 'ip',
  src: matcher(rule.src),
  dst: matcher(rule.dst),
  ...(rule.dport !== undefined && { dstPorts: readPorts(rule.dport) }),
  ...(rule.sport !== undefined && { srcPorts: readPorts(rule.sport) }),
  ...(rule.icmp_type !== undefined && {
    icmpType: typeof rule.icmp_type === 'number' ? rule.icmp_type : NAMED_TYPES[rule.icmp_type][family],
  }),
  ...(rule.established && { established: true }),
});

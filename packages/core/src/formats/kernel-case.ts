import {
  type Interface,
  type Model,
  type PortConfig,
  type PortFacts,
  type Settings,
  type Topology,
  type FilterRule,
  emptyTopology,
  entriesById,
} from '../topology';

/**
 * Reader and writer of networks with measured answers ("oracle-case/1"). They prove that a topology document holds all
 * that such a network says: what is read can be written back without loss.
 */
export interface CaseFile {
  format: 'oracle-case/1';
  topology: CaseTopology;
  expected: {
    /** For a failure: why, who said so, and 1 where the request had arrived. */
    pings: [string, string, string, 'ok' | 'fail', string?, (string | null)?, number?][];
    excluded: [string, string, string][];
    tcp?: [string, string, string, number, 'open' | 'refused' | 'timeout' | 'unreachable'][];
    /** By router: prefix, next hops or "connected" or "blackhole", protocol. */
    routes?: Record<string, [string, string[], string][]>;
    /** By "device.interface". */
    leases?: Record<string, { address: string; router: string | null } | null>;
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
  nodes: CaseNode[];
  links: { a: [string, string]; b: [string, string]; up?: boolean }[];
  tests?: { tcp?: { from: string; to: string; address: string; port: number; listen?: boolean }[] };
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
  ospf?: {
    router_id?: string;
    networks?: { prefix: string; area: number | string }[];
    passive?: string[];
    costs?: Record<string, number>;
    redistribute?: ('connected' | 'static')[];
    default_originate?: boolean;
  };
  rip?: {
    version: number;
    networks?: string[];
    passive?: string[];
    redistribute?: ('connected' | 'static')[];
    default_originate?: boolean;
  };
  dhcp_server?: { pools: { network: string; range: [string, string]; router?: string | null }[] };
  dhcp_relay?: { interface: string; server: string }[];
  filters?: { interface: string; direction: 'in' | 'out'; family?: 4 | 6; rules: CaseRule[] }[];
  nat?: { inside: string[]; outside: string };
}
interface CaseInterface {
  name: string;
  up?: boolean;
  mac?: string;
  addresses?: string[];
  dhcp?: boolean;
  mode?: 'access' | 'trunk' | 'routed';
  vlan?: number;
  allowed?: 'all' | number[];
  native?: number;
  subinterfaces?: { vlan: number; addresses?: string[]; up?: boolean }[];
}
interface CaseRule {
  action: 'permit' | 'deny';
  proto?: 'ip' | 'icmp' | 'tcp' | 'udp';
  src?: string;
  dst?: string;
  dport?: number;
  sport?: number;
  icmp_type?: number;
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
    const model = `case-${node.id}`;
    topology.models[model] = {
      name: node.kind,
      ...KIND[node.kind],
      ports: node.interfaces.map((port) => portFacts(node, port)),
    };
    const ports = entriesToMap(node.interfaces.map((port) => [port.name, portConfig(node, port)]));
    const interfaces = entriesToMap(node.interfaces.flatMap((port) => interfacesOf(node, port)));
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

function interfacesOf(node: CaseNode, port: CaseInterface): [string, Interface][] {
  if (isBridged(node, port) || node.kind === 'hub') return [];
  return [
    [port.name, { on: { kind: 'port', port: port.name }, ...addressing(port.addresses, port.dhcp) }],
    ...(port.subinterfaces ?? []).map((sub): [string, Interface] => [
      `${port.name}.${sub.vlan}`,
      {
        on: { kind: 'sub', port: port.name, vlan: sub.vlan },
        ...enabled(sub.up),
        ...addressing(sub.addresses),
      },
    ]),
  ];
}

/** What the case says beside the interfaces goes to the interfaces themselves. */
function attachProtocols(node: CaseNode, interfaces: Record<string, Interface>): void {
  const change = (name: string, set: Partial<Interface>): void => {
    const config = interfaces[name];
    if (config) interfaces[name] = { ...config, ...set };
  };
  for (const name of node.ospf?.passive ?? []) change(name, { ospf: { passive: true } });
  for (const [name, cost] of Object.entries(node.ospf?.costs ?? {}))
    change(name, { ospf: { ...interfaces[name]?.ospf, cost } });
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
  const listening = (source.tests?.tcp ?? []).filter((test) => test.to === node.id && test.listen !== false);
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
    ...(node.ospf && {
      ospf: {
        ...(node.ospf.router_id && { routerId: node.ospf.router_id }),
        ...(node.ospf.networks && {
          networks: node.ospf.networks.map(({ prefix, area }) => ({ prefix, area: Number(area) })),
        }),
        ...(node.ospf.redistribute && { redistribute: node.ospf.redistribute }),
        ...(node.ospf.default_originate && { defaultOriginate: 'if-present' as const }),
      },
    }),
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
    ...(node.filters?.length && {
      filters: Object.fromEntries(
        node.filters.map((filter, at) => [`f${at}`, { family: filter.family ?? 4, rules: filter.rules.map(readRule) }]),
      ),
    }),
    ...(node.nat && { nat: [{ kind: 'overload' as const, outsideInterface: node.nat.outside }] }),
    ...(listening.length && {
      services: Object.fromEntries(listening.map((test) => [`tcp-${test.port}`, { enabled: true, port: test.port }])),
    }),
  };
}

const matcher = (text: string | undefined): FilterRule['src'] =>
  text === undefined || text === 'any' ? { kind: 'any' } : { kind: 'prefix', prefix: text };
const single = (port: number): FilterRule['dstPorts'] => ({ op: 'eq', from: port });
const readRule = (rule: CaseRule): FilterRule => ({
  action: rule.action,
  proto: rule.proto ?? 'ip',
  src: matcher(rule.src),
  dst: matcher(rule.dst),
  ...(rule.dport !== undefined && { dstPorts: single(rule.dport) }),
  ...(rule.sport !== undefined && { srcPorts: single(rule.sport) }),
  ...(rule.icmp_type !== undefined && { icmpType: rule.icmp_type }),
  ...(rule.established && { established: true }),
});

/** Writes the nodes and links of a topology that was read from a case, with every default said. */
export function writeCase(topology: Topology): Pick<CaseTopology, 'nodes' | 'links'> {
  const nodes = entriesById(topology.devices).map(([id, device]): CaseNode => {
    const model = topology.models![device.model]!;
    const kind = model.name as CaseNode['kind'];
    const interfaces = device.interfaces ?? {};
    const named = (accept: (interfaceConfig: Interface) => boolean): string[] =>
      entriesById(interfaces)
        .filter(([, interfaceConfig]) => accept(interfaceConfig))
        .map(([name]) => name);
    const settings = device.settings ?? {};
    const { routes = [], ospf, rip } = settings;
    const costs = entriesById(interfaces).flatMap(([name, interfaceConfig]): [string, number][] =>
      interfaceConfig.ospf?.cost === undefined ? [] : [[name, interfaceConfig.ospf.cost]],
    );
    const node: CaseNode = {
      id,
      kind,
      interfaces: model.ports.map((port) => writeInterface(device.ports?.[port.key], port.key, interfaces)),
    };
    if (settings.gateway4) node.gateway4 = settings.gateway4;
    if (settings.gateway6) node.gateway6 = settings.gateway6;
    if (settings.spanningTree?.on !== undefined) node.stp = settings.spanningTree.on;
    if (settings.spanningTree?.priority !== undefined) node.stp_priority = settings.spanningTree.priority;
    node.svis = entriesById(interfaces).flatMap(([, interfaceConfig]) =>
      interfaceConfig.on.kind === 'svi'
        ? [
            {
              vlan: interfaceConfig.on.vlan,
              addresses: addressesOf(interfaceConfig),
              up: interfaceConfig.enabled !== false,
            },
          ]
        : [],
    );
    node.static_routes = routes.map((route) => ({
      prefix: route.prefix,
      via: route.via ?? 'null',
      distance: route.distance ?? 1,
    }));
    if (ospf)
      node.ospf = {
        router_id: ospf.routerId,
        networks: ospf.networks ?? [],
        passive: named((interfaceConfig) => interfaceConfig.ospf?.passive === true),
        costs: Object.fromEntries(costs),
        redistribute: (ospf.redistribute ?? []) as ('connected' | 'static')[],
        default_originate: ospf.defaultOriginate !== undefined,
      };
    if (rip)
      node.rip = {
        version: 2,
        networks: rip.networks ?? [],
        passive: named((interfaceConfig) => interfaceConfig.rip?.passive === true),
        redistribute: (rip.redistribute ?? []) as ('connected' | 'static')[],
        default_originate: rip.defaultOriginate ?? false,
      };
    if (settings.dhcpPools)
      node.dhcp_server = {
        pools: settings.dhcpPools.map((pool) => ({
          network: pool.network,
          range: [pool.ranges![0]!.from, pool.ranges![0]!.to],
          router: pool.router ?? null,
        })),
      };
    node.dhcp_relay = entriesById(interfaces).flatMap(([name, interfaceConfig]) =>
      (interfaceConfig.relays ?? []).map((server) => ({ interface: name, server })),
    );
    node.filters = entriesById(interfaces).flatMap(([name, interfaceConfig]) =>
      writeFilters(name, interfaceConfig, settings),
    );
    if (settings.nat?.[0])
      node.nat = {
        inside: named((interfaceConfig) => interfaceConfig.natSide === 'inside'),
        outside: named((interfaceConfig) => interfaceConfig.natSide === 'outside')[0]!,
      };
    return node;
  });
  const links = Object.values(topology.links).map((link) => ({
    a: [link.a.device, link.a.port] as [string, string],
    b: [link.b.device, link.b.port] as [string, string],
    up: !link.broken,
  }));
  return { nodes, links };
}

const addressesOf = (interfaceConfig: Interface | undefined): string[] => [
  ...(interfaceConfig?.v4?.addresses ?? []),
  ...(interfaceConfig?.v6?.addresses ?? []),
];

function writeInterface(
  config: PortConfig | undefined,
  name: string,
  interfaces: Record<string, Interface>,
): CaseInterface {
  const interfaceConfig = interfaces[name];
  const role = config?.role;
  const subs = entriesById(interfaces).flatMap(([, interfaceConfig]) =>
    interfaceConfig.on.kind === 'sub' && interfaceConfig.on.port === name
      ? [
          {
            vlan: interfaceConfig.on.vlan,
            addresses: addressesOf(interfaceConfig),
            up: interfaceConfig.enabled !== false,
          },
        ]
      : [],
  );
  return {
    name,
    up: config?.enabled !== false,
    ...(config?.mac && { mac: config.mac }),
    addresses: addressesOf(interfaceConfig),
    dhcp: interfaceConfig?.v4?.dhcp ?? false,
    subinterfaces: subs,
    ...(role?.kind === 'routed' && { mode: 'routed' as const }),
    ...(role?.kind === 'switched' && role.mode === 'access' && { mode: 'access' as const, vlan: role.accessVlan ?? 1 }),
    ...(role?.kind === 'switched' &&
      role.mode === 'trunk' && { mode: 'trunk' as const, allowed: role.allowed ?? 'all', native: role.native ?? 1 }),
  };
}

function writeFilters(name: string, interfaceConfig: Interface, settings: Settings): NonNullable<CaseNode['filters']> {
  const places = [
    ['in', 4, interfaceConfig.filterIn4],
    ['out', 4, interfaceConfig.filterOut4],
    ['in', 6, interfaceConfig.filterIn6],
    ['out', 6, interfaceConfig.filterOut6],
  ] as const;
  return places.flatMap(([direction, family, id]) => {
    const filter = id === undefined ? undefined : settings.filters?.[id];
    return filter ? [{ interface: name, direction, family, rules: filter.rules.map(writeRule) }] : [];
  });
}

const text = (matcher: FilterRule['src']): string => (matcher.kind === 'prefix' ? matcher.prefix : 'any');
const writeRule = (rule: FilterRule): CaseRule => ({
  action: rule.action,
  proto: rule.proto,
  src: text(rule.src),
  dst: text(rule.dst),
  established: rule.established ?? false,
  ...(rule.dstPorts && { dport: rule.dstPorts.from }),
  ...(rule.srcPorts && { sport: rule.srcPorts.from }),
  ...(rule.icmpType !== undefined && { icmp_type: rule.icmpType }),
});

import { type CaseInterface, type CaseNode, type CaseRule, type CaseTopology } from '../formats/kernel-case';
import {
  type FilterRule,
  type Interface,
  type PortConfig,
  type Settings,
  type Topology,
  entriesById,
} from '../topology';

// Proves that a topology document holds all that a measured network says: what is read is written back without loss.

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

import { formatAddress, formatInterfaceAddress, formatPrefix, contains, subnetOf } from '../../address';
import { byName } from '../../collation';
import { type Instance, instanceId, interfaceMac } from '../devices';
import {
  automaticAddress,
  heardBy,
  leaseKey,
  type Heard,
  type InterfaceState,
  type Node,
  type Route,
  type OspfState,
} from '../network';
import { type NetworkModel } from '../analysis';
import { portId } from '../physical';
import { callOf, isTelephone, registrationOf } from '../services';
import { type Answer } from '../forwarding';

/** What a device knows once everybody has talked to everybody, as rows of plain words and numbers. */
export interface DeviceTables {
  readonly device: string;
  readonly interfaces: readonly {
    name: string;
    up: boolean;
    /** Why it is down. */
    reason: string | null;
    mac: string;
    addresses: readonly string[];
    /** Its IPv6 address for the link alone. */
    linkLocal: string | null;
    lease: { address: string; router: string | null; server: string } | null;
    /** What it takes by itself where it wants a lease and no server answers; of use on its own wire only. */
    automatic: string | null;
  }[];
  /** Devices at the other ends of its links that are up. */
  readonly neighbours: readonly { port: string; device: string; remotePort: string }[];
  readonly macTable: readonly Heard[];
  readonly arp: readonly ResolvedAddress[];
  readonly nd: readonly ResolvedAddress[];
  readonly routes: readonly {
    prefix: string;
    via: string | null;
    interface: string | null;
    source: Route['source'];
    distance: number;
    metric: number;
    why: string;
  }[];
  /** Addresses that its pools gave. */
  readonly leases: readonly { address: string; mac: string; device: string; interface: string }[];
  /** Rules of translation in their order. */
  readonly translations: readonly { kind: string; inside: string; outside: string }[];
  /** How a telephone is registered, and what comes of calling the extensions of the others. */
  readonly registration: readonly { extension: string | null; server: string | null; answer: Answer; text: string }[];
  readonly calls: readonly { extension: string; answer: Answer; text: string }[];
  readonly spanningTree: readonly {
    vlans: unknown;
    priority: number;
    mac: string;
    root: string;
    rootCost: number;
    rootPort: string | null;
    ports: readonly { port: string; role: string; cost: number }[];
  }[];
  readonly ospfNeighbours: readonly { device: string; address: string; interface: string; area: number }[];
  /** What it knows of each area it is in: the ids of the routers there, and how many neighbourhoods of two. */
  readonly ospfDatabase: readonly { area: number; routers: readonly string[]; adjacencies: number }[];
  readonly vrrp: readonly {
    interface: string;
    group: number;
    addresses: readonly string[];
    priority: number;
    active: boolean;
  }[];
  /** The same for OSPFv3. */
  readonly ospf6Neighbours: DeviceTables['ospfNeighbours'];
  readonly ospf6Database: DeviceTables['ospfDatabase'];
}
interface ResolvedAddress {
  readonly address: string;
  readonly mac: string;
  readonly interface: string;
  readonly device: string;
}

/**
 * The tables of a device as they are after convergence: MAC addresses, neighbours, routes, leases and the others it
 * keeps. Throws for an id that is no instance.
 */
export function tablesOf(model: NetworkModel, id: string): DeviceTables {
  const node = model.layer3.nodes.get(id)!;
  const { instance } = node;
  const name = (other: string): string => model.instances.get(other)?.name ?? other;
  const three = ospfTables(model.layer3.ospf6, id);
  const routes = node.table.all();
  const equal = new Map<string, number>();
  for (const { prefix } of routes) equal.set(formatPrefix(prefix), (equal.get(formatPrefix(prefix)) ?? 0) + 1);
  return {
    device: instance.name,
    interfaces: node.interfaceStates.map((interfaceState) => {
      const lease =
        model.layer3.leases.get(leaseKey(id, interfaceState.key)) ??
        model.layer3.leases.get(leaseKey(id, interfaceState.key, 6));
      return {
        name: interfaceState.key,
        up: interfaceState.up,
        reason: interfaceState.up ? null : whyDown(model, node, interfaceState),
        mac: interfaceMac(instance, interfaceState),
        addresses: interfaceState.addresses.map(formatInterfaceAddress),
        linkLocal: interfaceState.linkLocal && formatAddress(interfaceState.linkLocal),
        lease: lease
          ? {
              address: formatInterfaceAddress(lease.address),
              router: lease.router && formatAddress(lease.router),
              server: name(lease.server),
            }
          : null,
        automatic:
          interfaceState.up &&
          interfaceState.config.v4?.dhcp &&
          !model.layer3.leases.has(leaseKey(id, interfaceState.key))
            ? formatInterfaceAddress(automaticAddress(interfaceMac(instance, interfaceState)))
            : null,
      };
    }),
    neighbours: neighboursOf(model, id),
    macTable: heardBy(model.topology, model.layer2, model.layer3.nodes, node.instance),
    arp: resolvedBy(model, node, 4),
    nd: resolvedBy(model, node, 6),
    routes: routes.map((route) => ({
      prefix: formatPrefix(route.prefix),
      via: route.via && formatAddress(route.via),
      interface: route.out?.key ?? null,
      source: route.source,
      distance: route.distance,
      metric: route.metric,
      why: whyRoute(route, equal.get(formatPrefix(route.prefix))!),
    })),
    leases: [...model.layer3.leases.values()].flatMap(({ server, address, client }) => {
      if (server !== id) return [];
      const holder = model.layer3.nodes.get(client.device)!;
      const mac = interfaceMac(
        holder.instance,
        holder.interfaceStates.find((interfaceState) => interfaceState.key === client.interface)!,
      );
      return [
        { address: formatAddress(address.address), mac, device: name(client.device), interface: client.interface },
      ];
    }),
    translations: (instance.settings.nat ?? []).map(({ kind, inside, outside, sources, pool, ...rule }) => ({
      kind,
      inside: inside ? `${inside}${rule.insidePort ? ` port ${rule.insidePort}` : ''}` : (sources?.join(', ') ?? 'any'),
      outside: `${outside ?? (pool ? `${pool.from} to ${pool.to}` : (rule.outsideInterface ?? 'its outside interface'))}${rule.outsidePort ? ` port ${rule.outsidePort}` : ''}`,
    })),
    ...telephone(model, instance),
    spanningTree: model.layer2.tree.trees.flatMap(({ vlans, bridges, ports }) => {
      const bridge = bridges.get(id);
      if (!bridge) return [];
      return [
        {
          vlans,
          priority: bridge.priority,
          mac: bridge.mac,
          root: name(bridge.root),
          rootCost: bridge.rootCost,
          rootPort: bridge.rootPort,
          ports: [...ports.values()]
            .filter((port) => port.instance === id)
            .map(({ port, role, cost }) => ({ port, role, cost })),
        },
      ];
    }),
    ...ospfTables(model.layer3.ospf, id),
    vrrp: model.layer3.interfaces.vrrp.flatMap(({ interfaceState, group, addresses, priority, isActive }) =>
      interfaceState.instance === id
        ? [
            {
              interface: interfaceState.key,
              group,
              addresses: addresses.map(formatAddress),
              priority,
              active: isActive,
            },
          ]
        : [],
    ),
    ospf6Neighbours: three.ospfNeighbours,
    ospf6Database: three.ospfDatabase,
  };
}

function telephone(model: NetworkModel, instance: Instance): Pick<DeviceTables, 'registration' | 'calls'> {
  if (!isTelephone(instance)) return { registration: [], calls: [] };
  const extension = instance.settings.telephony?.extension ?? null;
  const { answer, server, text } = registrationOf(model, instance.id);
  const others = [...model.instances.values()].flatMap((instance) => instance.settings.telephony?.extension ?? []);
  return {
    registration: [{ extension, server: server && model.instances.get(server)!.name, answer, text }],
    calls: [...new Set(others)]
      .filter((other) => other !== extension)
      .sort(byName)
      .map((other) => {
        const call = callOf(model, instance.id, other);
        return { extension: other, answer: call.answer, text: call.text };
      }),
  };
}

function whyDown({ layer1, topology }: NetworkModel, { instance }: Node, { config }: InterfaceState): string {
  const dark = layer1.unpowered.get(instance.id);
  if (dark) return dark.text;
  if (config.enabled === false) return 'It is shut.';
  const { on } = config;
  if (on.kind === 'svi') return `No port that is up carries VLAN ${on.vlan}.`;
  if (on.kind === 'bundle') return 'Its bundle is not formed.';
  if (on.kind === 'loopback' || on.kind === 'tunnel') return 'It is not computed.';
  const [link] = layer1.atPort.get(portId(instance.id, on.port)) ?? [];
  if (link === undefined || !topology.links[link]) return 'Nothing is plugged in.';
  return layer1.links.get(link)?.reason?.text ?? 'Its port is part of a switch.';
}

const SOURCES: Readonly<Record<Route['source'], string>> = {
  connected: 'connected',
  static: 'set by hand',
  gateway: 'the gateway that is set',
  dhcp: 'a lease told the way out',
  ospf: 'learnt by OSPF',
  rip: 'learnt by RIP',
  ra: 'advertised by a router',
};
function whyRoute(route: Route, equal: number): string {
  return [
    SOURCES[route.source],
    `distance ${route.distance}`,
    ...(route.metric ? [`cost ${route.metric}`] : []),
    ...(route.unstable ? ['not certain'] : []),
    ...(equal > 1 ? [`one of ${equal} equal ways`] : []),
  ].join(', ');
}

const neighboursOf = ({ layer1, instances }: NetworkModel, id: string): DeviceTables['neighbours'] =>
  [...instances.get(id)!.ports.keys()].flatMap((port) =>
    (layer1.atPort.get(portId(id, port)) ?? []).flatMap((link) => {
      if (!layer1.links.get(link)?.up) return [];
      const { a, b } = layer1.channelOf.get(link)!;
      const there = instanceId(a) === id && a.port === port ? b : a;
      const other = instances.get(instanceId(there));
      return other ? [{ port, device: other.name, remotePort: there.port }] : [];
    }),
  );

/** Everybody on the wires of the device's interfaces with an address in a subnet of its own. */
function resolvedBy({ instances, layer2, layer3 }: NetworkModel, node: Node, family: 4 | 6): ResolvedAddress[] {
  return node.interfaceStates.flatMap((mine) => {
    const subnets = mine.addresses.filter((on) => on.address.family === family).map(subnetOf);
    if (!mine.up || mine.point === null || !subnets.length) return [];
    return [...layer3.nodes.values()].flatMap((other) =>
      other === node
        ? []
        : other.interfaceStates.flatMap((theirs) => {
            if (!theirs.up || theirs.point === null) return [];
            const near = theirs.addresses.filter(
              ({ address }) => address.family === family && subnets.some((subnet) => contains(subnet, address)),
            );
            if (!near.length || !layer2.meets(mine.point!, theirs.point)) return [];
            const { instance } = other;
            return near.map(({ address }) => ({
              address: formatAddress(address),
              mac: interfaceMac(instance, theirs),
              interface: mine.key,
              device: instances.get(instance.id)!.name,
            }));
          }),
    );
  });
}

function ospfTables(
  { adjacencies, interfaces: interfaces, routerIds }: OspfState,
  id: string,
): Pick<DeviceTables, 'ospfNeighbours' | 'ospfDatabase'> {
  const areas = [
    ...new Set(
      interfaces
        .filter((interfaceConfig) => interfaceConfig.node.instance.id === id)
        .map((interfaceConfig) => interfaceConfig.area),
    ),
  ];
  return {
    ospfNeighbours: adjacencies.flatMap(({ a, b }) =>
      [[a, b] as const, [b, a] as const].flatMap(([mine, other]) =>
        mine.node.instance.id === id
          ? [
              {
                device: other.node.instance.name,
                address: formatAddress(other.address),
                interface: mine.interfaceState.key,
                area: mine.area,
              },
            ]
          : [],
      ),
    ),
    ospfDatabase: areas
      .sort((a, b) => a - b)
      .map((area) => {
        const inside = adjacencies.filter((adjacency) => adjacency.a.area === area);
        const known = new Set([id]);
        for (const at of known)
          for (const { a, b } of inside) {
            const ends = [a.node.instance.id, b.node.instance.id];
            if (ends.includes(at)) for (const end of ends) known.add(end);
          }
        return {
          area,
          routers: [...known].map((router) => routerIds.get(router) ?? '').sort(),
          adjacencies: inside.filter((adjacency) => known.has(adjacency.a.node.instance.id)).length,
        };
      }),
  };
}

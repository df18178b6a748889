import {
  type InterfaceAddress,
  type Prefix,
  comparePrefixes,
  contains,
  formatAddress,
  formatInterfaceAddress,
  formatPrefix,
  isLinkLocal,
  overlaps,
  parseAddress,
  parseAddressOf,
  parseMac,
  parsePrefix,
  samePrefix,
  subnetOf,
} from '../../address';
import { entriesById, entryOf } from '../../topology';
import { realmsOf } from '../forwarding';
import { type InterfaceState, type Node } from '../network';
import { type Instance, forwards, instanceId, type Reason } from '../devices';
import { type NetworkModel } from '../analysis';
import { namesNothing } from './references';
import { transitVlans } from './service-lints';

/**
 * What is unlikely to be meant although every single value can be read: masks and gateways that do not go together,
 * subnets on two wires, names that differ, VLANs that end at one switch, pools nobody asks. In a fixed order.
 */
export function lintsOf(model: NetworkModel): Reason[] {
  return [
    ...unconnected(model),
    ...hostnames(model),
    ...vlansMissing(model),
    ...trunksDiffering(model),
    ...prefixes(model),
    ...subnetsTwice(model),
    ...gateways(model),
    ...pools(model),
    ...openAccess(model),
    ...namesNothing(model),
  ];
}

const MOST_NAMES = 4;
/** Devices that nothing is plugged into, told once for all of them, and only where cabling has begun. */
function unconnected({ topology, instances }: NetworkModel): Reason[] {
  const links = Object.values(topology.links);
  // Of a tile of several hosts each has a cable of its own.
  const plugged = new Set(links.flatMap(({ a, b }) => [instanceId(a), instanceId(b)]));
  const alone = [...instances.values()].filter((instance) => !plugged.has(instance.id));
  if (!links.length || !alone.length) return [];
  const names = alone.slice(0, MOST_NAMES).map((instance) => instance.name);
  const more = alone.length - names.length;
  const text = `${names.join(', ')}${more ? ` and ${more} more` : ''} ${alone.length === 1 ? 'is' : 'are'} connected to nothing.`;
  return [{ code: 'NOT_CONNECTED', text, at: { device: alone[0]!.id } }];
}

const hostnames = ({ topology }: NetworkModel): Reason[] =>
  entriesById(topology.devices).flatMap(([device, { name, settings }]): Reason[] =>
    settings?.hostname === undefined || settings.hostname === name
      ? []
      : [{ code: 'HOSTNAME_DIFFERS', text: `${name} calls itself "${settings.hostname}".`, at: { device } }],
  );

/** Where VLANs must be created: ports in a VLAN that their switch does not have drop every frame. */
function vlansMissing({ topology, instances, options }: NetworkModel): Reason[] {
  if (options.vlanPolicy === 'implicit') return [];
  return [...instances.values()].flatMap((instance) => {
    const missing = new Map<number, string>();
    for (const { key, config, switched } of instance.ports.values()) {
      const { role } = config;
      if (!switched || role?.kind !== 'switched') continue;
      for (const vlan of [role.accessVlan, role.voiceVlan])
        if (vlan !== undefined && vlan !== 1 && entryOf(instance.settings.vlans, String(vlan)) === undefined)
          missing.set(vlan, missing.get(vlan) ?? key);
    }
    const between = transitVlans(topology, instance).filter((vlan) => !missing.has(vlan));
    return [
      ...between.map((vlan): Reason => ({
        code: 'VLAN_NOT_CREATED',
        text: `${instance.name} stands between switches that use VLAN ${vlan}, which does not exist on ${instance.name}: create it.`,
        at: { device: instance.id, vlan },
      })),
      ...[...missing].map(([vlan, port]): Reason => ({
        code: 'VLAN_NOT_CREATED',
        text: `${instance.name} ${port} is in VLAN ${vlan}, which does not exist on ${instance.name}: create it.`,
        at: { device: instance.id, port, vlan },
      })),
    ];
  });
}

/** Trunks whose two ends let different lists of VLANs through. */
function trunksDiffering({ instances, layer1 }: NetworkModel): Reason[] {
  const allowed = (end: { device: string; port: string }): readonly number[] | null => {
    const port = instances.get(end.device)?.ports.get(end.port);
    const role = port?.switched ? port.config.role : undefined;
    return role?.kind === 'switched' && role.mode === 'trunk' && Array.isArray(role.allowed) ? role.allowed : null;
  };
  return layer1.channels.flatMap(({ id: link, a, b }): Reason[] => {
    const [here, there] = [allowed(a), allowed(b)];
    if (!here || !there) return [];
    const only = (list: readonly number[], other: readonly number[]) => list.filter((vlan) => !other.includes(vlan));
    const [first, second] = [only(here, there), only(there, here)];
    if (!first.length && !second.length) return [];
    const name = (end: typeof a): string => `${instances.get(end.device)!.name} ${end.port}`;
    const [more, less, vlans] = first.length ? [a, b, first] : [b, a, second];
    return [
      {
        code: 'TRUNK_WITHOUT_VLAN',
        text: `${name(more)} carries VLAN ${vlans.join(', ')}, ${name(less)} at the other end does not.`,
        at: { link },
      },
    ];
  });
}

interface On {
  node: Node;
  interfaceState: InterfaceState;
  on: InterfaceAddress;
}
/** Addresses by the wire they are heard on. */
function wires({ layer2, layer3 }: NetworkModel): Map<number, On[]> {
  const found = new Map<number, On[]>();
  for (const node of layer3.nodes.values())
    for (const interfaceState of node.interfaceStates) {
      if (interfaceState.point === null) continue;
      const domain = layer2.domainOf(interfaceState.point);
      for (const on of interfaceState.addresses)
        found.set(domain, [...(found.get(domain) ?? []), { node, interfaceState, on }]);
    }
  return found;
}

/** Neighbours on a wire that see subnets of different lengths: the router's holds, else what most of them have. */
function prefixes(model: NetworkModel): Reason[] {
  return [...wires(model).values()].flatMap((list) => {
    const reasons: Reason[] = [];
    for (const entry of list) {
      const others = list.filter(({ on, node }) => node !== entry.node && overlaps(subnetOf(on), subnetOf(entry.on)));
      const wanted = meant([...others, entry]);
      if (!others.length || entry.on.length === wanted) continue;
      const { name } = entry.node.instance;
      reasons.push({
        code: 'PREFIX_DIFFERS',
        text: `${name} ${entry.interfaceState.key} has ${formatInterfaceAddress(entry.on)}, its neighbours on the wire have /${wanted}.`,
        at: { device: entry.node.instance.id, port: entry.interfaceState.key },
      });
    }
    return reasons;
  });
}
function meant(list: readonly On[]): number {
  const router = list.find(({ node }) => forwards(node.instance, 4) || forwards(node.instance, 6));
  if (router) return router.on.length;
  const counts = new Map<number, number>();
  for (const { on } of list) counts.set(on.length, (counts.get(on.length) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1] || a[0] - b[0])[0]![0];
}

/** The same addresses on two wires that are not joined: packets find only one of them. */
function subnetsTwice(model: NetworkModel): Reason[] {
  const realmOf = realmsOf(model);
  const list = [...wires(model)].flatMap(([domain, ons]) => {
    const seen: { prefix: Prefix; domain: number; on: On; realm: number }[] = [];
    for (const on of ons) {
      const prefix = subnetOf(on.on);
      if (!isAutomatic(prefix) && !seen.some((other) => samePrefix(other.prefix, prefix)))
        seen.push({ prefix, domain, on, realm: realmOf(on.interfaceState, prefix.family) });
    }
    return seen;
  });
  list.sort((a, b) => comparePrefixes(a.prefix, b.prefix));
  const reasons: Reason[] = [];
  const open: typeof list = [];
  for (const next of list) {
    while (open.length && !contains(open[open.length - 1]!.prefix, next.prefix)) open.pop();
    const other = open.find((candidate) => candidate.domain !== next.domain && candidate.realm === next.realm);
    open.push(next);
    if (!other) continue;
    const [here, there] = [next.on.node.instance.name, other.on.node.instance.name];
    reasons.push({
      code: 'SUBNET_TWICE',
      text: samePrefix(next.prefix, other.prefix)
        ? `${formatPrefix(next.prefix)} is on two wires that are not joined: at ${there} and at ${here}.`
        : `${formatPrefix(next.prefix)} at ${here} lies inside ${formatPrefix(other.prefix)} at ${there}, on another wire.`,
      at: { device: next.on.node.instance.id, port: next.on.interfaceState.key },
    });
  }
  return reasons;
}
/** What nobody plans: addresses of the link, and those that hosts take where no server answers (169.254.0.0/16, RFC 3927). */
const isAutomatic = (prefix: Prefix): boolean =>
  isLinkLocal(prefix) || (prefix.family === 4 && prefix.value >> 16n === 0xa9fen);

/** Hosts without a gateway beside a router, and gateways that are no router's address. */
function gateways(model: NetworkModel): Reason[] {
  const byWire = wires(model);
  return [...model.layer3.nodes.values()].flatMap((node): Reason[] => {
    const { instance } = node;
    if (instance.model.class !== 'end' || forwards(instance, 4)) return [];
    const mine = node.interfaceStates.flatMap((interfaceState) =>
      interfaceState.point === null ? [] : interfaceState.addresses.map((on) => ({ interfaceState, on })),
    );
    const first = mine.find(({ on }) => on.address.family === 4);
    if (!first) return [];
    const near = (byWire.get(model.layer2.domainOf(first.interfaceState.point!)) ?? []).filter(
      (on) => on.node !== node && contains(subnetOf(first.on), on.on.address),
    );
    const router = near.find((on) => forwards(on.node.instance, 4) && on.node.interfaceStates.length > 1);
    const typed = instance.settings.gateway4;
    // A lease may have told the way out.
    const isTold = node.table.lookup({ family: 4, value: 0n }).length > 0;
    if (!typed)
      return router && !isTold
        ? [
            {
              code: 'NO_GATEWAY',
              text: `${instance.name} has no gateway and reaches its own subnet only: ${router.node.instance.name} stands there with ${formatAddress(router.on.address)}.`,
              at: { device: instance.id },
            },
          ]
        : [];
    const gateway = parseAddressOf(4, typed);
    if (!gateway.ok || !contains(subnetOf(first.on), gateway.value)) return [];
    const owner = near.find((on) => on.on.address.value === gateway.value.value);
    if (owner ? forwards(owner.node.instance, 4) : !router) return [];
    return [
      {
        code: 'GATEWAY_NOT_ROUTER',
        text: owner
          ? `The gateway ${typed} of ${instance.name} is ${owner.node.instance.name}, which does not forward.`
          : `The gateway ${typed} of ${instance.name} is nobody's address: ${router!.node.instance.name} stands there with ${formatAddress(router!.on.address)}.`,
        at: { device: instance.id },
      },
    ];
  });
}

/** DHCP pools for a subnet that the server neither stands in nor is asked from by a relay. */
function pools({ instances, layer3 }: NetworkModel): Reason[] {
  const relays = new Set(
    [...instances.values()].flatMap((instance) =>
      instance.interfaces.flatMap(([, interfaceConfig]) => interfaceConfig.relays ?? []),
    ),
  );
  return [...layer3.nodes.values()].flatMap(({ instance, interfaceStates }) => {
    const own = interfaceStates.flatMap((interfaceState) => interfaceState.addresses);
    const asked = own.some(({ address }) => relays.has(formatAddress(address)));
    const { name, id, settings } = instance;
    const kinds = [
      ['DHCP pool', settings.dhcpPools],
      ['DHCPv6 pool', settings.dhcp6Pools],
    ] as const;
    return kinds.flatMap(([kind, list = []]) =>
      list.flatMap((pool): Reason[] => {
        const network = parsePrefix(pool.network);
        const at = { device: id };
        if (!network.ok) return [{ code: 'ADDRESS_UNREADABLE', text: `${name}, ${kind}: ${network.error.text}`, at }];
        const what = `The ${kind} ${pool.network} of ${name}`;
        const isOwn = asked || own.some((on) => samePrefix(subnetOf(on), network.value));
        return [
          ...(isOwn
            ? []
            : [
                {
                  code: 'POOL_FOREIGN' as const,
                  text: `${what} is for a subnet it does not stand in, and no relay asks it.`,
                  at,
                },
              ]),
          ...(pool.reservations ?? []).flatMap(({ mac, address }): Reason[] => {
            const [read, kept] = [parseMac(mac), parseAddress(address)];
            if (!read.ok) return [{ code: 'ADDRESS_UNREADABLE', text: `${name}, ${kind}: ${read.error}`, at }];
            if (!kept.ok) return [{ code: 'ADDRESS_UNREADABLE', text: `${name}, ${kind}: ${kept.error.text}`, at }];
            return contains(network.value, kept.value)
              ? []
              : [
                  {
                    code: 'POOL_FOREIGN',
                    text: `${what} keeps ${address} for ${read.value}, which is no address of its subnet.`,
                    at,
                  },
                ];
          }),
        ];
      }),
    );
  });
}

const openAccess = ({ instances }: NetworkModel): Reason[] =>
  [...instances.values()].filter(isOpen).map((instance): Reason => ({
    code: 'TELNET_OPEN',
    text: `${instance.name} can be signed in to by telnet, which sends passwords readable: take ssh instead.`,
    at: { device: instance.id },
  }));
const isOpen = ({ settings }: Instance): boolean => settings.management?.telnet === true;

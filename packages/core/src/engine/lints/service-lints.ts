import {
  type Family,
  type Prefix,
  contains,
  formatAddress,
  formatPrefix,
  likelyMeant,
  parseAddressOf,
  parseInterfaceAddress,
  parsePrefix,
  samePrefix,
  scopeOf,
  subnetOf,
} from '../../address';
import { byName } from '../../collation';
import { plural } from '../../plural';
import { type Topology, entryOf } from '../../topology';
import { type Instance, instanceId, type Reason } from '../devices';
import { type NetworkModel } from '../analysis';
import {
  type InterfaceState,
  type Node,
  type OspfInterface,
  areaType,
  neighbourhoodsOf,
  sharedIds,
  timersOf,
} from '../network';
import { registrationOf } from '../services';
import { portUses, radioKeyProblem } from '../physical';

/**
 * What is unlikely to work, or to be meant, beyond single addresses and cables: addresses that nobody gives out, ways
 * without a way back, phones without a VLAN of their own, neighbours that do not come together.
 */
export function serviceLintsOf(model: NetworkModel): Reason[] {
  return [
    ...publicHosts(model),
    ...slowPorts(model),
    ...phones(model),
    ...unregistered(model),
    ...forwardingOff(model),
    ...neighboursApart(model),
    ...routerIdsTwice(model),
    ...radioKeys(model),
    ...noWayBack(model),
    ...leases(model, 4),
    ...leases(model, 6),
    ...translation(model),
    ...passwords(model),
  ];
}

interface Heard {
  node: Node;
  interfaceState: InterfaceState;
}
/** Interfaces by the wire they are heard on. */
function heardOn({ layer2, layer3 }: NetworkModel): Map<number, Heard[]> {
  const found = new Map<number, Heard[]>();
  for (const node of layer3.nodes.values())
    for (const interfaceState of node.interfaceStates) {
      if (interfaceState.point === null || !interfaceState.up) continue;
      const domain = layer2.domainOf(interfaceState.point);
      const list = found.get(domain);
      if (list) list.push({ node, interfaceState });
      else found.set(domain, [{ node, interfaceState }]);
    }
  return found;
}

/** Hosts inside with an address of the internet: mostly a digit was mistaken. */
const publicHosts = ({ topology, layer3 }: NetworkModel): Reason[] =>
  [...layer3.nodes.values()].flatMap(({ instance, interfaceStates }) => {
    const site = topology.sites[instance.device.site ?? ''];
    if (instance.model.class !== 'end' || site?.kind === 'provider') return [];
    return interfaceStates.flatMap(({ key, addresses }) =>
      addresses
        .filter(({ address }) => address.family === 4 && scopeOf(address) === 'global')
        .map(({ address }): Reason => ({
          code: 'NOT_PRIVATE',
          text: `${instance.name} ${key} has ${formatAddress(address)}, which is no private address${likelyMeant(address)}.`,
          at: { device: instance.id, port: key },
        })),
    );
  });

/** A fast port between network devices that is cabled to a slow one, although a faster one is free there. */
function slowPorts({ topology, instances, layer1 }: NetworkModel): Reason[] {
  return layer1.channels.flatMap(({ id: link, a, b, through }): Reason[] => {
    // Who goes through a panel would have to be patched anew there as well.
    if (through.length) return [];
    const speed = layer1.links.get(link)?.up ? layer1.links.get(link)!.speedMbps : null;
    if (speed === null) return [];
    return [
      [a, b],
      [b, a],
    ].flatMap(([slow, fast]): Reason[] => {
      const [mine, theirs] = [instances.get(instanceId(slow!)), instances.get(instanceId(fast!))];
      if (!mine || !theirs || mine.model.class === 'end' || theirs.model.class === 'end') return [];
      const [facts, other] = [mine.ports.get(slow!.port)?.facts, theirs.ports.get(fast!.port)?.facts];
      if (!facts || !other || Math.max(...other.speeds) <= speed || Math.max(...facts.speeds) > speed) return [];
      // A port that feeds the other end is left for another one that feeds only.
      const feeds = facts.poe === 'source' && other.poe === 'sink' && theirs.device.powered === undefined;
      const better = portUses(topology, slow!.device, slow!.member).find(
        (use) =>
          use.free &&
          (!feeds || use.facts.poe === 'source') &&
          use.facts.connector === facts.connector &&
          Math.max(...use.facts.speeds) > speed,
      );
      if (!better) return [];
      return [
        {
          code: 'SLOWER_PORT',
          text: `${mine.name} ${slow!.port} does ${speed} Mb/s only, ${theirs.name} ${fast!.port} at the other end more: ${better.facts.key} is free and faster.`,
          at: { link },
        },
      ];
    });
  });
}

/** Telephones with an extension or a call server that do not come to register there. */
const unregistered = (model: NetworkModel): Reason[] =>
  [...model.instances.values()].flatMap(({ id, settings }): Reason[] => {
    const { extension, callServer } = settings.telephony ?? {};
    if (extension === undefined && callServer === undefined) return [];
    const { answer, text } = registrationOf(model, id);
    return answer === 'yes' ? [] : [{ code: 'NOT_REGISTERED', text, at: { device: id } }];
  });

/** Phones at a switch that has VLANs, where their port has none for voice. */
function phones({ instances, layer1 }: NetworkModel): Reason[] {
  const speaksOfVoice = [...instances.values()].some((instance) =>
    [...instance.ports.values()].some(
      ({ config: { role } }) => role?.kind === 'switched' && role.voiceVlan !== undefined,
    ),
  );
  if (!speaksOfVoice) return [];
  return layer1.channels.flatMap(({ id: link, a, b }): Reason[] =>
    [
      [a, b],
      [b, a],
    ].flatMap(([phone, at]): Reason[] => {
      const [first, second] = [instances.get(instanceId(phone!)), instances.get(instanceId(at!))];
      const port = second?.ports.get(at!.port);
      if (first?.model.kind !== 'phone' || second?.model.bridges !== 'vlan' || !port?.switched) return [];
      const { role } = port.config;
      if (role?.kind === 'switched' && (role.mode === 'trunk' || role.voiceVlan !== undefined)) return [];
      return [
        {
          code: 'NO_VOICE_VLAN',
          text: `${first.name} is a phone, but ${second.name} ${at!.port} has no VLAN for voice.`,
          at: { link },
        },
      ];
    }),
  );
}

/** Devices made for forwarding that have several subnets and do not forward. */
const forwardingOff = ({ layer3 }: NetworkModel): Reason[] =>
  [...layer3.nodes.values()].flatMap(({ instance, interfaceStates }): Reason[] => {
    const subnets = interfaceStates.filter((interfaceState) =>
      interfaceState.addresses.some(({ address }) => address.family === 4),
    ).length;
    if (!instance.model.forwards || instance.settings.forwarding?.v4 !== false || subnets < 2) return [];
    return [
      {
        code: 'FORWARDING_OFF',
        text: `${instance.name} stands in ${plural(subnets, 'subnet')} and does not forward: switch forwarding on.`,
        at: { device: instance.id },
      },
    ];
  });

/** Keys of wireless networks that no equipment takes. */
const radioKeys = ({ instances }: NetworkModel): Reason[] =>
  [...instances.values()].flatMap(({ id, name, settings, ports }) => {
    const networks = [
      ...(settings.ssids ?? []).map((radio) => ({ radio, port: undefined })),
      ...[...ports].flatMap(([port, { config }]) => (config.radio ? [{ radio: config.radio, port }] : [])),
    ];
    return networks.flatMap(({ radio: { ssid, security, key = '' }, port }): Reason[] => {
      const problem = radioKeyProblem(security, key);
      return problem
        ? [
            {
              code: 'RADIO_KEY',
              text: `${name}, network “${ssid}”: ${problem}`,
              at: { device: id, ...(port && { port }) },
            },
          ]
        : [];
    });
  });

/** Routers of OSPF, of either version, whose id another one has as well (RFC 2328 §1.2): named together, once. */
function routerIdsTwice({ layer3 }: NetworkModel): Reason[] {
  const said = new Set<string>();
  return [layer3.ospf, layer3.ospf6].flatMap((state) =>
    sharedIds(state).flatMap((nodes): Reason[] => {
      const names = nodes.map(({ instance }) => instance.name).sort(byName);
      const id = state.routerIds.get(nodes[0]!.instance.id)!;
      const text = `${names.join(' and ')} have the router id ${id}: routes of OSPF that depend on them are not certain. Give each an id of its own.`;
      if (said.has(text)) return [];
      said.add(text);
      return [{ code: 'ROUTER_ID_TWICE', text, at: { device: nodes.at(-1)!.instance.id } }];
    }),
  );
}

/** Routers on one wire whose OSPF settings, of either version, keep them from becoming neighbours (RFC 2328 §10.5, §10.6; RFC 5340). */
function neighboursApart({ layer3 }: NetworkModel): Reason[] {
  return ([4, 6] as const).flatMap((family) =>
    neighbourhoodsOf(family === 4 ? layer3.ospf : layer3.ospf6).flatMap(([first, ...others]) =>
      others.flatMap((other): Reason[] => {
        const { node, interfaceState } = other;
        const differs = node === first!.node ? null : differenceIn(other, first!, family);
        if (differs === null) return [];
        const [mine, theirs] = differs;
        const name = `${first!.node.instance.name} ${first!.interfaceState.key}`;
        return [
          {
            code: 'OSPF_DIFFERS',
            text: `${node.instance.name} ${interfaceState.key} has ${family === 4 ? 'OSPF' : 'OSPFv3'} ${mine}, ${name} on the same wire ${theirs}: they do not become neighbours.`,
            at: { device: node.instance.id, port: interfaceState.key },
          },
        ];
      }),
    ),
  );
}

/** In what two interfaces differ that neighbours must have alike, as each of them has it; null where it is nothing. */
function differenceIn(one: OspfInterface, other: OspfInterface, family: Family): [string, string] | null {
  if (one.area !== other.area) return [`area ${one.area}`, `area ${other.area}`];
  const [mine, theirs] = [timersOf(one), timersOf(other)];
  for (const which of ['hello', 'dead'] as const)
    if (mine[which] !== theirs[which]) return [`a ${which} interval of ${mine[which]} s`, `${theirs[which]} s`];
  // A router that joins a totally stubby area says of it what one inside says of a stub.
  const [kind, theirKind] = [one, other].map(({ node, area }) => areaType(node, area, family).replace('totally-', ''));
  return kind === theirKind ? null : [`area ${one.area} as ${KINDS[kind!]}`, `as ${KINDS[theirKind!]}`];
}
const KINDS: Readonly<Record<string, string>> = { normal: 'a normal one', stub: 'a stub', nssa: 'a not-so-stubby one' };

/** Of more subnets than this the ways between all of them are not followed at every change. */
const MOST_SUBNETS = 24;

/** Packets that arrive and whose answer does not find home: somebody on the way has no route back. */
function noWayBack(model: NetworkModel): Reason[] {
  const ends = new Map<string, { device: string; prefix: Prefix }>();
  for (const node of model.layer3.nodes.values()) {
    const [interfaceState] = node.interfaceStates;
    const on = interfaceState?.addresses.find(({ address }) => address.family === 4);
    if (
      node.instance.model.class !== 'end' ||
      !interfaceState?.up ||
      interfaceState.point === null ||
      !on ||
      !node.instance.settings.gateway4
    )
      continue;
    const prefix = subnetOf(on);
    const key = `${model.layer2.domainOf(interfaceState.point)} ${formatPrefix(prefix)}`;
    if (!ends.has(key)) ends.set(key, { device: node.instance.id, prefix });
  }
  if (ends.size > MOST_SUBNETS) return [];
  const byPlace = new Map<string, Reason>();
  for (const from of ends.values())
    for (const to of ends.values()) {
      if (from === to) continue;
      const on = model.layer3.nodes
        .get(to.device)!
        .interfaceStates[0]!.addresses.find((address) => address.address.family === 4)!;
      const { reached, direction, reason } = model.reach.ask(from.device, { device: to.device, address: on.address });
      const at = reason?.at.device;
      if (!reached || direction !== 'reply' || reason?.code !== 'NO_ROUTE' || at === undefined) continue;
      const key = `${at} ${formatPrefix(from.prefix)}`;
      const name = (id: string): string => model.instances.get(id)?.name ?? '';
      if (!byPlace.has(key))
        byPlace.set(key, {
          code: 'NO_RETURN_ROUTE',
          text: `${name(at)} has no route back to ${formatPrefix(from.prefix)}: packets from ${name(from.device)} reach ${name(to.device)}, the answers end here.`,
          at: { device: at },
        });
    }
  return [...byPlace.values()];
}

interface Server {
  instance: Instance;
  prefix: Prefix;
  room: number;
}

/** Hosts that wait for an address nobody gives, pools that are too small, and servers that speak against each other. */
function leases(model: NetworkModel, family: Family): Reason[] {
  const pools = ({ settings }: Instance) => (family === 4 ? settings.dhcpPools : settings.dhcp6Pools) ?? [];
  const servers = [...model.instances.values()].flatMap((instance) =>
    pools(instance).flatMap((pool): Server[] => {
      const network = parsePrefix(pool.network);
      return network.ok ? [{ instance, prefix: network.value, room: roomOf(pool, network.value, family) }] : [];
    }),
  );
  const reasons: Reason[] = [];
  for (const list of heardOn(model).values()) {
    const waiting = list.filter(({ interfaceState: { config } }) =>
      family === 4 ? config.v4?.dhcp : config.v6?.dhcp === 'stateful',
    );
    const serving = serversFor(list, servers, family);
    const prefixes = new Set(serving.map((server) => formatPrefix(server.prefix)));
    for (const prefix of prefixes) {
      const both = [
        ...new Set(serving.filter((server) => formatPrefix(server.prefix) === prefix).map((server) => server.instance)),
      ];
      if (both.length > 1)
        reasons.push({
          code: 'DHCP_TWICE',
          text: `${both.map((instance) => instance.name).join(' and ')} both give out addresses of ${prefix} on one wire: leave one of them.`,
          at: { device: both[1]!.id },
        });
    }
    const [first] = waiting;
    if (!first) continue;
    const at = { device: first.node.instance.id, port: first.interfaceState.key };
    const fromOutside = list.some((heard) => heard.node.instance.model.class === 'cloud');
    const names = waiting.map((heard) => heard.node.instance.name);
    const some = names.length > 3 ? `${names.slice(0, 3).join(', ')} and ${names.length - 3} more` : names.join(', ');
    if (!serving.length && !fromOutside)
      reasons.push({
        code: 'DHCP_NOBODY',
        text: `${some} ${names.length === 1 ? 'waits' : 'wait'} for an address, and nobody on the wire gives one: add a ${family === 4 ? 'DHCP' : 'DHCPv6'} pool or a relay.`,
        at,
      });
    const room = serving.reduce((sum, server) => sum + server.room, 0);
    if (serving.length && prefixes.size === serving.length && waiting.length > room)
      reasons.push({
        code: 'POOL_TOO_SMALL',
        text: `${plural(waiting.length, 'host waits', 'hosts wait')} for an address of ${[...prefixes].join(', ')}, the ${family === 4 ? '' : 'DHCPv6 '}pool has ${room}.`,
        at: { device: serving[0]!.instance.id },
      });
  }
  return reasons;
}

/** Who answers on a wire: a server that stands in the pool's subnet there, or one that a relay there asks. */
function serversFor(list: readonly Heard[], servers: readonly Server[], family: Family): Server[] {
  const subnets = list.flatMap(({ interfaceState }) => interfaceState.addresses.map(subnetOf));
  const relays = list.flatMap(({ interfaceState }) => interfaceState.config.relays ?? []);
  const isAsked = ({ instance }: Server): boolean =>
    list.some(({ node }) => node.instance === instance) ||
    relays.some((relay) => {
      const read = parseAddressOf(family, relay);
      return (
        read.ok &&
        instance.interfaces.some(([, { v4, v6 }]) =>
          hasAddress((family === 4 ? v4 : v6)?.addresses, formatAddress(read.value)),
        )
      );
    });
  return servers.filter((server) => isAsked(server) && subnets.some((subnet) => samePrefix(subnet, server.prefix)));
}
const hasAddress = (list: readonly string[] | undefined, address: string): boolean =>
  list?.some((text) => {
    const read = parseInterfaceAddress(text);
    return read.ok && formatAddress(read.value.address) === address;
  }) ?? false;

type Pool = NonNullable<Instance['settings']['dhcpPools']>[number];
/** How many addresses a pool can give out: those of its ranges, else all hosts of its subnet, without what is excluded. */
function roomOf({ ranges, exclusions = [], router }: Pool, prefix: Prefix, family: Family): number {
  const span = ({ from, to }: { from: string; to: string }): { low: bigint; high: bigint } | null => {
    const [low, high] = [parseAddressOf(family, from), parseAddressOf(family, to)];
    return low.ok && high.ok ? { low: low.value.value, high: high.value.value } : null;
  };
  const size = 1n << BigInt((family === 4 ? 32 : 128) - prefix.length);
  // IPv6 has no broadcast address; the first one is every router's (RFC 4291 2.6.1).
  const last = prefix.value + size - (family === 4 ? 2n : 1n);
  const all = ranges?.length ? ranges.flatMap((range) => span(range) ?? []) : [{ low: prefix.value + 1n, high: last }];
  const gone = exclusions.flatMap((exclusion) => span(exclusion) ?? []);
  const gateway = router === undefined ? null : parseAddressOf(family, router);
  if (gateway?.ok && contains(prefix, gateway.value))
    gone.push({ low: gateway.value.value, high: gateway.value.value });
  let room = 0n;
  for (const { low, high } of all) {
    let free = high - low + 1n;
    for (const range of gone) {
      const [from, to] = [range.low > low ? range.low : low, range.high < high ? range.high : high];
      if (from <= to) free -= to - from + 1n;
    }
    room += free > 0n ? free : 0n;
  }
  return Number(room);
}

/** Translation that is set up without saying which side is inside and which outside. */
const translation = ({ instances }: NetworkModel): Reason[] =>
  [...instances.values()].flatMap((instance): Reason[] => {
    const rules = instance.settings.nat ?? [];
    if (!rules.length) return [];
    // A port that is let in needs the side where packets for it arrive; all others need both.
    const sides = rules.every(({ kind }) => kind === 'portForward')
      ? (['outside'] as const)
      : (['inside', 'outside'] as const);
    const has = (side: string): boolean =>
      instance.interfaces.some(([, interfaceConfig]) => interfaceConfig.natSide === side);
    const missing = sides.filter((side) => !has(side));
    return missing.length
      ? [
          {
            code: 'NAT_SIDE_MISSING',
            text: `${instance.name} translates addresses, but no interface of it is ${missing.map((side) => `“${side}”`).join(' or ')}.`,
            at: { device: instance.id },
          },
        ]
      : [];
  });

/** Remote access without a password for changing settings. */
const passwords = ({ instances }: NetworkModel): Reason[] =>
  [...instances.values()].flatMap(({ id, name, settings }): Reason[] => {
    const { ssh, telnet, privileged } = settings.management ?? {};
    return (ssh || telnet) && (privileged === undefined || privileged === 'none')
      ? [
          {
            code: 'NO_PRIVILEGED_PASSWORD',
            text: `${name} can be signed in to from elsewhere and has no password for changing settings.`,
            at: { device: id },
          },
        ]
      : [];
  });

/** Whether a switch stands between others that use a VLAN: two of its trunks let it through. */
export function transitVlans(topology: Topology, instance: Instance): number[] {
  const set = [...instance.ports.values()].flatMap(({ key, config: { role }, switched }) =>
    switched && role?.kind === 'switched' && role.mode === 'trunk' ? [{ key, allowed: role.allowed ?? 'all' }] : [],
  );
  if (set.length < 2) return [];
  const used = new Set(
    Object.values(topology.devices).flatMap((device) =>
      Object.values(device.ports ?? {}).flatMap(({ role }) =>
        role?.kind === 'switched' && role.accessVlan !== undefined ? role.accessVlan : [],
      ),
    ),
  );
  const cabled = new Set(
    Object.values(topology.links).flatMap(({ a, b }) =>
      [a, b].flatMap((end) => (end.device === instance.id ? end.port : [])),
    ),
  );
  const trunks = set.flatMap(({ key, allowed }) => (cabled.has(key) ? [allowed] : []));
  const passes = (vlan: number): number => trunks.filter((trunk) => trunk === 'all' || trunk.includes(vlan)).length;
  return [...used]
    .filter((vlan) => vlan !== 1 && passes(vlan) > 1 && entryOf(instance.settings.vlans, String(vlan)) === undefined)
    .sort((a, b) => a - b);
}

import {
  type Address,
  type Family,
  type Prefix,
  contains,
  formatAddress,
  formatPrefix,
  parsePrefix,
  subnetOf,
} from '../../address';
import { type DataLink } from '../datalink';
import { judge } from '../filters';
import { type InterfaceState, type Node } from './node';

/** An interface that takes part in OSPFv2 or OSPFv3 (RFC 2328 §9, RFC 5340). */
export interface OspfInterface {
  readonly node: Node;
  readonly interfaceState: InterfaceState;
  /** What neighbours send to: the address in the subnet, for IPv6 that of the link (RFC 5340 2.5). */
  readonly address: Address;
  readonly prefixes: readonly Prefix[];
  /** What both sides must agree in: the subnet, for IPv6 nothing (RFC 5340 2.1). */
  readonly agreed: string;
  readonly area: number;
  readonly cost: number;
  readonly passive: boolean;
  /** The domain that it is in. */
  readonly domain: number | null;
}
/** Two interfaces whose routers exchange their databases. */
export interface Adjacency {
  readonly a: OspfInterface;
  readonly b: OspfInterface;
}

const ALL_ROUTERS: Readonly<Record<Family, Address>> = {
  4: { family: 4, value: 0xe0000005n },
  6: { family: 6, value: (0xff02n << 112n) | 5n },
};
const [HELLO, DEAD, MTU, PRIORITY, REFERENCE_MBPS] = [10, 40, 1500, 1, 100];

/** What an interface costs: what is set, else by its speed (RFC 2328 leaves how open). */
export const costOf = (
  node: Node,
  interfaceState: InterfaceState,
  speedOf: (interfaceState: InterfaceState) => number,
  family: Family,
): number =>
  faceSettings(interfaceState, family).cost ??
  Math.max(
    1,
    Math.floor((settingsOf(node, family)!.referenceMbps ?? REFERENCE_MBPS) / Math.max(1, speedOf(interfaceState))),
  );

export const NO_ID = '0.0.0.0';
export const settingsOf = ({ instance: { settings } }: Node, family: Family) =>
  family === 4 ? settings.ospf : settings.ospf6;
export const faceSettings = ({ config }: InterfaceState, family: Family) =>
  (family === 4 ? config.ospf : config.ospf6) ?? {};

/** The id that is set, else the highest address of a loopback, else of any interface that is up. */
export function routerIdOf({ instance, interfaceStates }: Node, version: Family): string {
  const { ospf: two, ospf6: three } = instance.settings;
  const set = version === 4 ? two?.routerId : (three?.routerId ?? two?.routerId);
  if (set !== undefined) return set;
  const highest = (list: readonly InterfaceState[]): Address | undefined =>
    list
      .flatMap((interfaceState) => interfaceState.addresses.map(({ address }) => address))
      .filter(({ family }) => family === 4)
      .sort((a, b) => (a.value < b.value ? 1 : -1))[0];
  const up = interfaceStates.filter((interfaceState) => interfaceState.up);
  const found = highest(up.filter(({ config }) => config.on.kind === 'loopback')) ?? highest(up);
  return found ? formatAddress(found) : NO_ID;
}

export function ospfInterfacesOf(
  node: Node,
  layer2: DataLink,
  speedOf: (interfaceState: InterfaceState) => number,
  family: Family,
): OspfInterface[] {
  const settings = settingsOf(node, family)!;
  const networks = (settings.networks ?? []).flatMap(({ prefix, area }) => {
    const read = parsePrefix(prefix);
    return read.ok ? [{ prefix: read.value, area }] : [];
  });
  return node.interfaceStates.flatMap((interfaceState): OspfInterface[] => {
    if (!interfaceState.up) return [];
    const config = faceSettings(interfaceState, family);
    const own = interfaceState.addresses.filter((on) => on.address.family === family);
    const areaOf = (address: Address): number | undefined =>
      config.area ??
      networks.filter(({ prefix }) => contains(prefix, address)).sort((a, b) => b.prefix.length - a.prefix.length)[0]
        ?.area;
    const common = (area: number) => ({
      node,
      interfaceState,
      area,
      cost: costOf(node, interfaceState, speedOf, family),
      domain: interfaceState.point === null ? null : layer2.domainOf(interfaceState.point),
      passive: config.passive ?? false,
    });
    if (family === 6) {
      const area = own.map((on) => areaOf(on.address)).find((area) => area !== undefined) ?? config.area;
      const address = interfaceState.linkLocal ?? own[0]?.address;
      return area === undefined || !address
        ? []
        : [{ ...common(area), address, prefixes: own.map(subnetOf), agreed: '' }];
    }
    return own.flatMap((on): OspfInterface[] => {
      const area = areaOf(on.address);
      const subnet = subnetOf(on);
      return area === undefined
        ? []
        : [{ ...common(area), address: on.address, prefixes: [subnet], agreed: formatPrefix(subnet) }];
    });
  });
}

/** Seconds between hellos, and after which a silent neighbour is gone (RFC 2328 appendix C.3). */
export function timersOf({ interfaceState, address: { family } }: OspfInterface): { hello: number; dead: number } {
  const { hello = HELLO, dead = DEAD } = faceSettings(interfaceState, family);
  return { hello, dead };
}

/** Who could hear hellos, and say some: on a wire, and not told to be silent. */
const isHeard = ({ passive, interfaceState }: OspfInterface): boolean =>
  !passive && interfaceState.point !== null && interfaceState.config.on.kind !== 'loopback';

/** Interfaces that would be neighbours by where they are: on one wire, for IPv4 in one subnet, and speaking. */
export function neighbourhoodsOf({ interfaces }: { readonly interfaces: readonly OspfInterface[] }): OspfInterface[][] {
  const found = new Map<string, OspfInterface[]>();
  for (const each of interfaces) {
    if (!isHeard(each)) continue;
    const key = `${each.domain} ${each.agreed}`;
    const list = found.get(key);
    if (list) list.push(each);
    else found.set(key, [each]);
  }
  return [...found.values()].filter(({ length }) => length > 1);
}

/** Which area a router takes one for; routers that differ in it are no neighbours (RFC 2328 §10.5, the E bit). */
export const areaType = (node: Node, area: number, family: Family): string =>
  settingsOf(node, family)!.areas?.[String(area)]?.type ?? 'normal';
export const isStub = (type: string): boolean => type === 'stub' || type === 'totally-stub';

/**
 * Interfaces on one segment whose routers become neighbours: same subnet and mask, area and its kind, timers and MTU,
 * distinct router ids, neither passive, and no filter that drops what they say (RFC 2328 §10.5, §10.6).
 */
export function adjacenciesOf(
  interfaces: readonly OspfInterface[],
  routerIds: ReadonlyMap<string, string>,
): Adjacency[] {
  const groups = new Map<string, OspfInterface[]>();
  for (const ospfInterface of interfaces) {
    const { interfaceState, agreed, area, node, domain } = ospfInterface;
    const { family } = ospfInterface.address;
    if (!isHeard(ospfInterface)) continue;
    const { hello, dead } = timersOf(ospfInterface);
    const { network = 'broadcast' } = faceSettings(interfaceState, family);
    const key = [
      domain,
      agreed,
      area,
      areaType(node, area, family).replace('totally-', ''),
      hello,
      dead,
      interfaceState.config.mtu ?? MTU,
      network,
    ].join(' ');
    groups.set(key, [...(groups.get(key) ?? []), ospfInterface]);
  }
  const settings = ({ interfaceState, address }: OspfInterface) => faceSettings(interfaceState, address.family);
  const priority = (ospfInterface: OspfInterface): number => settings(ospfInterface).priority ?? PRIORITY;
  const found: Adjacency[] = [];
  for (const group of groups.values()) {
    // On a segment that elects, somebody must be willing to be elected (§9.4).
    const isElected = settings(group[0]!).network !== 'point-to-point';
    if (isElected && group.every((ospfInterface) => priority(ospfInterface) === 0)) continue;
    for (const [at, a] of group.entries())
      for (const b of group.slice(at + 1))
        if (
          a.node !== b.node &&
          routerIds.get(a.node.instance.id) !== routerIds.get(b.node.instance.id) &&
          hears(a, b) &&
          hears(b, a)
        )
          found.push({ a, b });
  }
  return found;
}

function hears({ node, interfaceState }: OspfInterface, other: OspfInterface): boolean {
  const { family } = other.address;
  const { filterIn4, filterIn6 } = interfaceState.config;
  const packet = { source: other.address, destination: ALL_ROUTERS[family], protocol: 'ospf' as const };
  return judge(node.instance, family === 4 ? filterIn4 : filterIn6, packet)?.passes ?? true;
}

import {
  type Address,
  type InterfaceAddress,
  type Prefix,
  comparePrefixes,
  contains,
  formatAddress,
  formatInterfaceAddress,
  formatPrefix,
  lastOf,
  overlaps,
  parseInterfaceAddress,
  prefixOf,
  sameAddress,
  samePrefix,
  subnetOf,
} from '../address';
import { type Interface, type Topology, entriesById, modelOf } from '../topology';
import { type Block, type Brief, type Plan } from './schema';
import { outsideRanges } from './outside-ranges';
import { gatewayOf } from './subnet';
import { type PlanTree, blockAt, isSubnet } from './tree';

/** An address that a device of a drawing is set to use. `member` where the device is one of a tile. */
export interface DrawnAddress {
  device: string;
  member: string | null;
  name: string;
  site: string | undefined;
  interface: string;
  vlan: number | undefined;
  isRouter: boolean;
  on: InterfaceAddress;
}

/** Every readable address in a drawing, in order of devices. Loopbacks (127/8, ::1) do not count. */
export function drawnAddresses(topology: Topology): DrawnAddress[] {
  return entriesById(topology.devices).flatMap(([device, found]) => {
    const model = modelOf(topology, found);
    // A cloud is the world outside: it is not part of the plan.
    if (model?.class === 'cloud') return [];
    const site = found.site === undefined ? undefined : topology.sites[found.site]?.name;
    const interfaceConfigs = (
      member: string | null,
      name: string,
      interfaces: Readonly<Record<string, Interface>> = {},
    ): DrawnAddress[] =>
      entriesById(interfaces).flatMap(([key, interfaceConfig]) =>
        [...(interfaceConfig.v4?.addresses ?? []), ...(interfaceConfig.v6?.addresses ?? [])].flatMap(
          (text): DrawnAddress[] => {
            const read = parseInterfaceAddress(text);
            if (!read.ok) return [];
            const vlan = 'vlan' in interfaceConfig.on ? interfaceConfig.on.vlan : undefined;
            return [
              { device, member, name, site, interface: key, vlan, isRouter: model?.forwards ?? false, on: read.value },
            ];
          },
        ),
      );
    return [
      ...interfaceConfigs(null, found.name, found.interfaces),
      ...entriesById(found.members).flatMap(([member, own], at) =>
        interfaceConfigs(member, own.name ?? `${found.name}-${at + 1}`, own.interfaces),
      ),
    ];
  });
}

/** How a drawing and a plan differ in one address. */
export type Difference = {
  subnet: string | null;
  /** The address in its canonical text: of the drawing where it is drawn, else of the plan. */
  address: string;
  name: string;
  drawn: DrawnAddress | null;
} & (
  | { kind: 'onlyDrawn'; noBlock: boolean }
  | { kind: 'onlyPlanned'; hasDevice: boolean }
  | { kind: 'otherAddress'; planned: string }
  | { kind: 'otherName'; planned: string }
  | { kind: 'otherLength'; planned: Prefix }
  | { kind: 'drawnTwice'; other: string }
  | { kind: 'otherSite'; planned: string }
);

/** The sentence of a difference. */
export function differenceWords(difference: Difference): string {
  switch (difference.kind) {
    case 'onlyDrawn':
      return difference.noBlock
        ? `${difference.name} uses ${difference.address}, which lies in no subnet of the plan.`
        : `${difference.name} uses ${difference.address}; the plan does not know it.`;
    case 'onlyPlanned':
      return difference.hasDevice
        ? `The plan gives ${difference.address} to ${difference.name}; in the drawing it has no such address.`
        : `The plan gives ${difference.address} to ${difference.name}; the drawing has no device of that name.`;
    case 'otherAddress':
      return `${difference.name} uses ${difference.address}; the plan gives it ${difference.planned}.`;
    case 'otherName':
      return `${difference.address} is used by ${difference.name}; the plan gives it to ${difference.planned}.`;
    case 'otherLength':
      return `${difference.name} has ${formatInterfaceAddress(difference.drawn!.on)}; the plan’s subnet is ${formatPrefix(difference.planned)}.`;
    case 'drawnTwice':
      return `${difference.address} is used twice in the drawing: by ${difference.other} and by ${difference.name}.`;
    case 'otherSite':
      return `${difference.name} stands at ${difference.drawn!.site}, but ${difference.address} belongs to a subnet at ${difference.planned}.`;
  }
}

/**
 * Compares what the devices of a drawing use with what the plan says, both ways. Gateways need no line of their own in a
 * plan: a router that uses the gateway of a subnet agrees with it.
 */
export function compareWithDrawing(tree: PlanTree, brief: Brief, topology: Topology): Difference[] {
  const drawn = drawnAddresses(topology);
  const used = new Set(drawn.map((address) => formatAddress(address.on.address)));
  const entries = tree.plan.addresses ?? {};
  const found = new Map<string, DrawnAddress>();
  const differences: Difference[] = [];
  const explained = new Set<string>();
  const outside = outsideRanges(brief);
  for (const drawnAddress of drawn) {
    // What the provider hands out at the edge is not the plan's.
    if (outside.some((range) => contains(range, drawnAddress.on.address))) continue;
    const address = formatAddress(drawnAddress.on.address);
    const node = blockAt(tree, drawnAddress.on.address);
    const prefix = node && isSubnet(node) ? node.space[drawnAddress.on.address.family] : null;
    const base = { subnet: prefix && node ? node.id : null, address, name: drawnAddress.name, drawn: drawnAddress };
    const other = found.get(address);
    if (other) {
      differences.push({ ...base, kind: 'drawnTwice', other: other.name });
      continue;
    }
    found.set(address, drawnAddress);
    if (!prefix || !node) {
      differences.push({ ...base, kind: 'onlyDrawn', noBlock: true });
      continue;
    }
    if (prefix.length !== drawnAddress.on.length) differences.push({ ...base, kind: 'otherLength', planned: prefix });
    if (
      node.block.site !== undefined &&
      drawnAddress.site !== undefined &&
      node.block.site !== drawnAddress.site &&
      !drawnAddress.isRouter
    )
      differences.push({ ...base, kind: 'otherSite', planned: node.block.site });
    const entry = entries[address];
    const gateway = gatewayOf(node.block, prefix, brief);
    if (entry) {
      explained.add(address);
      if (entry.name.trim() && entry.name !== drawnAddress.name)
        differences.push({ ...base, kind: 'otherName', planned: entry.name });
      continue;
    }
    if (gateway && sameAddress(gateway, drawnAddress.on.address) && drawnAddress.isRouter) continue;
    const planned = plannedFor(tree, prefix, drawnAddress.name, used);
    if (planned !== null) {
      explained.add(planned);
      differences.push({ ...base, kind: 'otherAddress', planned });
    } else differences.push({ ...base, kind: 'onlyDrawn', noBlock: false });
  }
  const names = new Set([
    ...Object.values(topology.devices).map((device) => device.name),
    ...drawn.map((address) => address.name),
  ]);
  for (const [key, entry] of Object.entries(entries))
    if (!explained.has(key) && entry.name.trim())
      differences.push({
        kind: 'onlyPlanned',
        subnet: null,
        address: key,
        name: entry.name,
        drawn: null,
        hasDevice: names.has(entry.name),
      });
  return differences;
}

/** The address that the plan gives to a device in a subnet and that nobody in the drawing uses. */
function plannedFor(tree: PlanTree, prefix: Prefix, name: string, used: ReadonlySet<string>): string | null {
  for (const value of tree.addresses[prefix.family].within(prefix.value, lastOf(prefix).value)) {
    const key = formatAddress({ family: prefix.family, value });
    if (tree.plan.addresses![key]!.name === name && !used.has(key)) return key;
  }
  return null;
}
/** A plan made from a drawing that was made without one, and what in the drawing does not agree with itself. */
export interface Adopted {
  plan: Plan;
  inconsistent: string[];
}

/**
 * The subnets in use as blocks, with their addresses. Where prefix lengths disagree about the same addresses, the one that
 * most interfaces have is taken. Private subnets of a family come under one root block where they lie close together.
 */
export function adoptDrawing(topology: Topology, newId: (nth: number) => string): Adopted {
  const drawn = drawnAddresses(topology);
  const inconsistent: string[] = [];
  const subnets = settle(drawn, inconsistent);
  const plan: Plan = { blocks: {} };
  const addresses: NonNullable<Plan['addresses']> = {};
  let nth = 0;
  const siteNames = new Map<string, number>();
  for (const { prefix, users } of subnets) {
    const site =
      mostCommon(users.filter((user) => !user.isRouter).map((user) => user.site)) ??
      mostCommon(users.map((user) => user.site));
    const vlan = mostCommon(users.map((user) => user.vlan));
    const isLink = users.every((user) => user.isRouter) && users.length <= 2;
    const routers = users.filter((user) => user.isRouter);
    const sites = [...new Set(users.filter((user) => !user.isRouter).map((user) => user.site))];
    if (sites.length > 1)
      inconsistent.push(`${formatPrefix(prefix)} is used at ${sites.map((site) => site ?? 'no site').join(' and ')}.`);
    const name = isLink ? `Link ${users.map((user) => user.name).join(' - ')}` : nameFor(site, siteNames);
    plan.blocks[newId(nth++)] = {
      prefix: formatPrefix(prefix),
      name,
      ...(site !== undefined && !isLink && { site }),
      ...(vlan !== undefined && { vlan }),
      ...(isLink && { use: 'link' as const }),
      ...(!isLink && routers.length > 0 && gatewayText(routers[0]!, prefix)),
      standing: 'proposed',
    };
    for (const user of users) {
      const key = formatAddress(user.on.address);
      if (addresses[key]) inconsistent.push(`${key} is used by ${addresses[key].name} and by ${user.name}.`);
      else addresses[key] = { name: user.name };
    }
  }
  for (const family of [4, 6] as const) {
    const root = commonBlock(subnets.map((subnet) => subnet.prefix).filter((prefix) => prefix.family === family));
    if (root)
      plan.blocks[newId(nth++)] = {
        prefix: formatPrefix(root),
        name: topology.title?.trim() || 'All subnets',
        standing: 'proposed',
      };
  }
  return {
    plan: Object.keys(addresses).length ? { ...plan, addresses } : plan,
    inconsistent: [...new Set(inconsistent)],
  };
}

const gatewayText = (router: DrawnAddress, prefix: Prefix): Partial<Block> => ({
  [prefix.family === 4 ? 'gateway' : 'gateway6']: formatAddress(router.on.address),
});

function nameFor(site: string | undefined, counts: Map<string, number>): string {
  const base = site ?? 'Subnet';
  const n = (counts.get(base) ?? 0) + 1;
  counts.set(base, n);
  return n === 1 && site !== undefined ? site : `${base} ${n}`;
}

function mostCommon<T>(values: readonly (T | undefined)[]): T | undefined {
  const counts = new Map<T, number>();
  for (const value of values) if (value !== undefined) counts.set(value, (counts.get(value) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0];
}

interface Settled {
  prefix: Prefix;
  users: DrawnAddress[];
}

/** Groups addresses into subnets that do not overlap; said is where lengths disagree. */
function settle(drawn: readonly DrawnAddress[], inconsistent: string[]): Settled[] {
  const byPrefix = new Map<string, Settled>();
  for (const address of drawn) {
    const prefix = subnetOf(address.on);
    const key = formatPrefix(prefix);
    const known = byPrefix.get(key);
    if (known) known.users.push(address);
    else byPrefix.set(key, { prefix, users: [address] });
  }
  const settled: Settled[] = [];
  for (const next of [...byPrefix.values()].sort(
    (a, b) => b.users.length - a.users.length || comparePrefixes(a.prefix, b.prefix),
  )) {
    const home = settled.find((settled) => overlaps(settled.prefix, next.prefix));
    if (!home) {
      settled.push(next);
      continue;
    }
    for (const user of next.users) {
      inconsistent.push(
        `${user.name} has ${formatInterfaceAddress(user.on)}, most of its neighbours /${home.prefix.length}.`,
      );
      if (contains(home.prefix, user.on.address)) home.users.push(user);
    }
  }
  return settled.sort((a, b) => comparePrefixes(a.prefix, b.prefix));
}

/** The smallest block that holds all; null where there is one alone, or where it would be far larger than what it holds. */
function commonBlock(prefixes: readonly Prefix[]): Prefix | null {
  const [first, ...others] = prefixes;
  if (!first || !others.length) return null;
  const most = first.family === 4 ? 8 : 32;
  for (let length = first.length; length >= most; length--) {
    const block = prefixOf(first, length);
    if (prefixes.every((prefix) => contains(block, prefix)) && !prefixes.some((prefix) => samePrefix(prefix, block)))
      return block;
  }
  return null;
}

/** An address as the interface of a device in its planned subnet carries it. */
export const asInterface = (tree: PlanTree, address: Address): string | null => {
  const node = blockAt(tree, address);
  const prefix = node?.space[address.family];
  return prefix ? formatInterfaceAddress({ address, length: prefix.length }) : null;
};

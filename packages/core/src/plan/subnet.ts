import {
  type Address,
  type AddressRange,
  type Family,
  type Prefix,
  bitsOf,
  compareAddresses,
  contains,
  parseAddress,
  rangeOf,
  rangeSize,
  sizeOf,
  usableRange,
} from '../address';
import { entriesById } from '../topology';
import { type Block, type Brief, type PlanRange, schemesOf } from './schema';
import { type PlanNode, type PlanTree, isSubnet, mainFamily, spacesIn } from './tree';

/**
 * The addresses of a subnet that may be given out. Whether the first and the last are among them follows from its use:
 * for hosts as usableRange has it; all of a block for address translation, which is no subnet on a wire; and a person may
 * set it.
 */
export function usableIn(block: Pick<Block, 'use' | 'ends'>, prefix: Prefix): AddressRange {
  return endsAreUsable(block) ? rangeOf(prefix) : usableRange(prefix);
}

/** Whether devices may have the first and the last address of a block. */
export const endsAreUsable = ({ ends, use }: Pick<Block, 'use' | 'ends'>): boolean =>
  ends === 'usable' || (ends === undefined && use === 'translation');

/** Whether a block stands for a subnet on a wire: something is in it that only subnets have. */
export const isMeantAsSubnet = ({ vlan, group, gateway, gateway6, use }: Block): boolean =>
  vlan !== undefined || group !== undefined || gateway !== undefined || gateway6 !== undefined || use !== undefined;

/** Whether addresses of a block are to be given out from now on: not where it is kept free, nor while it is being vacated. */
export const isGivenOut = ({ standing }: Pick<Block, 'standing'>): boolean =>
  standing !== 'kept-free' && standing !== 'being-vacated';

/** Blocks that have no gateway: the ends of a link are routers, loopbacks and translation pools have no neighbours. */
export const hasGateway = (block: Block, prefix: Prefix): boolean =>
  (block.use ?? 'hosts') === 'hosts' && bitsOf(prefix.family) - prefix.length > 1 && block.standing !== 'kept-free';

/** The gateway by the brief's scheme: the first or the last usable address. */
export function schemeGateway(block: Block, prefix: Prefix, brief: Brief): Address {
  const { from, to } = usableIn(block, prefix);
  return schemesOf(brief).gateway === 'last' ? to : from;
}

/** The gateway of a subnet: as set by hand where that can be read, else by the scheme; null where it has none. */
export function gatewayOf(block: Block, prefix: Prefix, brief: Brief): Address | null {
  const text = prefix.family === 4 ? block.gateway : block.gateway6;
  const read = text === undefined ? null : parseAddress(text);
  if (read?.ok && read.value.family === prefix.family) return read.value;
  return hasGateway(block, prefix) ? schemeGateway(block, prefix, brief) : null;
}

/** A range of the plan whose addresses could be read. */
export interface ReadRange {
  id: string;
  range: PlanRange;
  span: AddressRange;
}

/** Ranges of the plan that can be read, by family and first address. */
export function readRanges(tree: PlanTree): ReadRange[] {
  return entriesById(tree.plan.ranges)
    .flatMap(([id, range]) => {
      const [from, to] = [parseAddress(range.from), parseAddress(range.to)];
      return from.ok && to.ok && from.value.family === to.value.family && from.value.value <= to.value.value
        ? [{ id, range, span: { from: from.value, to: to.value } }]
        : [];
    })
    .sort((a, b) => compareAddresses(a.span.from, b.span.from));
}

/** Those of the ranges (in the order of readRanges) that lie in a block. */
export function rangesIn(ranges: readonly ReadRange[], prefix: Prefix): ReadRange[] {
  let [low, high] = [0, ranges.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (compareAddresses(ranges[middle]!.span.from, prefix) < 0) low = middle + 1;
    else high = middle;
  }
  const found: ReadRange[] = [];
  for (let at = low; at < ranges.length && contains(prefix, ranges[at]!.span.from); at++)
    if (contains(prefix, ranges[at]!.span.to)) found.push(ranges[at]!);
  return found;
}

/** How full a block is, in addresses of one family. */
export interface Fill {
  /** Whether other blocks lie in it: then `taken` counts the space given to them, else the addresses in use. */
  divided: boolean;
  taken: bigint;
  /** What `taken` is measured against: the whole block, or the usable addresses of a subnet. */
  of: bigint;
  /** Addresses of ranges that are set aside and not in use yet (subnets only). */
  reserved: bigint;
}

/** How full a block is: a divided one by what is divided out of it, a subnet by addresses in use against usable ones. */
export function fillOf(
  tree: PlanTree,
  node: PlanNode,
  brief: Brief,
  ranges: readonly ReadRange[] = readRanges(tree),
  family: Family = mainFamily(node),
): Fill | null {
  const prefix = node.space[family];
  if (!prefix) return null;
  if (!isSubnet(node)) {
    const taken = spacesIn(tree, node.id, family).reduce((sum, space) => sum + sizeOf(space), 0n);
    const kept = node.children.reduce((sum, id) => {
      const { block, space } = tree.nodes.get(id)!;
      return block.standing === 'kept-free' && space[family] ? sum + sizeOf(space[family]) : sum;
    }, 0n);
    return { divided: true, taken: taken - kept, of: sizeOf(prefix), reserved: 0n };
  }
  const usable = usableIn(node.block, prefix);
  const list = tree.addresses[family];
  const gateway = gatewayOf(node.block, prefix, brief);
  const countsExtra = gateway && contains(prefix, gateway) && !list.has(gateway.value) ? 1n : 0n;
  const taken = BigInt(list.countIn(usable.from.value, usable.to.value)) + countsExtra;
  const reserved = rangesIn(ranges, prefix).reduce(
    (sum, { span }) => sum + rangeSize(span) - BigInt(list.countIn(span.from.value, span.to.value)),
    0n,
  );
  return { divided: false, taken, of: rangeSize(usable), reserved };
}

/**
 * The lowest address of a subnet that nobody has: not in the plan, not the gateway, not set aside, and not among
 * `alsoUsed` (for instance what a drawing uses). Null where the subnet is full, kept free or being vacated.
 */
export function nextFreeIn(
  tree: PlanTree,
  node: PlanNode,
  family: Family,
  brief: Brief,
  ranges: readonly ReadRange[] = readRanges(tree),
  alsoUsed: ReadonlySet<bigint> = new Set(),
): Address | null {
  const prefix = node.space[family];
  if (!prefix || !isGivenOut(node.block)) return null;
  const usable = usableIn(node.block, prefix);
  const gateway = gatewayOf(node.block, prefix, brief)?.value;
  const kept = rangesIn(ranges, prefix).map((range) => range.span);
  let at = usable.from.value;
  for (;;) {
    const free = tree.addresses[family].nextFree(at, usable.to.value);
    if (free === null) return null;
    const inside = kept.find(({ from, to }) => from.value <= free && free <= to.value);
    if (!inside && free !== gateway && !alsoUsed.has(free)) return { family, value: free };
    at = inside ? inside.to.value + 1n : free + 1n;
  }
}

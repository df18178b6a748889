import {
  type Address,
  type Family,
  type Prefix,
  AddressList,
  FreeSpace,
  comparePrefixes,
  contains,
  formatAddress,
  lastOf,
  parseAddress,
  parsePrefix,
  samePrefix,
} from '../address';
import { entriesById } from '../topology';
import { type Block, type Plan } from './schema';

/** A block with its place: which block it lies in, and which lie in it. */
export interface PlanNode {
  readonly id: string;
  readonly block: Block;
  /** Its prefixes by family; null where it has none or it cannot be read. */
  readonly space: Readonly<Record<Family, Prefix | null>>;
  /** The smallest block that holds it, for each family; they should be the same. */
  readonly parents: Readonly<Record<Family, string | null>>;
  /** The block it is shown under: by IPv4 where it has an IPv4 prefix. */
  readonly parent: string | null;
  /** Blocks shown under it, by address. */
  readonly children: readonly string[];
  /** Blocks directly in it by the nesting of each family, by address; mostly the children. */
  readonly inside: Readonly<Record<Family, readonly string[]>>;
  readonly depth: number;
}

/**
 * A plan read: the tree that follows from the prefixes, and its addresses in order. Invariant: every block of the plan is
 * in `nodes`, and `order` lists all of them from top to bottom, each after its parent; those that cannot be read are last.
 */
export interface PlanTree {
  readonly plan: Plan;
  readonly nodes: ReadonlyMap<string, PlanNode>;
  readonly roots: readonly string[];
  readonly order: readonly string[];
  readonly addresses: Readonly<Record<Family, AddressList>>;
}

const FAMILIES: readonly Family[] = [4, 6];
type Draft = { -readonly [K in keyof PlanNode]: PlanNode[K] } & {
  children: string[];
  inside: Record<Family, string[]>;
};

/**
 * The blocks of a plan as a tree by what contains what, with what of a tree before is still the same taken from it.
 * Time grows with n log n.
 */
export function planTree(plan: Plan, before?: PlanTree): PlanTree {
  const drafts = new Map<string, Draft>();
  for (const [id, block] of entriesById(plan.blocks)) {
    const known = before?.nodes.get(id);
    const space = known?.block === block ? known.space : spaceOf(block);
    drafts.set(id, {
      id,
      block,
      space,
      parents: { 4: null, 6: null },
      parent: null,
      children: [],
      inside: { 4: [], 6: [] },
      depth: 0,
    });
  }
  for (const family of FAMILIES) linkParents(drafts, family);
  const roots: string[] = [];
  const sorted = [...drafts.values()].sort(compareNodes);
  for (const node of sorted) {
    node.parent = node.parents[mainFamily(node)] ?? node.parents[mainFamily(node) === 4 ? 6 : 4];
    const parent = node.parent === null ? undefined : drafts.get(node.parent);
    if (parent) parent.children.push(node.id);
    else roots.push(node.id);
  }
  const order: string[] = [];
  const walk = (id: string, depth: number): void => {
    const node = drafts.get(id)!;
    node.depth = depth;
    order.push(id);
    for (const child of node.children) walk(child, depth + 1);
  };
  for (const root of roots) walk(root, 0);
  return { plan, nodes: drafts, roots, order, addresses: listed(plan, before) };
}

function spaceOf(block: Block): Record<Family, Prefix | null> {
  const space: Record<Family, Prefix | null> = { 4: null, 6: null };
  for (const text of [block.prefix, block.prefix6]) {
    const read = text === undefined ? null : parsePrefix(text);
    if (read?.ok && !space[read.value.family]) space[read.value.family] = read.value;
  }
  return space;
}

/** The family by which a block is placed. */
export const mainFamily = ({ space }: Pick<PlanNode, 'space'>): Family => (space[4] ? 4 : 6);
/** The prefix by which a block is placed; null where it cannot be read. */
export const mainSpace = (node: Pick<PlanNode, 'space'>): Prefix | null => node.space[4] ?? node.space[6];

/** By address; what cannot be read is last, by id. */
function compareNodes(a: PlanNode, b: PlanNode): number {
  const [x, y] = [mainSpace(a), mainSpace(b)];
  if (x && y) return comparePrefixes(x, y) || (a.id < b.id ? -1 : 1);
  return x ? -1 : y ? 1 : a.id < b.id ? -1 : 1;
}

/** Sorted blocks nest like brackets: the open ones are a stack. A block lies in a larger one only, never in its twin. */
function linkParents(drafts: ReadonlyMap<string, Draft>, family: Family): void {
  const placed = [...drafts.values()].flatMap((node) => (node.space[family] ? [{ node, at: node.space[family] }] : []));
  placed.sort((a, b) => comparePrefixes(a.at, b.at) || (a.node.id < b.node.id ? -1 : 1));
  const open: typeof placed = [];
  for (const placement of placed) {
    while (open.length && !contains(open.at(-1)!.at, placement.at)) open.pop();
    const parent = open.findLast((other) => other.at.length < placement.at.length);
    placement.node.parents = { ...placement.node.parents, [family]: parent?.node.id ?? null };
    parent?.node.inside[family].push(placement.node.id);
    open.push(placement);
  }
}

/** The addresses in order. What an earlier reading of the plan knows is not read again. */
function listed(plan: Plan, before?: PlanTree): Record<Family, AddressList> {
  if (before && before.plan.addresses === plan.addresses) return before.addresses;
  const changed = before && fewChanges(before.plan.addresses ?? {}, plan.addresses ?? {});
  if (before && changed) return changed.reduce(changedList, before.addresses);
  const values: Record<Family, bigint[]> = { 4: [], 6: [] };
  for (const key in plan.addresses) {
    const read = parseAddress(key);
    if (read.ok) values[read.value.family].push(read.value.value);
  }
  return { 4: AddressList.of(4, values[4]), 6: AddressList.of(6, values[6]) };
}

const FEW = 64;
/** The keys that came or went, where they are few. */
function fewChanges(before: object, after: object): { key: string; came: boolean }[] | null {
  const changed: { key: string; came: boolean }[] = [];
  for (const key in after) {
    if (!(key in before)) changed.push({ key, came: true });
    if (changed.length > FEW) return null;
  }
  for (const key in before) {
    if (!(key in after)) changed.push({ key, came: false });
    if (changed.length > FEW) return null;
  }
  return changed;
}

function changedList(
  addresses: Record<Family, AddressList>,
  { key, came }: { key: string; came: boolean },
): Record<Family, AddressList> {
  const read = parseAddress(key);
  if (!read.ok) return addresses;
  const { family, value } = read.value;
  const list = addresses[family];
  return { ...addresses, [family]: came ? list.with(value) : list.without(value) };
}

export const nodeOf = (tree: PlanTree, id: string | null | undefined): PlanNode | null =>
  (id !== null && id !== undefined && tree.nodes.get(id)) || null;

/** A block that is not divided. */
export const isSubnet = (node: PlanNode): boolean => node.children.length === 0;

/** What is free in a block beside the blocks in it. */
export function freeIn(tree: PlanTree, id: string, family: Family): FreeSpace | null {
  const block = tree.nodes.get(id)?.space[family];
  if (!block) return null;
  return FreeSpace.of(block, spacesIn(tree, id, family));
}

/** The space of the blocks directly in a block, in one family: by that family's own nesting, twins once. */
export function spacesIn(tree: PlanTree, id: string, family: Family): Prefix[] {
  const used: Prefix[] = [];
  for (const inner of tree.nodes.get(id)?.inside[family] ?? []) {
    const own = tree.nodes.get(inner)!.space[family]!;
    const last = used.at(-1);
    if (!last || !samePrefix(last, own)) used.push(own);
  }
  return used;
}

/** The ids of a block and of all that lie in it. */
export function withAllIn(tree: PlanTree, id: string): string[] {
  const node = tree.nodes.get(id);
  return node ? [id, ...node.children.flatMap((child) => withAllIn(tree, child))] : [];
}

/** The smallest block that holds an address. Blocks of a level lie apart and in order: a binary search on each level. */
export function blockAt(tree: PlanTree, { family, value }: Address): PlanNode | null {
  let found: PlanNode | null = null;
  let level = topOf(tree, family);
  for (;;) {
    let [low, high] = [0, level.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (tree.nodes.get(level[middle]!)!.space[family]!.value <= value) low = middle + 1;
      else high = middle;
    }
    const node = low ? tree.nodes.get(level[low - 1]!)! : null;
    if (!node || !contains(node.space[family]!, { family, value })) return found;
    found = node;
    level = node.inside[family];
  }
}

const tops = new WeakMap<PlanTree, Record<Family, string[]>>();
/** Blocks of a family that lie in no other, in order. */
function topOf(tree: PlanTree, family: Family): readonly string[] {
  let top = tops.get(tree);
  if (!top) {
    const placed = (family: Family): string[] =>
      [...tree.nodes.values()]
        .filter((node) => node.space[family] && node.parents[family] === null)
        .sort((a, b) => comparePrefixes(a.space[family]!, b.space[family]!))
        .map((node) => node.id);
    tops.set(tree, (top = { 4: placed(4), 6: placed(6) }));
  }
  return top[family];
}

/** Addresses of the plan that lie in a block, in order, with their text: the keys of a plan are canonical. */
export function addressesIn(tree: PlanTree, prefix: Prefix): { value: bigint; key: string }[] {
  const { family } = prefix;
  return tree.addresses[family]
    .within(prefix.value, lastOf(prefix).value)
    .map((value) => ({ value, key: formatAddress({ family, value }) }));
}

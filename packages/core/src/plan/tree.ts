import {
  type Address,
  type Family,
  type Prefix,
  AddressList,
  FreeSpace,
  comparePrefixes,
  contains,
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
  /** The plan's own text of an address, by family and value. */
  readonly keys: Readonly<Record<Family, ReadonlyMap<bigint, string>>>;
}

const FAMILIES: readonly Family[] = [4, 6];
type Draft = { -readonly [K in keyof PlanNode]: PlanNode[K] } & { children: string[] };

export function planTree(plan: Plan, before?: PlanTree): PlanTree {
  const drafts = new Map<string, Draft>();
  for (const [id, block] of entriesById(plan.blocks)) {
    const known = before?.nodes.get(id);
    const space = known?.block === block ? known.space : spaceOf(block);
    drafts.set(id, { id, block, space, parents: { 4: null, 6: null }, parent: null, children: [], depth: 0 });
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
  return { plan, nodes: drafts, roots, order, ...listed(plan, before) };
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
  for (const one of placed) {
    while (open.length && !contains(open.at(-1)!.at, one.at)) open.pop();
    const parent = open.findLast((other) => other.at.length < one.at.length);
    one.node.parents = { ...one.node.parents, [family]: parent?.node.id ?? null };
    open.push(one);
  }
}

/** The addresses in order. What an earlier reading of the plan knows is not read again. */
function listed(plan: Plan, before?: PlanTree): Pick<PlanTree, 'addresses' | 'keys'> {
  if (before && before.plan.addresses === plan.addresses) return { addresses: before.addresses, keys: before.keys };
  const changed = before && fewChanges(before.plan.addresses ?? {}, plan.addresses ?? {});
  if (before && changed) return changed.reduce(changedList, { addresses: before.addresses, keys: before.keys });
  const keys = { 4: new Map<bigint, string>(), 6: new Map<bigint, string>() };
  for (const key of Object.keys(plan.addresses ?? {})) {
    const read = parseAddress(key);
    if (read.ok) keys[read.value.family].set(read.value.value, key);
  }
  return { addresses: { 4: AddressList.of(4, keys[4].keys()), 6: AddressList.of(6, keys[6].keys()) }, keys };
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
  { addresses, keys }: Pick<PlanTree, 'addresses' | 'keys'>,
  { key, came }: { key: string; came: boolean },
): Pick<PlanTree, 'addresses' | 'keys'> {
  const read = parseAddress(key);
  if (!read.ok) return { addresses, keys };
  const { family, value } = read.value;
  const known = new Map(keys[family]);
  if (came) known.set(value, key);
  else known.delete(value);
  const list = came ? addresses[family].with(value) : addresses[family].without(value);
  return { addresses: { ...addresses, [family]: list }, keys: { ...keys, [family]: known } };
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

/** The blocks directly in a block, in one family: by that family's own nesting. */
export const spacesIn = (tree: PlanTree, id: string, family: Family): Prefix[] => {
  const used: Prefix[] = [];
  for (const node of tree.nodes.values()) {
    const own = node.space[family];
    if (own && node.parents[family] === id && !used.some((one) => samePrefix(one, own))) used.push(own);
  }
  return used;
};

/** The ids of a block and of all that lie in it. */
export function withAllIn(tree: PlanTree, id: string): string[] {
  const node = tree.nodes.get(id);
  return node ? [id, ...node.children.flatMap((child) => withAllIn(tree, child))] : [];
}

/** The smallest block that holds an address. */
export function blockAt(tree: PlanTree, address: Address): PlanNode | null {
  let found: PlanNode | null = null;
  const level = (ids: readonly string[]): void => {
    // The blocks of a level are sorted by their main family; an address of the other one is looked for among all.
    for (const id of ids) {
      const node = tree.nodes.get(id)!;
      const own = node.space[address.family];
      if (own && contains(own, address)) {
        found = node;
        level(node.children);
        return;
      }
    }
  };
  level(tree.roots);
  return found;
}

/** Addresses of the plan that lie in a block, in order, with their own text. */
export function addressesIn(tree: PlanTree, prefix: Prefix): { value: bigint; key: string }[] {
  const keys = tree.keys[prefix.family];
  return tree.addresses[prefix.family]
    .within(prefix.value, lastOf(prefix).value)
    .map((value) => ({ value, key: keys.get(value)! }));
}

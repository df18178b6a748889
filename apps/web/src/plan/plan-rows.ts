import { type Address, type Family, compareAddresses, formatAddress, lastOf, parseAddress } from '@sobrin/core/address';
import {
  type Fill,
  type PlanNode,
  type PlanTree,
  type ReadRange,
  addressesIn,
  blockAt,
  isSubnet,
  rangesIn,
} from '@sobrin/core/plan';

/** A line of the tree: a block, or inside an opened subnet one of its ranges or addresses. */
export type PlanRow = { key: string; depth: number; block: PlanNode | null } & (
  | { kind: 'block'; block: PlanNode; open: boolean; opens: boolean }
  | { kind: 'range'; range: ReadRange }
  | { kind: 'address'; address: string; family: Family }
);

/** More addresses than this are not listed for a search: nobody reads them, and another letter makes them fewer. */
export const MOST_FOUND = 1000;

const FAMILIES: readonly Family[] = [4, 6];

/**
 * The lines that are seen. A block is open unless it is in `closed`; a subnet is closed unless it is in `opened`. With a
 * search only what matches is seen, with the blocks around it.
 */
export function planRows(
  tree: PlanTree,
  ranges: readonly ReadRange[],
  state: { closed: ReadonlySet<string>; opened: ReadonlySet<string>; search: string },
): PlanRow[] {
  const words = state.search.toLowerCase().trim();
  return words ? found(tree, ranges, words) : all(tree, ranges, state);
}

function all(
  tree: PlanTree,
  ranges: readonly ReadRange[],
  { closed, opened }: { closed: ReadonlySet<string>; opened: ReadonlySet<string> },
): PlanRow[] {
  const rows: PlanRow[] = [];
  const visit = (id: string): void => {
    const node = tree.nodes.get(id)!;
    const subnet = isSubnet(node);
    const open = subnet ? opened.has(id) : !closed.has(id);
    const opens = !subnet || holdsAny(tree, node, ranges);
    rows.push({ kind: 'block', key: id, depth: node.depth, block: node, open: open && opens, opens });
    if (!open) return;
    if (subnet) rows.push(...insideOf(tree, node, ranges));
    else for (const child of node.children) visit(child);
  };
  for (const root of tree.roots) visit(root);
  return rows;
}

/** Whether a subnet has ranges or addresses, without listing them. */
const holdsAny = (tree: PlanTree, { space }: PlanNode, ranges: readonly ReadRange[]): boolean =>
  FAMILIES.some((family) => {
    const prefix = space[family];
    return (
      prefix !== null &&
      (tree.addresses[family].countIn(prefix.value, lastOf(prefix).value) > 0 || rangesIn(ranges, prefix).length > 0)
    );
  });

/** Ranges and addresses of a subnet, by address. */
function insideOf(tree: PlanTree, node: PlanNode, ranges: readonly ReadRange[]): PlanRow[] {
  const depth = node.depth + 1;
  return FAMILIES.flatMap((family) => {
    const prefix = node.space[family];
    if (!prefix) return [];
    const own = rangesIn(ranges, prefix).map((range): { at: bigint; row: PlanRow } => ({
      at: range.span.from.value,
      row: { kind: 'range', key: `range ${range.id}`, depth, block: node, range },
    }));
    const listed = addressesIn(tree, prefix).map(({ key, value }): { at: bigint; row: PlanRow } => ({
      at: value,
      row: { kind: 'address', key, depth, block: node, address: key, family },
    }));
    return [...own, ...listed].sort((a, b) => (a.at < b.at ? -1 : a.at > b.at ? 1 : 0)).map((entry) => entry.row);
  });
}

function found(tree: PlanTree, ranges: readonly ReadRange[], words: string): PlanRow[] {
  const fits = (...texts: (string | undefined)[]): boolean =>
    texts.some((text) => text !== undefined && text.toLowerCase().includes(words));
  const keep = new Set<string>();
  const inside = new Map<string, PlanRow[]>();
  const keepWithParents = (node: PlanNode): void => {
    for (let at: PlanNode | undefined = node; at && !keep.has(at.id); at = tree.nodes.get(at.parent ?? ''))
      keep.add(at.id);
  };
  const put = (node: PlanNode | null, row: PlanRow): void => {
    if (!node || !isSubnet(node)) return;
    const rows = inside.get(node.id);
    if (rows) rows.push(row);
    else inside.set(node.id, [row]);
    keepWithParents(node);
  };
  for (const { block, id } of tree.nodes.values())
    if (
      fits(block.name, block.prefix, block.prefix6, block.site, block.purpose) ||
      (block.vlan !== undefined && fits(`vlan ${block.vlan}`))
    )
      keepWithParents(tree.nodes.get(id)!);
  // First the addresses that match, then their place: most of a large plan never matches.
  const matches: Address[] = [];
  const { addresses = {} } = tree.plan;
  for (const key in addresses) {
    if (matches.length >= MOST_FOUND) break;
    const { name, dns, role, note } = addresses[key]!;
    const read = key.includes(words) || fits(name, dns, role, note) ? parseAddress(key) : null;
    if (read?.ok) matches.push(read.value);
  }
  for (const address of matches.sort(compareAddresses)) {
    const node = blockAt(tree, address);
    const key = formatAddress(address);
    put(node, {
      kind: 'address',
      key,
      depth: (node?.depth ?? 0) + 1,
      block: node,
      address: key,
      family: address.family,
    });
  }
  for (const range of ranges)
    if (fits(range.range.from, range.range.to, range.range.name)) {
      const node = blockAt(tree, range.span.from);
      put(node, { kind: 'range', key: `range ${range.id}`, depth: (node?.depth ?? 0) + 1, block: node, range });
    }
  return tree.order
    .filter((id) => keep.has(id))
    .flatMap((id): PlanRow[] => {
      const node = tree.nodes.get(id)!;
      return [
        { kind: 'block', key: id, depth: node.depth, block: node, open: true, opens: false },
        ...(inside.get(id) ?? []),
      ];
    });
}

/** "17 of 62", or for a divided block how much of it is divided out. */
export function fillWords({ divided, taken, of }: Fill): string {
  if (divided) return `${percent(taken, of)} %`;
  return of > 99_999n ? String(taken) : `${taken} of ${of}`;
}

/** A share in whole per cent; what is more than nothing is never shown as 0, what is less than all never as 100. */
export function percent(part: bigint, of: bigint): number {
  if (of === 0n || part === 0n) return 0;
  if (part >= of) return 100;
  return Math.min(99, Math.max(1, Number((part * 100n) / of)));
}

/** An IPv6 prefix without the beginning that all of the plan share: ":3::/64" where the root is fd5e:7a3c:90b1::/48. */
export function shortSix(text: string, tree: PlanTree): string {
  const roots = tree.roots.flatMap((id) => {
    const six = tree.nodes.get(id)!.space[6];
    return six && six.length % 16 === 0 && six.length <= 64 ? [tree.nodes.get(id)!.block] : [];
  });
  const [root] = roots;
  const start = roots.length === 1 && root ? (root.prefix6 ?? root.prefix).replace(/::\/\d+$/, '') : '';
  return start && text !== (root!.prefix6 ?? root!.prefix) && text.startsWith(start)
    ? `…${text.slice(start.length)}`
    : text;
}

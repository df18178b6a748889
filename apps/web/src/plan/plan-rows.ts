import {
  type Family,
  type Fill,
  type PlanNode,
  type PlanTree,
  type ReadRange,
  addressesIn,
  isSubnet,
  rangesIn,
} from '@sobrin/core';

/** A line of the tree: a block, or inside an opened subnet one of its ranges or addresses. */
export type PlanRow = { key: string; depth: number; block: PlanNode | null } & (
  | { kind: 'block'; block: PlanNode; open: boolean; opens: boolean }
  | { kind: 'range'; range: ReadRange }
  | { kind: 'address'; address: string; family: Family }
);

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
    const inside = subnet ? insideOf(tree, node, ranges) : [];
    const open = subnet ? opened.has(id) : !closed.has(id);
    const opens = !subnet || inside.length > 0;
    rows.push({ kind: 'block', key: id, depth: node.depth, block: node, open: open && opens, opens });
    if (!open) return;
    if (subnet) rows.push(...inside);
    else for (const child of node.children) visit(child);
  };
  for (const root of tree.roots) visit(root);
  return rows;
}

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
    return [...own, ...listed].sort((a, b) => (a.at < b.at ? -1 : a.at > b.at ? 1 : 0)).map((one) => one.row);
  });
}

function found(tree: PlanTree, ranges: readonly ReadRange[], words: string): PlanRow[] {
  const fits = (...texts: (string | number | undefined)[]): boolean =>
    texts.some((one) => one !== undefined && String(one).toLowerCase().includes(words));
  const keep = new Set<string>();
  const inside = new Map<string, PlanRow[]>();
  for (const node of tree.nodes.values()) {
    const { block } = node;
    const rows = isSubnet(node)
      ? insideOf(tree, node, ranges).filter((row) =>
          row.kind === 'address'
            ? fits(row.address, tree.plan.addresses?.[row.address]?.name, tree.plan.addresses?.[row.address]?.note)
            : row.kind === 'range' && fits(row.range.range.from, row.range.range.to, row.range.range.name),
        )
      : [];
    if (rows.length) inside.set(node.id, rows);
    if (
      rows.length ||
      fits(block.name, block.prefix, block.prefix6, block.site, block.purpose) ||
      (block.vlan !== undefined && fits(`vlan ${block.vlan}`))
    )
      for (let at: PlanNode | undefined = node; at; at = at.parent === null ? undefined : tree.nodes.get(at.parent))
        keep.add(at.id);
  }
  return tree.order
    .filter((id) => keep.has(id))
    .flatMap((id): PlanRow[] => {
      const node = tree.nodes.get(id)!;
      const rows = inside.get(id) ?? [];
      return [{ kind: 'block', key: id, depth: node.depth, block: node, open: true, opens: false }, ...rows];
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

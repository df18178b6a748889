import { type Plan, type Prefix, comparePrefixes, contains, overlaps, parsePrefix } from '@sobrin/core';

export interface PlanRow {
  id: string;
  block: Plan['blocks'][string];
  /** 0 for a root; a block lies in the smallest one that holds it. */
  depth: number;
  /** What is wrong with the block, as a sentence. */
  problem: string | null;
}

/** The blocks as a tree read from top to bottom: which block lies in which follows from the prefixes. */
export function planRows(plan: Plan): PlanRow[] {
  const read = Object.entries(plan.blocks).map(([id, block]) => ({ id, block, parsed: parsePrefix(block.prefix) }));
  const good = read.flatMap((one) => (one.parsed.ok ? [{ ...one, prefix: one.parsed.value }] : []));
  good.sort(
    (a, b) => comparePrefixes(a.prefix, b.prefix) || a.prefix.length - b.prefix.length || (a.id < b.id ? -1 : 1),
  );
  const rows = good.map(({ id, block, prefix }, at): PlanRow => {
    const depth = good.filter(
      (one) => one.id !== id && one.prefix.length < prefix.length && contains(one.prefix, prefix),
    ).length;
    return { id, block, depth, problem: problemOf(prefix, good.slice(0, at)) };
  });
  const bad = read.flatMap(({ id, block, parsed }): PlanRow[] =>
    parsed.ok ? [] : [{ id, block, depth: 0, problem: parsed.error.text }],
  );
  return [...rows, ...bad];
}

function problemOf(
  prefix: Prefix,
  before: readonly { block: Plan['blocks'][string]; prefix: Prefix }[],
): string | null {
  const twin = before.find((one) => one.prefix.length === prefix.length && overlaps(one.prefix, prefix));
  return twin ? `The same block as “${twin.block.name}”.` : null;
}

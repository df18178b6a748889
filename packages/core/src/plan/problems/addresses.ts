import { type Prefix } from '../../address';
import { type Brief } from '../schema';
import { type ReadRange, gatewayOf, rangesIn, readRanges } from '../subnet';
import { type PlanNode, type PlanTree, addressesIn, isSubnet } from '../tree';
import { type PlanProblemCode, type PlanProblem, spaces, named, unusableEnds } from './problem';

/** How many addresses are looked at in one step. */
const ADDRESSES_AT_ONCE = 1000;

export function* addressProblems(
  tree: PlanTree,
  nodes: readonly PlanNode[],
  brief: Brief,
): Generator<undefined, PlanProblem[]> {
  const ranges = readRanges(tree);
  const inside = new Set<string>();
  const problems: PlanProblem[] = [];
  let atOnce = 0;
  for (const node of nodes)
    for (const prefix of isSubnet(node) ? spaces(node) : []) {
      const listed = addressesIn(tree, prefix);
      for (const { key } of listed) inside.add(key);
      problems.push(...subnetAddressProblems(tree, node, prefix, listed, rangesIn(ranges, prefix), brief));
      atOnce += listed.length + 20;
      if (atOnce < ADDRESSES_AT_ONCE) continue;
      atOnce = 0;
      yield;
    }
  const all = Object.entries(tree.plan.addresses ?? {});
  const outside = all.length === inside.size ? [] : all.filter(([key]) => !inside.has(key));
  return [
    ...problems,
    ...outside.map(([key, { name }]): PlanProblem => ({
      code: 'ADDRESS_OUTSIDE',
      text: `${key} (${name}) lies in no subnet of the plan.`,
      at: { address: key },
    })),
  ];
}

/** Plans have tens of thousands of addresses: for one that is well nothing is made here. */
function subnetAddressProblems(
  tree: PlanTree,
  node: PlanNode,
  prefix: Prefix,
  listed: readonly { value: bigint; key: string }[],
  ranges: readonly ReadRange[],
  brief: Brief,
): PlanProblem[] {
  const problems: PlanProblem[] = [];
  const gateway = gatewayOf(node.block, prefix, brief)?.value;
  const pools = ranges.filter((range) => range.range.use === 'pool');
  const ends = unusableEnds(node.block, prefix);
  const owners = new Map<string, string>();
  for (const { key, value } of listed) {
    const name = tree.plan.addresses![key]!.name.trim();
    const report = (code: PlanProblemCode, words: string): void =>
      void problems.push({ code, text: `${key} (${name}) ${words}`, at: { address: key, block: node.id } });
    const end = ends.find((end) => end.value === value);
    if (end) report('ADDRESS_UNUSABLE', `is the ${end.word} of ${named(node)}: no device can have it.`);
    else if (node.block.standing === 'kept-free')
      report('ADDRESS_KEPT_FREE', `lies in ${named(node)}, which is kept free.`);
    else if (pools.some(({ span }) => span.from.value <= value && value <= span.to.value))
      report('ADDRESS_IN_POOL', `lies in the DHCP pool of ${named(node)}: the server may lease it to another.`);
    else if (value !== gateway && name) {
      const first = owners.get(name);
      if (first === undefined) owners.set(name, key);
      else
        problems.push({
          code: 'ADDRESS_TWICE',
          text: `${name} has two addresses in ${named(node)}: ${first} and ${key}.`,
          at: { address: key, block: node.id },
        });
    }
  }
  return problems;
}

import { type Prefix, formatPrefix, isPrivate, likelyMeant, overlaps, parsePrefix, samePrefix } from '../../address';
import { type Block, type rulesOf } from '../schema';
import { type PlanNode, type PlanTree } from '../tree';
import { type PlanProblemCode, type PlanProblem, FAMILIES, named } from './problem';

const PRIVATE_RANGES = ['10.0.0.0/8', '172.16.0.0/12', '192.168.0.0/16'].map((text) => {
  const read = parsePrefix(text);
  if (!read.ok) throw new Error(read.error.text);
  return read.value;
});
const privateRangeOf = (prefix: Prefix): Prefix | undefined => PRIVATE_RANGES.find((range) => overlaps(range, prefix));

/** The rules of a brief and the provider's ranges, read once. */
export type Ruling = ReturnType<typeof rulesOf> & { outside: readonly Prefix[] };

/** What the brief's rules say of each prefix of a block. What is said of the block around it is not said again. */
export function briefRules(tree: PlanTree, node: PlanNode, ruling: Ruling): PlanProblem[] {
  return FAMILIES.flatMap((family): PlanProblem[] => {
    const prefix = node.space[family];
    if (!prefix) return [];
    const parent = node.parents[family] === null ? null : tree.nodes.get(node.parents[family])!;
    const problem = ruleProblem(node.block, prefix, ruling);
    if (!problem || (parent && ruleProblem(parent.block, parent.space[family]!, ruling)?.code === problem.code))
      return [];
    return [{ code: problem.code, text: `${named(node)}: ${problem.text}`, at: { block: node.id } }];
  });
}

function ruleProblem(block: Block, prefix: Prefix, ruling: Ruling): { code: PlanProblemCode; text: string } | null {
  const { privateOnly, notOutside, otherPrivate } = ruling;
  const text = formatPrefix(prefix);
  const outside = ruling.outside.find((reserved) => overlaps(reserved, prefix));
  // Translation and links are where inside meets outside: they may be the provider's on purpose.
  const isEdge = block.use === 'translation' || block.use === 'link';
  if (outside && notOutside && !isEdge)
    return {
      code: 'PROVIDER_RANGE',
      text: `${text} ${samePrefix(outside, prefix) ? 'is' : `meets ${formatPrefix(outside)}, which is`} handed out by the provider: it must not be used inside.`,
    };
  if (privateOnly && !outside && !isPrivate(prefix))
    return {
      code: 'NOT_PRIVATE',
      text: `${text} is no private block${likelyMeant(prefix)}. Private are 10.0.0.0/8, 172.16.0.0/12, 192.168.0.0/16 and fc00::/7.`,
    };
  const mine = prefix.family === 4 ? privateRangeOf(prefix) : undefined;
  if (otherPrivate && mine && ruling.outside.some((prefix) => prefix.family === 4 && overlaps(mine, prefix)))
    return {
      code: 'PRIVATE_LIKE_PROVIDER',
      text: `${text} comes from the same private range as the provider’s (${formatPrefix(mine)}): another one is asked for.`,
    };
  return null;
}

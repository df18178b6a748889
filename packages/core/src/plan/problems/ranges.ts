import { contains, formatAddress, formatRange, lastOf, parseAddress, rangesMeet } from '../../address';
import { entriesById } from '../../topology';
import { readRanges } from '../subnet';
import { type PlanTree, isSubnet } from '../tree';
import { type PlanProblem, spaces, named } from './problem';

export function rangeProblems(tree: PlanTree): PlanProblem[] {
  const read = readRanges(tree);
  const readable = new Set(read.map((range) => range.id));
  const subnets = [...tree.nodes.values()]
    .filter((node) => isSubnet(node))
    .flatMap((node) => spaces(node).map((prefix) => ({ node, prefix })));
  return [
    ...entriesById(tree.plan.ranges).flatMap(([id, range]): PlanProblem[] => {
      if (readable.has(id)) return [];
      const bad = [range.from, range.to].map(parseAddress).find((parsed) => !parsed.ok);
      const words = bad && !bad.ok ? bad.error.text : `it runs from ${range.from} back to ${range.to}.`;
      return [{ code: 'RANGE_UNREADABLE', text: `A range cannot be read: ${words}`, at: { range: id } }];
    }),
    ...read.flatMap(({ id, span }): PlanProblem[] => {
      const home = subnets.find(({ prefix }) => contains(prefix, span.from));
      if (home && contains(home.prefix, span.to)) return [];
      const words = home
        ? `it begins in ${named(home.node)} and runs beyond its last address ${formatAddress(lastOf(home.prefix))}.`
        : 'it lies in no subnet of the plan.';
      return [
        {
          code: 'RANGE_BEYOND',
          text: `The range ${formatRange(span)}: ${words}`,
          at: { range: id, ...(home && { block: home.node.id }) },
        },
      ];
    }),
    ...meetingRanges(read),
  ];
}

function meetingRanges(read: ReturnType<typeof readRanges>): PlanProblem[] {
  return read.flatMap((range, at): PlanProblem[] => {
    const before = read[at - 1];
    return before && rangesMeet(before.span, range.span)
      ? [
          {
            code: 'RANGES_MEET',
            text: `The ranges ${formatRange(before.span)} and ${formatRange(range.span)} overlap.`,
            at: { range: range.id },
          },
        ]
      : [];
  });
}

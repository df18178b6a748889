import { outsideRanges } from '../outside-ranges';
import { type Brief, type Plan, rulesOf } from '../schema';
import { type PlanTree, planTree } from '../tree';
import { addressProblems } from './addresses';
import { type Ruling, briefRules } from './brief-rules';
import { groupProblems, vlanProblems } from './groups';
import { unreadable, twins, type Homes, dividedFamily, nesting, siteBlocks } from './nesting';
import { type PlanProblem } from './problem';
import { rangeProblems } from './ranges';
import { subnetProblems } from './subnets';

export { PLAN_PROBLEMS, type PlanProblem, type PlanProblemCode } from './problem';
export { roomOf } from './groups';

/**
 * Everything that is wrong in a plan as far as plan and brief tell, in a fixed order: prefixes, nesting, what the brief
 * asks for, subnets, ranges, addresses. Pure; the same for the instructor's plan and for a student's.
 */
export function planProblems(plan: Plan, brief: Brief, tree: PlanTree = planTree(plan)): PlanProblem[] {
  const steps = problemSteps(brief, tree);
  for (;;) {
    const { done, value } = steps.next();
    if (done) return value;
  }
}

/** The same in steps of at most a few milliseconds, for a page that has to answer in between. */
export function* problemSteps(brief: Brief, tree: PlanTree): Generator<undefined, PlanProblem[]> {
  const nodes = tree.order.map((id) => tree.nodes.get(id)!);
  const ruling: Ruling = { ...rulesOf(brief), outside: outsideRanges(brief) };
  const homes: Homes = {
    site: siteBlocks(nodes),
    divided: new Set(tree.roots.flatMap((id) => dividedFamily(tree, id))),
  };
  const problems: PlanProblem[] = [];
  const checks: (() => PlanProblem[])[] = [
    () => nodes.flatMap(unreadable),
    () => twins(nodes),
    () => nodes.flatMap((node) => nesting(tree, node, homes)),
    () => nodes.flatMap((node) => briefRules(tree, node, ruling)),
    () => groupProblems(nodes, brief),
    () => vlanProblems(nodes),
    () => nodes.flatMap((node) => subnetProblems(node, brief)),
    () => rangeProblems(tree),
  ];
  for (const check of checks) {
    problems.push(...check());
    yield;
  }
  return [...problems, ...(yield* addressProblems(tree, nodes, brief))];
}

/** Whether a block is free of problems, for saying so in the tree. */
export const problemsByBlock = (problems: readonly PlanProblem[]): Map<string, PlanProblem[]> => {
  const byBlock = new Map<string, PlanProblem[]>();
  for (const problem of problems)
    if (problem.at.block !== undefined)
      byBlock.set(problem.at.block, [...(byBlock.get(problem.at.block) ?? []), problem]);
  return byBlock;
};

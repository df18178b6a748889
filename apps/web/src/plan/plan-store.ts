import {
  type Block,
  type Brief,
  type Plan,
  type PlanCommand,
  type PlanProblem,
  type PlanTree,
  type ReadRange,
  type SubnetNeed,
  PLAN_MERGE,
  applyPlanCommands,
  meetingWords,
  planBounds,
  planTree,
  problemSteps,
  readRanges,
  subnetNeeds,
  vlanTones,
} from '@sobrin/core/plan';
import { type StoreApi } from 'zustand/vanilla';
import { type DocumentKind, type DocumentState, type DocumentStore } from '../documents/document-store';

/** What is chosen in a plan: blocks (the first is the one that is looked at), or one address of a subnet, or one range. */
export interface PlanSelection {
  blocks: readonly string[];
  address: string | null;
  range: string | null;
}
export const NOTHING: PlanSelection = { blocks: [], address: null, range: null };

export type PlanState = DocumentState<Plan, PlanCommand, PlanSelection>;
export type PlanStore = DocumentStore<Plan, PlanCommand, PlanSelection>;

export const PLAN: DocumentKind<Plan, PlanCommand, PlanSelection> = {
  applyAll: applyPlanCommands,
  problem: (plan) => planBounds(plan)[0]?.text,
  edits: (edits) => ({ kind: 'edits', edits }),
  merge: PLAN_MERGE,
  placeWords: meetingWords,
  // Two may take the same room by different blocks: how they go on is asked, see `MeetingDialog`.
  asksAlways: true,
  nothing: NOTHING,
  existing: (plan, { blocks, address, range }) => ({
    blocks: blocks.filter((id) => plan.blocks[id]),
    address: address !== null && plan.addresses?.[address] ? address : null,
    range: range !== null && plan.ranges?.[range] ? range : null,
  }),
};

/** What follows from a plan and its brief; it is worked out once for each change, for all parts of the page. */
export interface PlanFacts {
  tree: PlanTree;
  ranges: readonly ReadRange[];
  /** The tone of each block's VLAN. */
  toneOf: (block: Block) => number | null;
  needs: readonly SubnetNeed[];
  /** A moment late, as it is not waited for while somebody types; null until it is first known. */
  problems: readonly PlanProblem[] | null;
}

const PROBLEMS_AFTER_MS = 120;
/** How long problems are looked for before the page may answer again. */
const PROBLEMS_AT_ONCE_MS = 8;

export function factsOf(plan: Plan, brief: Brief): PlanFacts {
  const tree = planTree(plan);
  return {
    tree,
    ranges: readRanges(tree),
    toneOf: vlanTones(plan),
    needs: subnetNeeds(brief),
    problems: null,
  };
}

/** Keeps facts up to date with the plan of a store; returns what ends it. */
export function followPlan(store: PlanStore, facts: StoreApi<PlanFacts>, brief: Brief): () => void {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const tellProblems = (): void => goOn(problemSteps(brief, facts.getState().tree));
  const goOn = (steps: ReturnType<typeof problemSteps>): void => {
    const until = performance.now() + PROBLEMS_AT_ONCE_MS;
    let step = steps.next();
    while (!step.done && performance.now() < until) step = steps.next();
    if (step.done) facts.setState({ problems: step.value });
    else timer = setTimeout(() => goOn(steps));
  };
  const follow = (plan: Plan): void => {
    const tree = planTree(plan, facts.getState().tree);
    facts.setState({ tree, ranges: readRanges(tree), toneOf: vlanTones(plan) });
    clearTimeout(timer);
    timer = setTimeout(tellProblems, PROBLEMS_AFTER_MS);
  };
  facts.setState({ needs: subnetNeeds(brief) });
  if (facts.getState().tree.plan === store.getState().document) timer = setTimeout(tellProblems);
  else follow(store.getState().document);
  const unsubscribe = store.subscribe(({ document }, before) => {
    if (document !== before.document) follow(document);
  });
  return () => {
    clearTimeout(timer);
    unsubscribe();
  };
}

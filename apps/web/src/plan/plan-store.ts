import {
  type Brief,
  type Plan,
  type PlanCommand,
  type PlanProblem,
  type PlanTree,
  type ReadRange,
  type SubnetNeed,
  applyPlanCommands,
  planInvariants,
  planProblems,
  planTree,
  readRanges,
  subnetNeeds,
} from '@sobrin/core';
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
  problem: (plan) => {
    const first = planInvariants(plan)[0];
    return first && first.text;
  },
  replace: (plan) => ({ kind: 'replace', plan }),
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
  needs: readonly SubnetNeed[];
  /** A moment late: it is not waited for while somebody types. */
  problems: readonly PlanProblem[];
}

const PROBLEMS_AFTER_MS = 120;

export function factsOf(plan: Plan, brief: Brief): PlanFacts {
  const tree = planTree(plan);
  return { tree, ranges: readRanges(tree), needs: subnetNeeds(brief), problems: planProblems(plan, brief, tree) };
}

/** Keeps facts up to date with the plan of a store; returns what ends it. */
export function followPlan(store: PlanStore, facts: StoreApi<PlanFacts>, brief: Brief): () => void {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const tellProblems = (): void => {
    const { tree } = facts.getState();
    facts.setState({ problems: planProblems(tree.plan, brief, tree) });
  };
  const follow = (plan: Plan): void => {
    const tree = planTree(plan, facts.getState().tree);
    facts.setState({ tree, ranges: readRanges(tree) });
    clearTimeout(timer);
    timer = setTimeout(tellProblems, PROBLEMS_AFTER_MS);
  };
  facts.setState({ needs: subnetNeeds(brief) });
  follow(store.getState().document);
  const unsubscribe = store.subscribe(({ document }, before) => {
    if (document !== before.document) follow(document);
  });
  return () => {
    clearTimeout(timer);
    unsubscribe();
  };
}

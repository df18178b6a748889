import { type Reason } from '../engine';
import { type Brief, type Plan, type PlanCommand } from '../plan';
import { type Command, type Topology } from '../topology';

/** One mistake as somebody could make it at one place. */
export interface Fault<C, P> {
  /** Where it is, not where it is felt. */
  readonly at: P;
  /** What is wrong, in a sentence. */
  readonly text: string;
  /** What makes it; they go when they are applied to the document that it was found in. */
  readonly commands: readonly C[];
}

/** A sort of mistake: it finds every place of a document where it can be made. Pure, and in the same order each time. */
export interface FaultOperator<D, C, P> {
  /** Its name in stored drills and results; it never changes. */
  readonly kind: string;
  /** What it is called, without a place. */
  readonly title: string;
  faultsIn(document: D): Iterable<Fault<C, P>>;
}

export type DrawingFault = Fault<Command, Reason['at']>;
/** An operator that makes mistakes in a drawing. */
export type DrawingFaultOperator = FaultOperator<Topology, Command, Reason['at']>;

/** A plan with the brief that it answers. */
export interface BriefedPlan {
  readonly plan: Plan;
  readonly brief: Brief;
}
export type PlanFaultOperator = FaultOperator<BriefedPlan, PlanCommand, { block?: string; address?: string }>;

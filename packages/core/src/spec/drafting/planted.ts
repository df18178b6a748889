import { type NetworkModel, analyse } from '../../engine';
import { DRAWING_FAULTS, PLAN_FAULTS } from '../../faults';
import { type Plan, applyPlanCommands } from '../../plan';
import { type Topology, applyBatch } from '../../topology';
import { type Rule } from '../combining';
import { contextOf } from '../context';
import { Corresponding } from '../corresponding';
import { evaluate, share } from '../evaluate';
import { type JudgingLab } from '../judging';
import { type CheckContext } from '../rule';

/** A lab with the plan that its reference goes with. */
export type DraftedLab = JudgingLab & { readonly plan: Plan };

/** A known mistake made in the reference, or in the plan, of a lab. */
export interface Planted {
  /** The operator that made it. */
  readonly kind: string;
  readonly text: string;
  readonly drawing: Topology;
  readonly plan: Plan;
}

/** Of each sort of mistake so many are made, spread over all places where it can be made. */
const PLACES = 4;
/** How many are made of all sorts together: fewer in large drawings, counted in devices, so that a draft ends. */
export const mostPlanted = (devices: number): number =>
  Math.max(12, Math.min(160, Math.floor(20_000 / Math.max(1, devices))));

/** The reference, or the plan, with one known mistake each. The same for the same lab. */
export function plantedIn(lab: DraftedLab): Planted[] {
  const drawn = DRAWING_FAULTS.map((operator) =>
    spread([...operator.faultsIn(lab.reference)], PLACES).flatMap(({ text, commands }): Planted[] => {
      const applied = applyBatch(lab.reference, text, commands);
      return applied.ok ? [{ kind: operator.kind, text, drawing: applied.value.document, plan: lab.plan }] : [];
    }),
  );
  const planned = PLAN_FAULTS.map((operator) =>
    spread([...operator.faultsIn(lab)], PLACES).flatMap(({ text, commands }): Planted[] => {
      const applied = applyPlanCommands(lab.plan, text, commands);
      return applied.ok ? [{ kind: operator.kind, text, drawing: lab.reference, plan: applied.value.document }] : [];
    }),
  );
  // First one of each sort, then another one: a bound leaves out none of them.
  const rounds = Array.from({ length: PLACES }, (_, nth) => [...drawn, ...planned].flatMap((of) => of[nth] ?? []));
  return rounds.flat().slice(0, mostPlanted(Object.keys(lab.reference.devices).length));
}

/** So many of a list, evenly spread over it. */
const spread = <T>(list: readonly T[], n: number): T[] =>
  list.length <= n ? [...list] : Array.from({ length: n }, (_, at) => list[Math.floor((at * list.length) / n)]!);

/** What rules say of a drawing whose devices play the roles that they have in the reference. */
export class Sample {
  private readonly context: CheckContext;
  constructor(lab: JudgingLab, reference: NetworkModel, drawing: Topology, plan: Plan) {
    const model = drawing === lab.reference ? reference : analyse(drawing, reference.options);
    this.context = contextOf(lab, reference, model, Corresponding.ownRoles(reference, model), { plan }).context;
  }
  /** The share of a rule that is met, from 0 to 1; null where it does not apply. */
  earns(rule: Rule): number | null {
    const items = evaluate(rule, this.context);
    return items && share(items);
  }
}

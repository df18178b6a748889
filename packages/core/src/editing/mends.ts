import { AnalysisSession, type NetworkModel, problemsOf } from '../engine';
import { type Command } from '../topology';
import { type PlanOfLab } from './next-addresses';
import { repairOf } from './repairs';
import { disagreements } from './disagreements';
import { siblingRepairs } from './siblings';

/** A mistake that keeps a question from being answered, with what would mend it. */
export interface Mend {
  readonly text: string;
  readonly repair: string;
  readonly commands: readonly Command[];
}
/** Mends of which each alone would do, or all of which together would. */
export interface Mends {
  readonly list: readonly Mend[];
  readonly together: boolean;
}

/** So many are tried, fewer the larger a drawing is: whoever draws waits for no more. */
const [MOST, LEAST, DEVICES] = [40, 8, 2400];

/**
 * What of a drawing would have to be otherwise for a question to be answered, by its own problems, its plan and what stands
 * beside it: nothing that anybody else knows. Each was tried.
 *
 * @param isAnswered whether it is in another model of the drawing
 */
export function mendsOf(model: NetworkModel, isAnswered: (model: NetworkModel) => boolean, plan?: PlanOfLab): Mends {
  if (isAnswered(model)) return { list: [], together: false };
  const { topology, options } = model;
  const found: Mend[] = [
    ...problemsOf(model).flatMap((problem): Mend[] => {
      const repair = repairOf(topology, problem, { options, plan });
      return repair ? [{ text: problem.text, repair: repair.text, commands: repair.commands }] : [];
    }),
    // What lets more through comes last: a value that is put right is the likelier mend.
    ...[...siblingRepairs(model), ...disagreements(model)]
      .sort((one, other) => Number(one.opens ?? false) - Number(other.opens ?? false))
      .map(({ text, repair, commands }) => ({ text, repair: repair.join('; '), commands })),
  ];
  const most = Math.max(LEAST, Math.min(MOST, Math.floor(DEVICES / Math.max(1, model.instances.size))));
  const tried = found.slice(0, most);
  const does = (mends: readonly Mend[]): boolean => {
    const session = AnalysisSession.from(model);
    for (const { commands } of mends) for (const command of commands) if (!session.apply(command).ok) return false;
    return isAnswered(session.model);
  };
  const single = tried.filter((mend) => does([mend]));
  // Of two ways to put one thing right the first goes with the others.
  const all = tried.filter(({ text }, at) => tried.findIndex((other) => other.text === text) === at);
  if (single.length || !does(all)) return { list: single, together: false };
  // None alone, all together: what the others do without is left out.
  const needed = tried.reduce<readonly Mend[]>((left, mend) => {
    const others = left.filter((each) => each !== mend);
    return does(others) ? others : left;
  }, all);
  return { list: needed, together: needed.length > 1 };
}

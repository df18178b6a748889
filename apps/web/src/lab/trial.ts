import { type SubmissionView } from '@sobrin/contracts';
import { type PreparedLab, decided, judge } from '@sobrin/core/spec';

/** What a spec that does not judge yet would say of a submission that is judged by another one. */
export interface Tried {
  readonly submissionId: string;
  readonly student: string;
  /** Null where it is not checked yet. */
  readonly now: { readonly points: number; readonly of: number } | null;
  readonly then: { readonly points: number; readonly of: number };
  /** The requirements that earn otherwise; those of one spec alone have nothing in the other. */
  readonly changes: readonly {
    readonly id: string;
    readonly sentence: string;
    readonly now: number | null;
    readonly then: number | null;
  }[];
}

/** Judges a submission as the class would be, with pins and those decisions that would hold. Pure. */
export function triedOn(prepared: PreparedLab, view: SubmissionView): Tried {
  const { id, student, topology, plan, answers, result } = view;
  const pins = Object.fromEntries(view.pins.map(({ role, device }) => [role, device]));
  const judged = judge(prepared, { drawing: topology, ...(plan && { plan }), answers }, pins);
  const would = decided(
    prepared.lab,
    judged,
    view.decisions.filter(({ ended }) => ended === null),
  );
  const before = new Map((result?.requirements ?? []).map((each) => [each.id, each]));
  const after = new Map(would.requirements.map((each) => [each.id, each]));
  const changes = [...new Set([...after.keys(), ...before.keys()])].flatMap((requirement) => {
    const [was, becomes] = [before.get(requirement), after.get(requirement)];
    const [now, then] = [was?.points ?? null, becomes?.points ?? null];
    return now === then ? [] : [{ id: requirement, sentence: (becomes ?? was)!.sentence, now, then }];
  });
  return {
    submissionId: id,
    student: student.name,
    now: result && { points: result.points, of: result.of },
    then: { points: would.points, of: would.of },
    changes: result ? changes : [],
  };
}

/** Whether the mark would be another one: other points, or of another total. */
export const isOtherMark = ({ now, then }: Tried): boolean =>
  now === null || now.points !== then.points || now.of !== then.of;

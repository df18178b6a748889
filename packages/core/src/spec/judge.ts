import { type Plan } from '../plan';
import { type Topology } from '../topology';
import { type PreparedLab, type Submitted, judgeByRequirements, prepareLab } from './check';
import { diagnose } from './diagnosis';
import { type JudgingLab } from './judging';
import { type Pins } from './matching/match';
import { type CheckResult } from './result';

/**
 * Judges what was handed in; where the lab counts a mistake once, with the mistakes behind it and the mark that comes of that.
 * Pure: same lab, submission and pins, same result.
 *
 * @param pins who plays which role where a person has said so; of roles and devices that there are
 */
export function judge(prepared: PreparedLab, submitted: Submitted, pins: Pins = {}): CheckResult {
  const result = judgeByRequirements(prepared, submitted, pins);
  const { followThrough, mistakeRuns } = prepared.lab.policy;
  if (followThrough !== 'on') return result;
  const diagnosis = diagnose(prepared, submitted, result, mistakeRuns === undefined ? {} : { runs: mistakeRuns });
  return { ...result, points: diagnosis.followThrough.mark, diagnosis };
}

/** Judges one submission of a lab. */
export const checkSubmission = (
  lab: JudgingLab,
  drawing: Topology,
  plan?: Plan,
  answers?: Submitted['answers'],
): CheckResult => judge(prepareLab(lab), { drawing, plan, ...(answers && { answers }) });

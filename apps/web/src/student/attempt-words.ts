import { type StudentLabView, type StudentSubmission } from '@sobrin/contracts';
import { markWords } from '../ui/mark-words';
import { whenIn } from '../ui/words';

/** Why nothing of a result is to be seen; null where it is, or was not made yet. */
export function hiddenWords({
  shown,
  dueAt,
  timeZone,
}: Pick<StudentLabView, 'shown' | 'dueAt' | 'timeZone'>): string | null {
  if (shown.what === 'nothing') return 'The lab shows no results here: your instructor tells you.';
  if (shown.when === 'at-once' || (dueAt !== null && new Date(dueAt) < new Date())) return null;
  return dueAt === null
    ? 'Results are shown after the due date, and the lab has none yet.'
    : `Results are shown after ${whenIn(timeZone, dueAt)}.`;
}

/** The state of an attempt in the list of them. */
export function attemptWords(lab: StudentLabView, { points: won, of, penalty, attempt }: StudentSubmission): string {
  if (won !== null && of !== null) return markWords({ points: won, of, penalty });
  if (hiddenWords(lab) !== null) return lab.shown.what === 'nothing' ? 'handed in' : 'shown later';
  return lab.counts === 'last' && attempt < lab.attempts.used ? 'a newer one counts' : 'not checked yet';
}

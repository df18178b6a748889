import { type StudentLabView } from '@sobrin/contracts';
import { ApiError } from '../api/client';
import { sendAll } from '../documents/open-document';
import { openAnswers } from './answers';

/**
 * Sends what of a work the server does not have yet, before it is judged or handed in as its student sees it.
 *
 * @param otherwise what is said first where that fails
 */
export async function sendWork(lab: StudentLabView, otherwise: string): Promise<void> {
  const answers = await openAnswers(lab.id, lab.documentId, lab.answers);
  const reasons = (await answers.getState().flush())
    ? []
    : ['Your answers are not all saved yet: look at what the tasks say.'];
  for (const [what, document] of [
    ['drawing', lab.documentId],
    ['plan', lab.planId],
  ] as const) {
    const why = await sendAll(document);
    if (why !== null) reasons.push(`Your ${what} is not all saved. ${why}`);
  }
  if (reasons.length) throw new ApiError(0, [otherwise, ...reasons].join(' '));
}

import { type CourseSummary, type LabSummary } from '@sobrin/contracts';
import { plural } from '@sobrin/core';
import { type ReactNode, useState } from 'react';
import { api } from '../api/client';
import { useChange } from '../api/queries';
import { AskDialog } from '../ui/ask-dialog';

type Asked = { course: CourseSummary; lab: LabSummary | null };

/** Takes labs out of a course, and courses away, after saying what goes with them. */
export function useRemoval(): { ask: (asked: Asked) => void; dialog: ReactNode; error: Error | null } {
  const [asked, setAsked] = useState<Asked | null>(null);
  const remove = useChange(
    ({ course, lab }: Asked) =>
      lab
        ? api('POST labs/:id/removal', { id: lab.id }, { attempts: lab.attempts })
        : api('POST courses/:id/removal', { id: course.id }, { attempts: attemptsOf(course) }),
    ['courses'],
    ['library'],
  );
  return {
    ask: setAsked,
    error: remove.error,
    dialog: (
      <AskDialog
        isLoss
        open={asked !== null}
        title={
          asked?.lab ? `Take ${asked.lab.title} out of ${asked.course.title}?` : `Delete ${asked?.course.title ?? ''}?`
        }
        yes={asked?.lab ? 'Take it out' : 'Delete the course'}
        onClose={() => setAsked(null)}
        onYes={() => asked && remove.mutate(asked)}
      >
        {asked && (asked.lab ? lossOf(asked.lab.attempts) : courseWords(asked.course))}
        <p>
          This cannot be undone. {asked?.lab ? 'The lab itself stays' : 'Labs themselves stay'} in the library of
          whoever made it.
        </p>
      </AskDialog>
    ),
  };
}

const attemptsOf = ({ labs }: CourseSummary): number => labs.reduce((sum, { attempts }) => sum + attempts, 0);

const lossOf = (attempts: number): string =>
  attempts
    ? `${plural(attempts, 'attempt that was', 'attempts that were')} handed in go with it: drawings, plans, answers, files and results. So does what students are still drawing.`
    : 'Nothing was handed in yet. What students are drawing goes with it.';

const courseWords = (course: CourseSummary): string =>
  `Roster: ${plural(course.students, 'student')}. Handed out: ${plural(course.labs.length, 'lab')}. ${lossOf(attemptsOf(course))} People keep their accounts.`;

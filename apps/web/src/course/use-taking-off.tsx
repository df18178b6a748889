import { useState } from 'react';
import { api } from '../api/client';
import { useChange } from '../api/queries';
import { AskDialog } from '../ui/ask-dialog';
import { peopleOf } from './people-of';

/** Takes somebody off the roster of a course, after asking: `dialog` is to be shown, and `error` where it did not go. */
export function useTakingOff(course: string) {
  const [person, setPerson] = useState<{ id: string; name: string } | null>(null);
  const remove = useChange(
    (student: string) => api('DELETE courses/:id/roster/:student', { id: course, student }),
    ...peopleOf(course),
  );
  return {
    ask: setPerson,
    error: remove.error,
    dialog: (
      <AskDialog
        open={person !== null}
        title={`Take ${person?.name ?? ''} off the roster?`}
        yes="Take off the roster"
        onClose={() => setPerson(null)}
        onYes={() => person && remove.mutate(person.id)}
      >
        What was handed in stays stored. Whoever is put back is invited again, and finds it when they accept.
      </AskDialog>
    ),
  };
}

import { Alert, Button, Stack } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { api } from '../api/client';
import { useChange } from '../api/queries';
import { Failure } from '../ui/states';

/** The courses that somebody was added to and has not answered. */
export function Invitations() {
  const invitations = useQuery({ queryKey: ['invitations'], queryFn: () => api('GET invitations') });
  const answer = useChange(
    ({ id, yes }: { id: string; yes: boolean }) =>
      yes ? api('POST courses/:id/membership', { id }) : api('DELETE courses/:id/membership', { id }),
    ['invitations'],
    ['courses'],
  );
  return (
    <>
      {answer.isError && <Failure error={answer.error} />}
      {invitations.data?.map(({ courseId: id, title, term, role, name, instructors }) => (
        <Alert
          key={id}
          severity="info"
          variant="outlined"
          sx={{ alignItems: 'center', py: 0, '& .MuiAlert-action': { py: 0.75, pt: 0.75 } }}
          action={
            <Stack direction="row" spacing={1}>
              <Button disabled={answer.isPending} onClick={() => answer.mutate({ id, yes: false })}>
                Decline
              </Button>
              <Button variant="contained" disabled={answer.isPending} onClick={() => answer.mutate({ id, yes: true })}>
                Accept
              </Button>
            </Stack>
          }
        >
          {instructors.join(' and ')} added you to <b>{title}</b>
          {term && ` (${term})`} as {role === 'student' ? 'a' : 'an'} {role}, by the name {name}.
        </Alert>
      ))}
    </>
  );
}

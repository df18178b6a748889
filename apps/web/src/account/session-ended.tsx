import { Button, Dialog, DialogActions, DialogContent, DialogTitle, Typography } from '@mui/material';
import { useQueryClient } from '@tanstack/react-query';
import { api } from '../api/client';
import { useMe } from '../api/queries';
import { useSession } from '../api/session';
import { forgetUnsent, retryUnsent } from '../documents/unsent';
import { SignInForm } from './sign-in-form';

/** Whoever was signed out while they worked signs in where they are, and what they typed is sent. */
export function SessionEnded() {
  const { hasEnded } = useSession();
  const { data: worked } = useMe();
  const client = useQueryClient();
  if (!hasEnded || !worked) return null;
  const goOn = async (): Promise<void> => {
    const { me } = await api('GET auth/me');
    if (me?.id === worked.id) {
      retryUnsent();
      void client.invalidateQueries();
    } else {
      // What is typed on this page is somebody else's: it waits in this browser for them.
      forgetUnsent();
      location.assign('/');
    }
  };
  return (
    <Dialog open maxWidth="xs" fullWidth>
      <DialogTitle>You are not signed in any more</DialogTitle>
      <DialogContent>
        <SignInForm login={worked.login} onDone={goOn}>
          <Typography>
            Sign in again to go on where you are. What you changed here is kept in this browser, and is sent then.
          </Typography>
        </SignInForm>
      </DialogContent>
      <DialogActions>
        <Button onClick={() => location.assign('/sign-in')}>Leave this page</Button>
      </DialogActions>
    </Dialog>
  );
}

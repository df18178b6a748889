import {
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  List,
  ListItem,
  ListItemText,
  Typography,
} from '@mui/material';
import { type SessionView } from '@sobrin/contracts';
import { useQuery } from '@tanstack/react-query';
import { api } from '../api/client';
import { useChange } from '../api/queries';
import { Opened } from '../ui/opened';
import { Failure } from '../ui/states';
import { when } from '../ui/words';

const SESSIONS = ['sessions'];

/** The browsers in which one is signed in, and ending that where it should not be. */
export default function SessionsDialog({ onClose }: { onClose: () => void }) {
  const sessions = useQuery({ queryKey: SESSIONS, queryFn: () => api('GET auth/sessions'), staleTime: 0 });
  const end = useChange((id: string) => api('DELETE auth/sessions/:id', { id }), SESSIONS);
  return (
    <Dialog open onClose={onClose} maxWidth="xs" fullWidth>
      <DialogTitle>Where you are signed in</DialogTitle>
      <DialogContent>
        <Opened query={sessions} what="Looking where you are signed in">
          {(list) => (
            <List disablePadding aria-label="Where you are signed in">
              {list.map((session) => (
                <SessionLine
                  key={session.id}
                  session={session}
                  busy={end.isPending}
                  onEnd={() => end.mutate(session.id)}
                />
              ))}
            </List>
          )}
        </Opened>
        {end.isError && <Failure error={end.error} />}
        <Typography color="text.secondary" sx={{ mt: 1.5 }}>
          A browser that you do not know? End it, then change your password.
        </Typography>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Done</Button>
      </DialogActions>
    </Dialog>
  );
}

function SessionLine({ session, busy, onEnd }: { session: SessionView; busy: boolean; onEnd: () => void }) {
  const { browser, isHere, since, lastUsed } = session;
  const name = browser || 'A browser that does not say its name';
  return (
    <ListItem
      disableGutters
      divider
      secondaryAction={
        isHere ? (
          <Typography color="text.secondary">this browser</Typography>
        ) : (
          <Button
            size="small"
            variant="outlined"
            disabled={busy}
            aria-label={`End ${name}, last used ${when(lastUsed)}`}
            onClick={onEnd}
          >
            End
          </Button>
        )
      }
    >
      <ListItemText
        primary={name}
        secondary={isHere ? `Since ${when(since)}` : `Since ${when(since)}\nLast used ${when(lastUsed)}`}
        sx={{ pr: 6, whiteSpace: 'pre-line' }}
      />
    </ListItem>
  );
}

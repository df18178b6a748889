import {
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  Stack,
  TextField,
  Typography,
} from '@mui/material';
import { useState } from 'react';
import { api } from '../api/client';
import { useChange } from '../api/queries';
import { Failure } from '../ui/states';

/** Changes one's own password; all other sessions end with it. */
export function PasswordDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  const [current, setCurrent] = useState('');
  const [next, setNext] = useState('');
  const change = useChange((body: { current: string; next: string }) => api('POST auth/password', {}, body));
  const close = (): void => {
    setCurrent('');
    setNext('');
    change.reset();
    onClose();
  };
  return (
    <Dialog open={open} onClose={close} maxWidth="xs" fullWidth>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          change.mutate({ current, next });
        }}
      >
        <DialogTitle>Change your password</DialogTitle>
        <DialogContent>
          {change.isSuccess ? (
            <Typography role="status">Your password is changed. Other browsers are signed out.</Typography>
          ) : (
            <Stack spacing={2} sx={{ pt: 1 }}>
              <TextField
                autoFocus
                type="password"
                label="Present password"
                autoComplete="current-password"
                value={current}
                onChange={(event) => setCurrent(event.target.value)}
              />
              <TextField
                type="password"
                label="New password"
                autoComplete="new-password"
                helperText="At least 10 characters"
                value={next}
                onChange={(event) => setNext(event.target.value)}
              />
              {change.isError && (
                <Box>
                  <Failure error={change.error} />
                </Box>
              )}
            </Stack>
          )}
        </DialogContent>
        <DialogActions>
          <Button onClick={close}>{change.isSuccess ? 'Done' : 'Cancel'}</Button>
          {!change.isSuccess && (
            <Button type="submit" variant="contained" disabled={!current || next.length < 10 || change.isPending}>
              Change
            </Button>
          )}
        </DialogActions>
      </form>
    </Dialog>
  );
}

import { Button, Dialog, DialogActions, DialogContent, DialogTitle, Typography } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { api } from '../../api/client';
import { useChange } from '../../api/queries';
import { AddressField } from '../../ui/address-field';
import { Failure, Waiting } from '../../ui/states';
import { useBenchId } from '../use-bench';

/** Letting people look at the drawing who have no account: an address that nobody can guess, taken back at any time. */
export default function SharingDialog({ onClose }: { onClose: () => void }) {
  const id = useBenchId();
  const sharing = useQuery({ queryKey: ['sharing', id], queryFn: () => api('GET documents/:id/showing', { id }) });
  const change = useChange(
    async (method: 'POST' | 'DELETE') => void (await api(`${method} documents/:id/showing`, { id })),
    ['sharing', id],
  );
  const key = sharing.data?.key ?? null;
  const address = key === null ? '' : `${location.origin}/shown/${key}`;
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle sx={{ pb: 0.5 }}>Show it without signing in</DialogTitle>
      <DialogContent>
        <Typography color="text.secondary" sx={{ mb: 2 }}>
          Whoever has the address can look at this drawing as it is at that moment, and change nothing. Comments,
          passwords and other settings are not sent along. It is the reference: give it to nobody who is to find the
          solution.
        </Typography>
        {sharing.isPending ? (
          <Waiting what="Looking whether it is shown" />
        ) : sharing.isError ? (
          <Failure error={sharing.error} onAgain={() => void sharing.refetch()} />
        ) : key === null ? (
          <Typography>It is not shown: only those who teach the course see it.</Typography>
        ) : (
          <AddressField address={address} />
        )}
        {change.error && <Failure error={change.error} />}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
        {sharing.data && (
          // One button that is never disabled: disabling it would take the focus, and with it Escape, out of the dialog.
          <Button
            color={key === null ? 'primary' : 'error'}
            variant={key === null ? 'contained' : 'outlined'}
            onClick={() => {
              if (change.isPending) return;
              change.mutate(key === null ? 'POST' : 'DELETE');
            }}
          >
            {key === null ? 'Make an address' : 'Take the address back'}
          </Button>
        )}
      </DialogActions>
    </Dialog>
  );
}

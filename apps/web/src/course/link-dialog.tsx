import { Button, Dialog, DialogActions, DialogContent, DialogTitle, Stack, Typography } from '@mui/material';
import { api } from '../api/client';
import { useChange } from '../api/queries';
import { AddressField } from '../ui/address-field';
import { Failure } from '../ui/states';
import { addressOf } from './address-sheet';

/** Gives a student who has lost the password an address to choose another. */
export function LinkDialog({
  course,
  student,
  onClose,
}: {
  course: string;
  student: { id: string; name: string };
  onClose: () => void;
}) {
  const make = useChange(() => api('POST courses/:id/roster/:student/link', { id: course, student: student.id }));
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle>A new password for {student.name}</DialogTitle>
      <DialogContent>
        {make.data ? (
          <Stack spacing={2} sx={{ pt: 1 }}>
            <AddressField address={addressOf(make.data.link)} />
            <Typography color="text.secondary">
              Hand it to {student.name}. It is good once, for seven days, and shown only now.
            </Typography>
          </Stack>
        ) : (
          <Typography>
            You get an address with which {student.name} chooses a new password. Until then the present one holds; then
            it ends everywhere where it is signed in with. An address from before is good no more.
          </Typography>
        )}
        {make.isError && <Failure error={make.error} />}
      </DialogContent>
      <DialogActions>
        {make.data ? (
          <Button variant="contained" onClick={onClose}>
            Done
          </Button>
        ) : (
          <>
            <Button onClick={onClose}>Cancel</Button>
            <Button variant="contained" disabled={make.isPending} onClick={() => make.mutate()}>
              Make an address
            </Button>
          </>
        )}
      </DialogActions>
    </Dialog>
  );
}

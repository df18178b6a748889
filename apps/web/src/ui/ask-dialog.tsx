import { Button, Dialog, DialogActions, DialogContent, DialogTitle, Typography } from '@mui/material';
import { type ReactNode } from 'react';

/** Asks before something that cannot be undone, and says so. */
export function AskDialog({
  open,
  title,
  yes,
  children,
  onYes,
  onClose,
}: {
  open: boolean;
  title: string;
  yes: string;
  children: ReactNode;
  onYes: () => void;
  onClose: () => void;
}) {
  return (
    <Dialog open={open} onClose={onClose} maxWidth="xs" fullWidth>
      <DialogTitle>{title}</DialogTitle>
      <DialogContent>
        <Typography component="div">{children}</Typography>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button
          variant="contained"
          autoFocus
          onClick={() => {
            // The second half of a double click meets a dialog that is closing.
            if (!open) return;
            onClose();
            onYes();
          }}
        >
          {yes}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

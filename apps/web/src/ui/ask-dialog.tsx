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
  isLoss = false,
}: {
  open: boolean;
  title: string;
  yes: string;
  children: ReactNode;
  onYes: () => void;
  onClose: () => void;
  /** Whether something is gone for good: then a key pressed too soon does nothing. */
  isLoss?: boolean;
}) {
  return (
    // A question is closed by an answer or by Escape: the second half of a double click falls beside it.
    <Dialog open={open} onClose={(_event, reason) => reason !== 'backdropClick' && onClose()} maxWidth="xs" fullWidth>
      <DialogTitle>{title}</DialogTitle>
      <DialogContent>
        <Typography component="div">{children}</Typography>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose} autoFocus={isLoss}>
          Cancel
        </Button>
        <Button
          variant="contained"
          color={isLoss ? 'error' : 'primary'}
          autoFocus={!isLoss}
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

import { Alert, type AlertColor, Snackbar } from '@mui/material';

/** A sentence about what just happened. It stays until it is closed, or the next thing is done (WCAG 2.2.1). */
export const Notice = ({
  text,
  severity = 'error',
  onClose,
}: {
  text: string | null;
  severity?: AlertColor;
  onClose: () => void;
}) => (
  <Snackbar
    open={text !== null}
    onClose={(_event, why) => why !== 'clickaway' && onClose()}
    anchorOrigin={{ vertical: 'bottom', horizontal: 'center' }}
  >
    <Alert severity={severity} onClose={onClose} sx={{ maxWidth: 640 }}>
      {text}
    </Alert>
  </Snackbar>
);

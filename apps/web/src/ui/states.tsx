import { Alert, Box, Button, CircularProgress, Stack, Typography } from '@mui/material';
import { type ReactNode, useEffect, useState } from 'react';
import { ApiError } from '../api/client';

/** What an empty screen says: what belongs here, and what to do first. */
export function Empty({ title, children, action }: { title: string; children?: ReactNode; action?: ReactNode }) {
  return (
    <Stack spacing={1.5} sx={{ alignItems: 'center', textAlign: 'center', py: 6, px: 3 }}>
      <Typography variant="h2">{title}</Typography>
      <Typography color="text.secondary" sx={{ maxWidth: 440 }}>
        {children}
      </Typography>
      {action}
    </Stack>
  );
}

export const Waiting = ({ what }: { what: string }) => (
  <Stack
    direction="row"
    spacing={1.5}
    role="status"
    sx={{ alignItems: 'center', justifyContent: 'center', py: 6, color: 'text.secondary' }}
  >
    <Box sx={{ width: 18, height: 18 }}>
      <Turning />
    </Box>
    <Typography>{what}</Typography>
  </Stack>
);

/** Most waits are over before: what turns takes processor time from what is waited for. */
const TURNS_AFTER_MS = 400;
function Turning() {
  const [turns, setTurns] = useState(false);
  useEffect(() => {
    const timer = window.setTimeout(() => setTurns(true), TURNS_AFTER_MS);
    return () => window.clearTimeout(timer);
  }, []);
  return turns && <CircularProgress size={18} />;
}

/** What went wrong, where, and what to do; never a stack trace. */
export function Failure({ error, onAgain }: { error: unknown; onAgain?: () => void }) {
  const known = error instanceof ApiError ? error : null;
  return (
    <Alert
      severity="error"
      variant="outlined"
      sx={{ borderColor: 'var(--brick)', background: 'var(--brick-tint)', color: 'var(--ink)' }}
      action={
        <>
          {onAgain && <Button onClick={onAgain}>Try again</Button>}
          {/* What one may not see, or is not there, may be no better for trying again: there is a way on. */}
          {(known?.status === 403 || known?.status === 404) && <Button href="/">To your labs</Button>}
        </>
      }
    >
      <Typography>
        {known?.message ?? 'Something went wrong in this page. Load it again: what was saved is still there.'}
      </Typography>
      {known && known.problems.length > 0 && (
        <Box component="ul" sx={{ m: 0, mt: 0.5, pl: 2.5 }}>
          {known.problems.slice(0, 8).map((problem) => (
            <li key={`${problem.place} ${problem.text}`}>
              {problem.place && <span className="mono">{problem.place}: </span>}
              {problem.text}
            </li>
          ))}
          {known.problems.length > 8 && <li>… and {known.problems.length - 8} more</li>}
        </Box>
      )}
    </Alert>
  );
}

import { Alert, Box, Button, CircularProgress, Stack, Typography } from '@mui/material';
import { type ReactNode, useEffect, useState } from 'react';
import { ApiError } from '../api/client';

/** The heading line of a screen: what it is about at the left, what one can do at the right. */
export function TopBar({ title, under, children }: { title: ReactNode; under?: ReactNode; children?: ReactNode }) {
  return (
    <Box
      component="header"
      sx={{
        height: 56,
        flex: 'none',
        px: 2,
        display: 'flex',
        alignItems: 'center',
        gap: 2,
        borderBottom: '1px solid var(--line)',
      }}
    >
      <Box sx={{ minWidth: 0, flex: 1 }}>
        <Typography variant="h1" noWrap>
          {title}
        </Typography>
        {under && (
          <Typography variant="body2" color="text.secondary" noWrap>
            {under}
          </Typography>
        )}
      </Box>
      <Stack direction="row" spacing={1} sx={{ alignItems: 'center', minWidth: 0 }}>
        {children}
      </Stack>
    </Box>
  );
}

export function Panel({ title, aside, children }: { title: string; aside?: ReactNode; children: ReactNode }) {
  return (
    <Box
      component="section"
      aria-label={title}
      sx={{ border: '1px solid var(--line)', borderRadius: '12px', background: 'var(--surface)', overflow: 'hidden' }}
    >
      <Stack
        direction="row"
        sx={{
          px: 2,
          py: 1.25,
          alignItems: 'baseline',
          justifyContent: 'space-between',
          borderBottom: '1px solid var(--line)',
        }}
      >
        <Typography variant="h2">{title}</Typography>
        <Typography variant="body2" color="text.secondary" component="div">
          {aside}
        </Typography>
      </Stack>
      {children}
    </Box>
  );
}

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
      action={onAgain && <Button onClick={onAgain}>Try again</Button>}
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

const TIME_WORDS = new Intl.DateTimeFormat(undefined, {
  weekday: 'short',
  day: 'numeric',
  month: 'short',
  hour: '2-digit',
  minute: '2-digit',
});
/** Day and time as the person's own place writes them. */
export const when = (iso: string): string => TIME_WORDS.format(new Date(iso));

/** Points without needless zeros. */
export const points = (value: number): string => String(Math.round(value * 100) / 100);

/** A size as people read it. */
export const bytes = (size: number): string =>
  size >= 1_000_000 ? `${(size / 1_000_000).toFixed(1)} MB` : `${Math.max(1, Math.round(size / 1000))} kB`;

import { Box, Button } from '@mui/material';
import { type ReactNode } from 'react';

/** What goes on in the drawing just now, and how to end it. */
export const StatusLine = ({ children, end, onEnd }: { children: ReactNode; end: string; onEnd: () => void }) => (
  <Box
    role="status"
    sx={{
      position: 'absolute',
      top: 10,
      left: '50%',
      transform: 'translateX(-50%)',
      display: 'flex',
      alignItems: 'center',
      gap: 1.5,
      px: 1.5,
      py: 0.5,
      borderRadius: '10px',
      border: '1.5px solid var(--spruce)',
      background: 'var(--surface)',
      whiteSpace: 'nowrap',
    }}
  >
    <span>{children}</span>
    <Button size="small" onClick={onEnd} sx={{ minHeight: 0 }}>
      {end}&nbsp;<kbd>Esc</kbd>
    </Button>
  </Box>
);

/** What the next click does while links are made. */
export const LinkingLine = ({ names, onEnd }: { names: readonly string[]; onEnd: () => void }) => (
  <StatusLine end="End" onEnd={onEnd}>
    {names.length === 0 && 'Click the first end of the next link'}
    {names.length === 1 && (
      <>
        Link from <b>{names[0]}</b>: click the other end
      </>
    )}
    {names.length > 1 && (
      <>
        Link <b>{names.length} devices</b>: click the one they are all cabled to
      </>
    )}
  </StatusLine>
);

import { Box, Typography } from '@mui/material';
import { type ReactNode } from 'react';
import { SIGHT } from '../ui/frame';

/** A part of the page with a heading of its own. */
export function Pane({ title, aside, children }: { title: string; aside: ReactNode; children: ReactNode }) {
  return (
    <Box
      component="section"
      aria-label={title}
      sx={{
        flex: 1,
        minWidth: 0,
        minHeight: 0,
        display: 'flex',
        flexDirection: 'column',
        borderLeft: '1px solid var(--line)',
      }}
    >
      <Box
        sx={{
          minHeight: 36,
          flex: 'none',
          px: 2,
          display: 'flex',
          alignItems: 'center',
          justifyContent: 'space-between',
          borderBottom: '1px solid var(--line)',
        }}
      >
        <Typography variant="h3" component="h2">
          {title}
        </Typography>
        <Typography variant="body2" color="text.secondary" noWrap sx={{ py: '3px' }}>
          {aside}
        </Typography>
      </Box>
      <Box sx={{ ...SIGHT, overflow: 'auto' }}>{children}</Box>
    </Box>
  );
}

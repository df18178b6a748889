import { Box, Stack, Typography } from '@mui/material';
import { type ReactNode } from 'react';

/** A framed part of a page with its heading. */
export function Panel({ title, aside, children }: { title: string; aside?: ReactNode; children: ReactNode }) {
  return (
    <Box
      component="section"
      aria-label={title}
      sx={{
        border: '1px solid var(--line)',
        borderRadius: '12px',
        background: 'var(--surface)',
        overflow: 'auto hidden',
      }}
    >
      <Stack
        direction="row"
        sx={{
          px: 2,
          py: 1.25,
          alignItems: 'baseline',
          flexWrap: 'wrap',
          columnGap: 2,
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

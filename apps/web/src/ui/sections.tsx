import { Box, Stack, Typography } from '@mui/material';
import { type ReactNode } from 'react';

/** What an inspector is about. */
export function Heading({ title, under, children }: { title: string; under?: ReactNode; children?: ReactNode }) {
  return (
    <Stack direction="row" spacing={1.5} sx={{ alignItems: 'center', mb: 1.5 }}>
      {children}
      <Box sx={{ minWidth: 0 }}>
        <Typography variant="h2" sx={{ fontSize: 16 }} noWrap>
          {title}
        </Typography>
        {under && (
          <Typography variant="body2" color="text.secondary">
            {under}
          </Typography>
        )}
      </Box>
    </Stack>
  );
}

export function Part({ title, aside, children }: { title: string; aside?: ReactNode; children: ReactNode }) {
  return (
    <Box component="section" aria-label={title} sx={{ borderTop: '1px solid var(--line)', mt: 1.5, pt: 1.25 }}>
      <Stack direction="row" sx={{ justifyContent: 'space-between', alignItems: 'baseline', mb: 0.5 }}>
        <Typography variant="h3">{title}</Typography>
        <Typography variant="body2" color="text.secondary" component="span">
          {aside}
        </Typography>
      </Stack>
      {children}
    </Box>
  );
}

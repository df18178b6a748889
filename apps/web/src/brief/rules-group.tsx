import { Box, Typography } from '@mui/material';
import { type Policy } from '@sobrin/core/spec';
import { type ReactNode } from 'react';

/** Sets rules, or takes away those that are undefined. */
export type SetRules = (change: { [K in keyof Policy]: Policy[K] | undefined }) => void;

/** Rules that belong together. */
export function Group({ title, children }: { title: string; children: ReactNode }) {
  return (
    <Box component="section" aria-label={title}>
      <Typography variant="h3" sx={{ fontSize: 13, fontWeight: 700, mb: 0.25 }}>
        {title}
      </Typography>
      {children}
    </Box>
  );
}

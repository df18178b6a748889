import { Box, Stack, Typography } from '@mui/material';
import { type ReactNode } from 'react';

/** The heading line of a screen: what it is about at the left, what one can do at the right. */
export function TopBar({
  title,
  under,
  before,
  children,
}: {
  title: ReactNode;
  under?: ReactNode;
  /** What stands before the title. */
  before?: ReactNode;
  children?: ReactNode;
}) {
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
      {before}
      {/* Some of the title is always read: what stands beside it gives way first. */}
      <Box sx={{ minWidth: 112, flex: 1 }}>
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

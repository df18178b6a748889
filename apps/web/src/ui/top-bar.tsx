import { Box, Stack, Typography } from '@mui/material';
import { type ReactNode } from 'react';
import { IF_SMALL } from './frame';

/** Cut where there is no room; on a small page it takes as many lines as it needs. */
const ONE_LINE = {
  whiteSpace: 'nowrap',
  overflow: 'hidden',
  textOverflow: 'ellipsis',
  [IF_SMALL]: { whiteSpace: 'normal', overflowWrap: 'anywhere' },
} as const;

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
        minHeight: 56,
        flex: 'none',
        px: 2,
        display: 'flex',
        alignItems: 'center',
        gap: 2,
        borderBottom: '1px solid var(--line)',
        [IF_SMALL]: { flexWrap: 'wrap', px: 1.5, py: 0.75, columnGap: 1.5, rowGap: 0.5, minHeight: 0 },
      }}
    >
      {before}
      {/* Some of the title is always read: what stands beside it gives way first. */}
      <Box sx={{ minWidth: 112, flex: 1, [IF_SMALL]: { flex: '1 1 160px' } }}>
        <Typography variant="h1" sx={ONE_LINE}>
          {title}
        </Typography>
        {under && (
          <Typography variant="body2" color="text.secondary" sx={ONE_LINE}>
            {under}
          </Typography>
        )}
      </Box>
      <Stack
        direction="row"
        useFlexGap
        spacing={1}
        sx={{ alignItems: 'center', minWidth: 0, [IF_SMALL]: { flexWrap: 'wrap', rowGap: 0.5 } }}
      >
        {children}
      </Stack>
    </Box>
  );
}

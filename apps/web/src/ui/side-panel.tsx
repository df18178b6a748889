import { Box } from '@mui/material';
import { type KeyboardEvent, type ReactNode } from 'react';

/** What stands at the right of a drawing or a list: an inspector, a trace, comments. */
export const SidePanel = ({
  label,
  bare = false,
  wide = false,
  onKeyDown,
  children,
}: {
  label: string;
  /** Its parts go to the edges themselves. */
  bare?: boolean;
  /** Wide enough for lines of text. */
  wide?: boolean;
  onKeyDown?: (event: KeyboardEvent) => void;
  children: ReactNode;
}) => (
  <Box
    component="aside"
    aria-label={label}
    onKeyDown={onKeyDown}
    sx={{
      width: wide ? 'min(480px, 42vw)' : 304,
      flex: 'none',
      borderLeft: '1px solid var(--line)',
      background: 'var(--surface)',
      overflow: 'auto',
      ...(!bare && { p: 2, pb: 4 }),
    }}
  >
    {children}
  </Box>
);

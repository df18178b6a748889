import { Box } from '@mui/material';
import { type ReactNode } from 'react';

/** A sentence with fields in it, each as wide as what it says. */
export function Sentence({ children }: { children: ReactNode }) {
  return (
    <Box
      sx={{
        m: 0,
        py: '3px',
        lineHeight: '28px',
        '& select': { width: 'auto', maxWidth: '100%', mx: '2px' },
        '& > .number': { display: 'inline-block', width: 76, mx: '4px', verticalAlign: 'top', lineHeight: '20px' },
        '& > .moment': { display: 'inline-block', width: 210, mx: '4px', verticalAlign: 'top' },
      }}
    >
      {children}
    </Box>
  );
}

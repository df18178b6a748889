import { Box, Button, Typography } from '@mui/material';
import { type Mend, type Mends } from '@sobrin/core/editing';
import { useEffect, useState } from 'react';
import { type Ask } from '../../workers/engine-requests';
import { type TraceAnswer } from '../../workers/trace-answer';

const MOST = 4;

/** What of the drawing would have to be otherwise for a packet to be answered: from the drawing itself, each tried. */
export function TraceMends({ trace, ask, onMend }: { trace: TraceAnswer; ask: Ask; onMend: (mend: Mend) => void }) {
  const [found, setFound] = useState<Mends | null>(null);
  const { request, answer } = trace;
  useEffect(() => {
    let isOver = false;
    if (answer !== 'yes') void ask('mends', request).then((mends) => !isOver && setFound(mends));
    return () => {
      isOver = true;
    };
  }, [ask, request, answer]);
  if (answer === 'yes' || !found?.list.length) return null;
  return (
    <Box component="section" aria-label="What would help" sx={{ mt: 0.5 }}>
      <Typography variant="body2" color="text.secondary">
        {found.together
          ? 'Together these would help'
          : found.list.length > 1
            ? 'Any of these would help'
            : 'This would help'}
      </Typography>
      <Box component="ul" sx={{ listStyle: 'none', m: 0, p: 0 }}>
        {found.list.slice(0, MOST).map((mend) => (
          <Box component="li" key={mend.text} sx={{ mb: 0.5 }}>
            <span style={{ overflowWrap: 'anywhere' }}>{mend.text}</span>{' '}
            <Button
              size="small"
              onClick={() => onMend(mend)}
              sx={{ minHeight: 24, py: 0, px: 0.5, ml: -0.5, textAlign: 'left' }}
            >
              {mend.repair}
            </Button>
          </Box>
        ))}
      </Box>
    </Box>
  );
}

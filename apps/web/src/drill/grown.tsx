import { Box, Typography } from '@mui/material';
import { type DrillView } from '@sobrin/contracts';
import { when } from '../ui/words';

const MOST = 7;
const HEIGHT = 72;

/** How much of the mistakes the spec noticed each time it was drilled, the last one at the right. */
export function Grown({ drills }: { drills: readonly DrillView[] }) {
  const shown = drills.slice(-MOST);
  if (shown.length < 2) return null;
  return (
    <Box component="section" aria-label="How it grew" sx={{ mt: 2 }}>
      <Typography variant="h3" component="h2" sx={{ mb: 0.5 }}>
        How it grew
      </Typography>
      <Box
        component="ol"
        sx={{
          listStyle: 'none',
          m: 0,
          p: 0,
          display: 'flex',
          alignItems: 'flex-end',
          gap: 0.75,
          minHeight: HEIGHT + 36,
        }}
      >
        {shown.map(({ at, score, version, noticed, missed }, nth) => (
          <Box
            component="li"
            key={at}
            title={`${when(at)}: ${noticed} noticed, ${missed} missed`}
            sx={{ flex: 1, minWidth: 0, textAlign: 'center', fontSize: 12 }}
          >
            <span className="mono">{Math.floor(100 * score + 1e-9)}</span>
            <Box
              aria-hidden
              sx={{
                height: Math.max(2, Math.round(score * HEIGHT)),
                borderRadius: '4px 4px 0 0',
                background: nth === shown.length - 1 ? 'var(--spruce)' : 'var(--ink3)',
                forcedColorAdjust: 'none',
              }}
            />
            <span style={{ color: 'var(--ink2)' }}>{version === null ? 'draft' : `v${version}`}</span>
          </Box>
        ))}
      </Box>
    </Box>
  );
}

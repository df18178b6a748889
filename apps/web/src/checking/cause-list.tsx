import { Box, Button, LinearProgress, Typography } from '@mui/material';
import { type DiagnosisProgress } from '@sobrin/core/spec';
import { points } from '../ui/words';
import { Key } from '../ui/keys/key';
import { Failure } from '../ui/states';
import { CauseSign } from './cause-sign';
import { type Causes } from './use-causes';

/** The few mistakes behind what failed, above the requirements. */
export function CauseList({ causes }: { causes: Causes }) {
  const { diagnosis, isLooking, progress, error, chosen, choose } = causes;
  if (error) return <Failure error={error} />;
  if (!isLooking && !progress && !diagnosis?.causes.length) return null;
  return (
    <Box component="section" aria-label="Causes" sx={{ borderBottom: '1px solid var(--line)' }}>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1.25, px: 2, minHeight: 37 }}>
        <Key id="cause" keys="A" />
        <Typography variant="h2" component="span" sx={{ flex: 1 }}>
          Causes
        </Typography>
        <Typography variant="body2" color="text.secondary" role="status">
          {isLooking ? 'looking for them' : progress ? 'not looked for to the end' : 'points they took'}
        </Typography>
      </Box>
      {progress && <SoFar progress={progress} causes={causes} />}
      {diagnosis?.causes.map(({ letter, text, took }) => (
        <Box
          component="button"
          type="button"
          key={letter}
          aria-current={chosen?.letter === letter}
          data-line
          onClick={() => choose(chosen?.letter === letter ? null : letter)}
          sx={{
            all: 'unset',
            boxSizing: 'border-box',
            width: '100%',
            cursor: 'pointer',
            display: 'grid',
            gridTemplateColumns: '20px minmax(0, 1fr) auto',
            gap: 1.25,
            px: 2,
            py: 0.75,
            borderLeft: `4px solid ${chosen?.letter === letter ? 'var(--brick)' : 'transparent'}`,
            background: chosen?.letter === letter ? 'var(--brick-tint)' : undefined,
            '&:hover': { background: chosen?.letter === letter ? undefined : 'var(--ground)' },
            '&:focus-visible': { outline: '2px solid var(--spruce)', outlineOffset: -2 },
          }}
        >
          <CauseSign letter={letter} />
          <span style={{ overflowWrap: 'anywhere' }}>{text}</span>
          <b className="mono">{points(took)}</b>
        </Box>
      ))}
    </Box>
  );
}

/** The best that was found so far, while more is looked for. */
function SoFar({
  progress: { runs, bound, found },
  causes: { isLooking, stop, goOn },
}: {
  progress: DiagnosisProgress;
  causes: Causes;
}) {
  return (
    <Box sx={{ px: 2, pb: 1 }}>
      {found.length > 0 && (
        <Box component="ul" aria-label="Found so far" sx={{ m: 0, mb: 0.5, pl: 2.5, overflowWrap: 'anywhere' }}>
          {found.map((text) => (
            <li key={text}>{text}</li>
          ))}
        </Box>
      )}
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1 }}>
        <LinearProgress
          aria-label="Repairs that were tried"
          variant="determinate"
          value={Math.min(100, (100 * runs) / bound)}
          sx={{ flex: 1 }}
        />
        <Typography variant="body2" color="text.secondary">
          {runs} of at most {bound} tried
        </Typography>
        <Button size="small" onClick={isLooking ? stop : goOn} sx={{ minHeight: 24, py: 0 }}>
          {isLooking ? 'Stop' : 'Go on'}
        </Button>
      </Box>
    </Box>
  );
}

import { Box, Stack, Typography } from '@mui/material';
import { type Drill, type DrilledFault, type Score, type Spec } from '@sobrin/core/spec';
import { type DrillView } from '@sobrin/contracts';
import { IF_NARROW } from '../ui/frame';
import { VerdictSign } from '../ui/verdict';
import { noticedBySection } from './findings';
import { Grown } from './grown';

/** How much the spec notices: of each kind of mistake the share, and of all kinds the mean. */
export function DrillScore({
  faults,
  score,
  found,
  spec,
  drills,
}: {
  faults: readonly DrilledFault[];
  score: Score;
  found: Drill;
  spec: Spec;
  /** What came of this drill and earlier ones. */
  drills: readonly DrillView[];
}) {
  const count = (outcome: DrilledFault['outcome']): number => faults.filter((each) => each.outcome === outcome).length;
  const sections = noticedBySection(faults, spec);
  const planted = faults.length;
  const blind = score.kinds.filter(({ noticed, missed }) => noticed === 0 && missed > 0);
  const unneeded = faults.filter(({ unneeded }) => unneeded);
  return (
    <Box
      component="aside"
      aria-label="Score"
      tabIndex={0}
      sx={{
        width: 272,
        flex: 'none',
        overflow: 'auto',
        borderRight: '1px solid var(--line)',
        background: 'var(--surface)',
        p: 2,
        [IF_NARROW]: { width: '100%', maxHeight: '40%', borderRight: 0, borderBottom: '1px solid var(--line2)' },
      }}
    >
      <Stack direction="row" spacing={1.5} sx={{ alignItems: 'center', mb: 1 }}>
        <Typography className="mono" sx={{ fontSize: 30, fontWeight: 700, whiteSpace: 'nowrap' }}>
          {Math.floor(100 * score.all + 1e-9)} %
        </Typography>
        <Typography variant="body2" color="text.secondary">
          of the mistakes that do harm are noticed, each kind counting once
        </Typography>
      </Stack>
      <Bar noticed={count('noticed')} missed={count('missed')} harmless={count('harmless')} />
      <Box sx={{ mt: 1 }}>
        <Count sign={<VerdictSign verdict="met" size={16} silent />} text="noticed" n={count('noticed')} />
        <Count sign={<VerdictSign verdict="lost" size={16} silent />} text="missed" n={count('missed')} />
        <Count sign={null} text="harmless, nothing changes" n={count('harmless')} />
        <Box sx={{ borderTop: '1px solid var(--line)', mt: 0.5, pt: 0.5 }}>
          <Count sign={null} text="planted" n={planted} />
        </Box>
      </Box>
      <Grown drills={drills} />
      {blind.length > 0 && (
        <Box
          component="section"
          aria-label="Blind"
          sx={{ mt: 2, p: 1.25, borderRadius: '12px', background: 'var(--brick-tint)' }}
        >
          <Typography variant="h3" component="h2" sx={{ mb: 0.5 }}>
            Blind for
          </Typography>
          {blind.map(({ operator, title, missed }) => (
            <Count key={operator} sign={null} text={title} n={missed} />
          ))}
        </Box>
      )}
      <Typography variant="h3" component="h2" sx={{ mt: 2, mb: 0.5 }}>
        Noticed by section
      </Typography>
      {spec.sections.map(({ id, title }) => (
        <Count key={id} sign={null} text={title} n={sections.get(id) ?? 0} />
      ))}
      {unneeded.length > 0 && (
        <>
          <Typography variant="h3" component="h2" sx={{ mt: 2, mb: 0.5 }}>
            Noticed, though nothing changes
          </Typography>
          {unneeded.slice(0, 4).map(({ text, noticedBy }) => (
            <Typography key={text} variant="body2" sx={{ mb: 0.5 }}>
              <b className="mono">{noticedBy.join(', ')}</b> {text}
            </Typography>
          ))}
        </>
      )}
      <Typography variant="body2" color="text.secondary" sx={{ mt: 2 }}>
        Seed {found.seed}. Where places cannot be told apart, one of them is tried.
      </Typography>
    </Box>
  );
}

const Count = ({ sign, text, n }: { sign: React.ReactNode; text: string; n: number }) => (
  <Box sx={{ display: 'flex', gap: 1, alignItems: 'center', py: '2px' }}>
    {sign}
    <span style={{ flex: 1 }}>{text}</span>
    <b className="mono">{n}</b>
  </Box>
);

function Bar({ noticed, missed, harmless }: { noticed: number; missed: number; harmless: number }) {
  const all = Math.max(1, noticed + missed + harmless);
  return (
    <Box
      role="img"
      aria-label={`${noticed} noticed, ${missed} missed, ${harmless} harmless`}
      sx={{ display: 'flex', height: 12, borderRadius: 6, overflow: 'hidden', border: '1px solid var(--line2)' }}
    >
      <span style={{ width: `${(100 * noticed) / all}%`, background: 'var(--spruce)' }} />
      <span
        style={{
          width: `${(100 * missed) / all}%`,
          background: 'repeating-linear-gradient(135deg, var(--brick) 0 3px, var(--brick-tint) 3px 6px)',
        }}
      />
    </Box>
  );
}

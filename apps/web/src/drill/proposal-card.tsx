import { Alert, Box, Button, Stack, Typography } from '@mui/material';
import { plural } from '@sobrin/core';
import { type Drill, type DrilledFault, FAMILY_TITLES, scoreOf } from '@sobrin/core/spec';
import { Key } from '../ui/keys/key';
import { Head } from './missed-list';

/** The sentence that would notice what is chosen, and what it would notice besides. */
export function ProposalCard({
  fault,
  proposal,
  faults,
  score,
  mayEdit,
  onTake,
  onDismiss,
}: {
  fault: DrilledFault | null;
  proposal: Drill['proposals'][number] | null;
  faults: readonly DrilledFault[];
  score: number;
  mayEdit: boolean;
  onTake: () => void;
  onDismiss: () => void;
}) {
  const news = proposal ? proposal.notices.filter((at) => faults[at]!.outcome === 'missed') : [];
  const missed = faults.filter(({ outcome }) => outcome === 'missed').length;
  const after = scoreOf(
    faults.map((each, at) => (news.includes(at) ? { ...each, outcome: 'noticed' as const } : each)),
  ).all;
  const percent = (share: number): number => Math.floor(100 * share + 1e-9);
  return (
    <Box
      component="section"
      aria-label="Proposed requirement"
      sx={{ flex: '1 1 0', minWidth: 0, borderLeft: '1px solid var(--line)', display: 'flex', flexDirection: 'column' }}
    >
      <Head title="Proposed requirement" aside={proposal ? `for ${FAMILY_TITLES[proposal.family]}` : ''} />
      <Box sx={{ p: 2, overflow: 'auto' }}>
        {!fault ? (
          <Typography color="text.secondary">Nothing is missed.</Typography>
        ) : !proposal ? (
          <Typography color="text.secondary">
            No sentence that Sobrin knows would notice it{fault.works ? '; it works all the same' : ''}.
          </Typography>
        ) : (
          <>
            <Typography
              data-proposal
              sx={{
                p: 1.5,
                mb: 1.5,
                borderRadius: '12px',
                border: '1px solid var(--spruce)',
                background: 'var(--spruce-tint)',
                overflowWrap: 'anywhere',
              }}
            >
              {proposal.sentence}
            </Typography>
            <Typography variant="body2">
              Notices <b className="mono">{news.length}</b> of the {plural(missed, 'missed one', 'missed ones')}; the
              score goes from <b className="mono">{percent(score)}</b> to <b className="mono">{percent(after)} %</b>.
            </Typography>
            {proposal.leftOut?.startsWith('students are told') && (
              <Alert severity="info" variant="outlined" sx={{ mt: 1 }}>
                {proposal.leftOut.charAt(0).toUpperCase() + proposal.leftOut.slice(1)}. Tell them in a task, too.
              </Alert>
            )}
            <Stack direction="row" spacing={1} useFlexGap sx={{ mt: 1.5, flexWrap: 'wrap' }}>
              {mayEdit && (
                <Button variant="contained" onClick={onTake} sx={{ gap: 0.75 }}>
                  Take <Key id="take-proposal" keys="P" />
                </Button>
              )}
              <Button variant="outlined" onClick={onDismiss} sx={{ gap: 0.75 }}>
                Not meant <Key id="dismiss-proposal" keys="X" />
              </Button>
            </Stack>
          </>
        )}
      </Box>
    </Box>
  );
}

import { Box, Button, Stack, Typography } from '@mui/material';
import { IconDownload } from '@tabler/icons-react';
import { type ResultsView } from '@sobrin/contracts';
import { Link } from 'react-router';
import { useResults } from '../api/queries';
import { useShownLab } from '../lab/lab-shell';
import { Empty, Failure, Waiting } from '../ui/states';
import { TopBar } from '../ui/top-bar';
import { points } from '../ui/words';
import { VerdictSign } from '../ui/verdict';
import { CommonCauses } from './common-causes';
import { MarksChart } from './marks-chart';
import { ResultsGrid } from './results-grid';
import { comparable, mean, median, shares } from './statistics';
import { usePageTitle } from '../ui/announce';
import { DESK, IF_NARROW, IF_SMALL } from '../ui/frame';

const COUNTING = { last: 'newest', best: 'best', chosen: 'chosen' } as const;

/** Students × requirements, how the marks spread, and what most got wrong. */
export function ResultsPage() {
  const lab = useShownLab();
  usePageTitle('Results', lab.title);
  const results = useResults(lab.id);
  const checked = results.data?.rows.filter((row) => row.points !== null).length ?? 0;
  return (
    <>
      <TopBar
        title={lab.title}
        under={`${lab.courseTitle} · ${checked} of ${results.data?.rows.length ?? 0} checked, ${COUNTING[lab.policy.counts ?? 'last']} attempt${lab.version ? `, version ${lab.version.number}` : ''}`}
      >
        <Legend />
        <Button
          variant="contained"
          component="a"
          href={`/api/labs/${lab.id}/results.csv`}
          download
          startIcon={<IconDownload size={16} />}
          disabled={!checked}
        >
          Save as CSV
        </Button>
      </TopBar>
      {results.isPending && <Waiting what="Loading the results" />}
      {results.isError && (
        <Box sx={{ p: 3 }}>
          <Failure error={results.error} onAgain={() => void results.refetch()} />
        </Box>
      )}
      {results.data && checked === 0 && (
        <Empty
          title="Nothing is checked yet"
          action={
            <Button variant="contained" component={Link} to={`/labs/${lab.id}/class`}>
              To the class
            </Button>
          }
        >
          Results appear here as soon as submissions have been checked.
        </Empty>
      )}
      {results.data && checked > 0 && (
        <Box sx={DESK}>
          <ResultsGrid results={results.data} lab={lab.id} />
          <Aside results={results.data} />
        </Box>
      )}
    </>
  );
}

function Legend() {
  const entries = [
    ['met', 'full'],
    ['partly', 'part'],
    ['lost', 'none'],
    ['unjudged', 'not certain'],
  ] as const;
  return (
    <Stack direction="row" useFlexGap sx={{ mr: 1, flexWrap: 'wrap', columnGap: 1.5 }}>
      {entries.map(([verdict, text]) => (
        <Stack key={verdict} direction="row" spacing={0.75} sx={{ alignItems: 'center' }}>
          <VerdictSign verdict={verdict} size={16} silent />
          <Typography variant="body2">{text}</Typography>
        </Stack>
      ))}
    </Stack>
  );
}

function Aside({ results }: { results: ResultsView }) {
  const missed = shares(results)
    .filter((share) => share.share !== null && share.share < 1)
    .sort((a, b) => a.share! - b.share!)
    .slice(0, 6);
  const marks = comparable(results).map((row) => row.points);
  return (
    <Box
      component="aside"
      aria-label="Of the whole class"
      sx={{
        width: 320,
        flex: 'none',
        overflow: 'auto',
        borderLeft: '1px solid var(--line)',
        background: 'var(--surface)',
        p: 2,
        [IF_NARROW]: { width: '100%', maxHeight: '45%', borderLeft: 0, borderTop: '1px solid var(--line2)' },
        [IF_SMALL]: { maxHeight: 'none' },
      }}
    >
      <Stack direction="row" sx={{ justifyContent: 'space-between', alignItems: 'baseline', mb: 0.5 }}>
        <Typography variant="h2">Most missed</Typography>
        <Typography variant="body2" color="text.secondary">
          share of points won
        </Typography>
      </Stack>
      {missed.length === 0 && (
        <Typography color="text.secondary" sx={{ py: 1 }}>
          {marks.length ? 'Nobody lost a point.' : 'Nobody is checked by the version that judges now.'}
        </Typography>
      )}
      {missed.map(({ id, share }) => (
        <Box
          key={id}
          sx={{
            display: 'grid',
            gridTemplateColumns: '44px 1fr 52px',
            gap: 1,
            py: 1,
            borderTop: '1px solid var(--line)',
          }}
        >
          <b className="mono">{id}</b>
          <span>{results.requirements.find((requirement) => requirement.id === id)?.sentence}</span>
          <b className="mono" style={{ textAlign: 'right', color: share! < 0.6 ? 'var(--brick)' : undefined }}>
            {Math.round(100 * share!)} %
          </b>
        </Box>
      ))}
      <CommonCauses />
      {marks.length > 0 && (
        <>
          <Stack direction="row" sx={{ justifyContent: 'space-between', alignItems: 'baseline', mt: 3, mb: 1 }}>
            <Typography variant="h2">Marks</Typography>
            <Typography variant="body2" color="text.secondary">
              median {points(median(marks)!)}, mean {mean(marks)!.toFixed(1)}, of {points(results.of)}
            </Typography>
          </Stack>
          <MarksChart results={results} />
        </>
      )}
    </Box>
  );
}

import { Box, Button, Table, TableBody, TableCell, TableHead, TableRow } from '@mui/material';
import { type JobView } from '@sobrin/contracts';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { api } from '../api/client';
import { useChange } from '../api/queries';
import { Mark } from '../ui/mark';
import { Opened } from '../ui/opened';
import { Panel } from '../ui/panel';
import { PersonMenu } from '../ui/person-menu';
import { Empty, Failure } from '../ui/states';
import { TopBar } from '../ui/top-bar';
import { when } from '../ui/words';
import { usePageTitle } from '../ui/announce';
import { BODY, PAGE } from '../ui/frame';

const AGAIN_MS = 3_000;
const isOpen = ({ state }: JobView): boolean => state === 'waits' || state === 'runs';
const WHAT = { check: 'Check', diagnose: 'Look for mistakes', confirm: 'Check again, by a newer Sobrin' } as const;

/** What Sobrin does by itself for one's courses: what waits, what runs, and what came of the rest. */
export function JobsPage() {
  usePageTitle('Jobs');
  const jobs = useQuery({
    queryKey: ['jobs'],
    queryFn: () => api('GET jobs'),
    staleTime: 0,
    refetchInterval: ({ state }) => (state.data?.some(isOpen) ? AGAIN_MS : false),
  });
  const cancel = useChange((id: string) => api('DELETE jobs/:id', { id }), ['jobs'], ['checks']);
  return (
    <Box sx={PAGE}>
      <TopBar
        title="Jobs"
        under="checks that are done by themselves, also when nobody looks"
        before={
          <Link to="/" aria-label="All courses">
            <Mark size={26} />
          </Link>
        }
      >
        <PersonMenu />
      </TopBar>
      <Box component="main" sx={{ ...BODY, p: { xs: 1.5, sm: 3 } }}>
        <Box sx={{ maxWidth: 1080, mx: 'auto' }}>
          {cancel.isError && <Failure error={cancel.error} />}
          <Opened query={jobs} what="Loading the jobs">
            {(all) => (
              <Panel title="Checks" aside={`${all.filter(isOpen).length} to do`}>
                {all.length === 0 ? (
                  <Empty title="Nothing to do">
                    Checks of a class stand here while they wait, and for some hours after.
                  </Empty>
                ) : (
                  <Table
                    aria-label="Jobs"
                    sx={{ '& td': { py: '2px', height: 37 }, '& tr > *:first-of-type': { pl: 2 } }}
                  >
                    <TableHead>
                      <TableRow>
                        {['Student', 'Lab', 'Job', 'Asked', 'State', ''].map((title) => (
                          <TableCell key={title}>{title}</TableCell>
                        ))}
                      </TableRow>
                    </TableHead>
                    <TableBody>
                      {all.map((job) => (
                        <TableRow key={job.id}>
                          <TableCell sx={{ fontWeight: 650 }}>
                            <Link to={`/labs/${job.lab.id}/class/${job.submissionId}`} style={{ color: 'inherit' }}>
                              {job.student}
                            </Link>
                          </TableCell>
                          <TableCell>
                            {job.lab.title}, {job.course}
                          </TableCell>
                          <TableCell>{WHAT[job.what]}</TableCell>
                          <TableCell>
                            {when(job.askedAt)}
                            {job.by !== null && `, ${job.by}`}
                          </TableCell>
                          <TableCell sx={{ color: job.state === 'given up' ? 'var(--brick)' : undefined }}>
                            {stateOf(job)}
                          </TableCell>
                          <TableCell align="right">
                            {job.state === 'waits' && (
                              <Button
                                size="small"
                                disabled={cancel.isPending}
                                aria-label={`Take back: ${job.student}, ${job.lab.title}`}
                                onClick={() => cancel.mutate(job.id)}
                              >
                                Take back
                              </Button>
                            )}
                          </TableCell>
                        </TableRow>
                      ))}
                    </TableBody>
                  </Table>
                )}
              </Panel>
            )}
          </Opened>
        </Box>
      </Box>
    </Box>
  );
}

/** The state with how long it took, how often it was tried, and why it was given up. */
function stateOf({ state, startedAt, endedAt, retries, sentence }: JobView): string {
  const seconds = startedAt && endedAt && (new Date(endedAt).getTime() - new Date(startedAt).getTime()) / 1000;
  const took = state === 'done' && seconds ? ` in ${seconds < 10 ? seconds.toFixed(1) : Math.round(seconds)} s` : '';
  const tries = retries ? `, try ${retries + 1}` : '';
  return sentence ? `${state}${tries}: ${sentence}` : `${state}${took}${tries}`;
}

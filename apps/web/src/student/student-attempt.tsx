import { Alert, Box, Button, Typography } from '@mui/material';
import { type StudentAttempt as Attempt, type StudentComment, type StudentLabView } from '@sobrin/contracts';
import { optionsOf } from '@sobrin/core/engine';
import { plural } from '@sobrin/core';
import { type CheckResult, type CountedOnce, type Finding, type Place } from '@sobrin/core/spec';
import { IconArrowLeft } from '@tabler/icons-react';
import { useQuery } from '@tanstack/react-query';
import { useMemo, useRef, useState } from 'react';
import { Link, useParams } from 'react-router';
import { api } from '../api/client';
import { Answers } from '../checking/answers';
import { CommentList, subjectOf, withPins } from '../checking/comments';
import { Evidence } from '../checking/evidence';
import { Pane } from '../checking/pane';
import { RequirementList } from '../checking/requirement-list';
import { useFindings } from '../checking/use-findings';
import { Drawing } from '../drawing/drawing';
import { type DrawingView } from '../drawing/view';
import { PlanView } from '../plan/plan-view';
import { counted, penaltyWords } from '../ui/mark-words';
import { Opened } from '../ui/opened';
import { Empty } from '../ui/states';
import { TopBar } from '../ui/top-bar';
import { points, whenIn } from '../ui/words';
import { useFacts } from '../workers/use-facts';
import { hiddenWords } from './attempt-words';
import { WithLab } from './with-lab';
import { usePageTitle } from '../ui/announce';
import { Key } from '../ui/keys/key';
import { IF_SMALL, PAGE } from '../ui/frame';

const LENSES = { ends: true, subnets: true, cables: false };

/** One attempt of a student: what was handed in, and what of its result the lab shows, on the own drawing. */
export const StudentAttempt = () => <WithLab>{(lab) => <OneAttempt lab={lab} />}</WithLab>;

function OneAttempt({ lab }: { lab: StudentLabView }) {
  const { attemptId } = useParams();
  const attempt = useQuery({
    queryKey: ['my-lab', lab.id, 'attempt', attemptId],
    queryFn: () => api('GET my/labs/:id/attempts/:attempt', { id: lab.id, attempt: attemptId! }),
  });
  return (
    <Opened query={attempt} what="Opening the attempt">
      {(attempt) => <Desk key={attempt.id} lab={lab} attempt={attempt} />}
    </Opened>
  );
}

function Desk({ lab, attempt }: { lab: StudentLabView; attempt: Attempt }) {
  const { topology, plan, result } = attempt;
  usePageTitle(`Attempt ${attempt.attempt}`, lab.title);
  const view = useRef<DrawingView | null>(null);
  const facts = useFacts(topology, optionsOf(lab));
  const listed = useMemo(() => listOf(result), [result]);
  const { chosen, choose, requirement, opened, toggle, looksAt, lookAtOther, marks, blocks, show, isDrawn } =
    useFindings(listed, attempt, (devices) => view.current?.reveal({ devices }));
  const [beside, setBeside] = useState<'comments' | 'answers' | null>(attempt.comments.length ? 'comments' : null);
  const pinned = useMemo(() => withPins(topology, attempt.comments), [topology, attempt.comments]);
  const showAbout = ({ kind, target }: StudentComment): void => {
    if (kind === 'requirement') choose(target);
    else if (kind !== 'work')
      show({ text: '', met: null, places: [kind === 'link' ? { link: target } : { device: target }] });
  };
  const hasMore = Object.keys(attempt.answers).length > 0 || attempt.attachments.length > 0;
  const hidden = hiddenWords(lab);
  const hint = requirement ? hintOf(attempt, requirement.id) : undefined;
  return (
    <Box sx={PAGE}>
      <TopBar
        title={`Attempt ${attempt.attempt}`}
        under={`${lab.title} · handed in ${whenIn(lab.timeZone, attempt.handedInAt)}${attempt.late ? ', late' : ''}`}
      >
        <Button component={Link} to={`/my/labs/${lab.id}`} startIcon={<IconArrowLeft size={16} />}>
          Tasks
        </Button>
        {lab.submissions.length > 1 &&
          lab.submissions.map(({ id, attempt: number }) => (
            <Button
              key={id}
              component={Link}
              to={`/my/labs/${lab.id}/attempts/${id}`}
              variant={id === attempt.id ? 'contained' : 'outlined'}
              aria-current={id === attempt.id ? 'page' : undefined}
              aria-label={`Attempt ${number}`}
              sx={{ minWidth: 36 }}
            >
              {number}
            </Button>
          ))}
        {attempt.comments.length > 0 && (
          <Button
            variant="outlined"
            aria-pressed={beside === 'comments'}
            onClick={() => setBeside(beside === 'comments' ? null : 'comments')}
          >
            Comments
          </Button>
        )}
        {hasMore && (
          <Button
            variant="outlined"
            aria-pressed={beside === 'answers'}
            onClick={() => setBeside(beside === 'answers' ? null : 'answers')}
          >
            Answers and files
          </Button>
        )}
        {result && (
          <Typography
            className="mono"
            aria-label={`Mark ${points(counted(result))} of ${points(result.of)}`}
            sx={{ fontSize: 23, fontWeight: 700, whiteSpace: 'nowrap' }}
          >
            {points(counted(result))} <span style={{ fontSize: 15, color: 'var(--ink2)' }}>/ {points(result.of)}</span>
          </Typography>
        )}
      </TopBar>
      {!result && (
        <Alert severity="info" variant="outlined" sx={{ m: 1 }}>
          {hidden ?? 'It is not checked yet.'}
        </Alert>
      )}
      {result?.isPassed === false && (
        <Alert severity="warning" variant="outlined" sx={{ m: 1 }}>
          Not passed: something that is needed to pass is not met, whatever the points.
        </Alert>
      )}
      {result?.once && (
        <CountedOnceNote once={result.once} onPlaces={(places) => show({ text: '', met: null, places })} />
      )}
      {result?.penalty && (
        <Alert severity="warning" variant="outlined" sx={{ m: 1 }}>
          {points(result.points)} points won. {penaltyWords(result.penalty)}
        </Alert>
      )}
      <Box component="main" sx={{ flex: 1, minHeight: 0, display: 'flex', [IF_SMALL]: { flexDirection: 'column' } }}>
        {listed.sections.length > 0 && (
          <RequirementList result={listed} chosen={chosen} openSections={opened} onChoose={choose} onToggle={toggle} />
        )}
        <Box sx={{ flex: 1, minWidth: 0, display: 'flex', flexDirection: 'column' }}>
          <Box sx={{ flex: 1, minHeight: 0, display: 'flex', [IF_SMALL]: { flexDirection: 'column' } }}>
            <Pane
              title={looksAt === 'plan' ? 'Your plan, as handed in' : 'Your drawing, as handed in'}
              aside={
                plan &&
                isDrawn && (
                  <Button size="small" onClick={lookAtOther} sx={{ minHeight: 24, py: 0 }}>
                    <Key id="plan-or-drawing" keys="P" />
                    &nbsp;{looksAt === 'plan' ? 'drawing' : 'plan'}
                  </Button>
                )
              }
            >
              {looksAt === 'plan' && plan ? (
                <PlanView key={`${chosen} ${blocks.join()}`} plan={plan} brief={lab.brief} marked={blocks} />
              ) : !isDrawn ? (
                <Empty title="An empty sheet was handed in" />
              ) : (
                <Drawing
                  topology={pinned}
                  comments={{ chosen: null, onPick: () => setBeside('comments') }}
                  label="Your drawing, as handed in"
                  facts={facts.links}
                  lenses={LENSES}
                  marks={marks}
                  dimOthers={marks.devices.size + marks.links.size > 0}
                  onReady={(ready) => {
                    view.current = ready;
                  }}
                />
              )}
            </Pane>
            {beside === 'comments' && (
              <Pane title="Comments" aside="">
                <Box sx={{ p: 2 }}>
                  <CommentList
                    comments={attempt.comments}
                    subject={(comment) =>
                      subjectOf(comment, topology, (at) => listed.requirements[Number(at)]?.sentence ?? 'A requirement')
                    }
                    onShow={showAbout}
                  />
                </Box>
              </Pane>
            )}
            {beside === 'answers' && (
              <Pane title="Answers and files" aside="">
                <Answers submission={attempt} tasks={lab.tasks} />
              </Pane>
            )}
          </Box>
          {requirement && (requirement.items.length > 0 || hint !== undefined) && (
            <Evidence
              requirement={requirement}
              {...(hint !== undefined && { hint })}
              drawing={topology}
              plan={plan}
              onPlace={show}
            />
          )}
        </Box>
      </Box>
    </Box>
  );
}

/** What is given back since a mistake counts once, and as much of the mistakes as is told. */
function CountedOnceNote({
  once: { back, mistakes },
  onPlaces,
}: {
  once: CountedOnce;
  onPlaces: (places: Place[]) => void;
}) {
  return (
    <Alert severity="info" variant="outlined" sx={{ m: 1 }}>
      {points(back)} points are given back: {plural(mistakes.length, 'mistake counts', 'mistakes count')} once.
      {mistakes.some(({ text }) => text !== undefined) && (
        <Box component="ul" sx={{ m: 0, mt: 0.5, pl: 2.5 }}>
          {mistakes.map(({ text, places = [], cost }, at) => (
            <li key={at}>
              {text ?? 'Something'} It costs {points(cost)}.{' '}
              {places.length > 0 && (
                <Button size="small" onClick={() => onPlaces(places)} sx={{ minHeight: 24, py: 0 }}>
                  show it
                </Button>
              )}
            </li>
          ))}
        </Box>
      )}
    </Alert>
  );
}

/** What of a result is shown, as lists of requirements show it. */
function listOf(result: Attempt['result']): Pick<CheckResult, 'sections' | 'requirements'> {
  const findings = result?.findings ?? [];
  return {
    sections: (result?.sections ?? []).map((section, at) => ({ ...section, id: String(at) })),
    requirements: findings.map((finding, at) => ({
      ...finding,
      id: String(at),
      section: String(finding.section),
      sentence: finding.sentence ?? 'Its sentence is there when it is checked again.',
      items: itemsOf(finding),
    })),
  };
}

/** What helps with a requirement, which is named by its place among the findings. */
const hintOf = ({ result }: Attempt, id: string): string | undefined => result?.findings?.[Number(id)]?.hint;

/** Where only places are shown, one item says that there is something. */
const itemsOf = ({ items, places = [], verdict }: Finding): CheckResult['requirements'][number]['items'] =>
  items ??
  (places.length
    ? [
        {
          text: verdict === 'unjudged' ? 'Here something is not certain.' : 'Here something is not as it is asked for.',
          met: verdict === 'unjudged' ? null : false,
          places,
        },
      ]
    : []);

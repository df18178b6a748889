import { Box, Button, Stack, Typography } from '@mui/material';
import { IconChevronLeft, IconChevronRight } from '@tabler/icons-react';
import { type LabView, type SubmissionView } from '@sobrin/contracts';
import { splitInstanceId, optionsOf } from '@sobrin/core/engine';
import { type CheckResult } from '@sobrin/core/spec';
import { type Topology } from '@sobrin/core/topology';
import { useQuery } from '@tanstack/react-query';
import { type ReactNode, useEffect, useMemo, useRef, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { api } from '../api/client';
import { readDrawing, readPlan } from '../api/documents';
import { useChange, useClassRows, useSubmission } from '../api/queries';
import { Drawing } from '../drawing/drawing';
import { type DrawingView } from '../drawing/view';
import { type Mark } from '../drawing/marks';
import { useShownLab } from '../lab/lab-shell';
import { PlanView } from '../plan/plan-view';
import { Empty, Failure, Waiting, points, when } from '../ui/parts';
import { useFacts } from '../workers/use-facts';
import { Answers } from './answers';
import { Evidence } from './evidence';
import { firstOpen, marksOf, matchedWords, roleLines, type Item } from './findings';
import { RequirementList } from './requirement-list';
import { useCheckKeys } from './use-check-keys';

const LENSES = { ends: true, subnets: true, cables: false };

/** One submission: requirements at the left, the student's drawing in the middle, evidence below, the reference beside. */
export function CheckPage() {
  const { submissionId } = useParams();
  const lab = useShownLab();
  const submission = useSubmission(submissionId!);
  const reference = useQuery({
    queryKey: ['document', lab.referenceId],
    queryFn: () => readDrawing(lab.referenceId),
  });
  if (submission.isPending || reference.isPending) return <Waiting what="Loading the submission" />;
  if (submission.isError || reference.isError)
    return (
      <Box sx={{ p: 3 }}>
        <Failure
          error={submission.error ?? reference.error}
          onAgain={() => void Promise.all([submission.refetch(), reference.refetch()])}
        />
      </Box>
    );
  return <CheckDesk key={submissionId} lab={lab} submission={submission.data} reference={reference.data.document} />;
}

function CheckDesk({ lab, submission, reference }: { lab: LabView; submission: SubmissionView; reference: Topology }) {
  const navigate = useNavigate();
  const rows = useClassRows(lab.id);
  const check = useChange(
    () => api('POST submissions/:id/check', { id: submission.id }),
    ['submission', submission.id],
    ['class', lab.id],
    ['results', lab.id],
    ['lab', lab.id],
    ['courses'],
  );
  const handedIn = rows.data?.filter((row) => row.submissionId !== null) ?? [];
  const at = handedIn.findIndex((row) => row.studentId === submission.student.id);
  const goto = (by: number): void => {
    const next = handedIn[at + by];
    if (next) void navigate(`/labs/${lab.id}/class/${next.submissionId}`, { replace: true });
  };
  const { result } = submission;
  useCheckKeys({ j: () => goto(1), k: () => goto(-1) });
  useEffect(() => {
    // Opening a submission that was never checked checks it: nobody comes here for an empty page.
    if (!result && check.isIdle) check.mutate(undefined);
  }, [result, check]);
  return (
    <>
      <Box
        component="header"
        sx={{
          height: 56,
          flex: 'none',
          px: 2,
          display: 'flex',
          alignItems: 'center',
          gap: 2,
          borderBottom: '1px solid var(--line)',
        }}
      >
        <Stack direction="row" spacing={1} sx={{ alignItems: 'center' }}>
          <Button
            variant="outlined"
            aria-label="Previous student"
            disabled={at <= 0}
            onClick={() => goto(-1)}
            startIcon={<IconChevronLeft size={16} />}
          >
            <kbd>K</kbd>
          </Button>
          <Typography className="mono" sx={{ whiteSpace: 'nowrap' }}>
            {at >= 0 && `${at + 1} of ${handedIn.length}`}
          </Typography>
          <Button
            variant="outlined"
            aria-label="Next student"
            disabled={at < 0 || at >= handedIn.length - 1}
            onClick={() => goto(1)}
            endIcon={<IconChevronRight size={16} />}
          >
            <kbd>J</kbd>
          </Button>
        </Stack>
        <Box sx={{ minWidth: 0, flex: 1 }}>
          <Typography variant="h1" noWrap>
            {submission.student.name}
          </Typography>
          <Typography variant="body2" color="text.secondary" noWrap>
            {lab.title} · attempt {submission.attempt} · handed in {when(submission.handedInAt)},{' '}
            {submission.late ? 'late' : 'on time'}
          </Typography>
        </Box>
        {submission.stale && (
          <Typography sx={{ color: 'var(--ochre-text)' }}>Checked with an older spec or reference</Typography>
        )}
        <Button
          variant={submission.stale ? 'contained' : 'outlined'}
          disabled={check.isPending}
          onClick={() => check.mutate(undefined)}
        >
          {check.isPending ? 'Checking' : 'Check again'}
        </Button>
        {result && (
          <Typography
            className="mono"
            aria-label={`Mark ${points(result.points)} of ${points(result.of)}`}
            sx={{ fontSize: 23, fontWeight: 700, whiteSpace: 'nowrap' }}
          >
            {points(result.points)} <span style={{ fontSize: 15, color: 'var(--ink2)' }}>/ {points(result.of)}</span>
          </Typography>
        )}
      </Box>
      {check.isError && (
        <Box sx={{ p: 1 }}>
          <Failure error={check.error} />
        </Box>
      )}
      {result ? (
        <Findings
          result={result}
          submission={submission}
          reference={reference}
          policy={lab.policy}
          brief={lab.brief}
          planId={lab.planId}
        />
      ) : (
        <Waiting what="Checking the submission" />
      )}
    </>
  );
}

function Findings({
  result,
  submission,
  reference,
  policy,
  brief,
  planId,
}: {
  result: CheckResult;
  submission: SubmissionView;
  reference: Topology;
  policy: LabView['policy'];
  brief: LabView['brief'];
  planId: string;
}) {
  const { topology, plan } = submission;
  const isDrawn = Object.keys(topology.devices).length > 0;
  const [chosen, setChosen] = useState<string | null>(() => firstOpen(result));
  const [opened, setOpened] = useState<ReadonlySet<string>>(
    () =>
      new Set(
        result.sections
          .filter((section) =>
            result.requirements.some(
              (requirement) => requirement.section === section.id && requirement.verdict !== 'met',
            ),
          )
          .map((section) => section.id),
      ),
  );
  const [side, setSide] = useState<'none' | 'reference' | 'answers'>('none');
  /** Where items point to; null where they point nowhere. */
  const sideOf = (items: readonly Item[]): 'drawing' | 'plan' | null => {
    const places = items.flatMap((item) => item.places);
    if (plan && places.some((place) => place.block !== undefined)) return 'plan';
    return places.length ? 'drawing' : null;
  };
  const itemsOf = (id: string | null): readonly Item[] =>
    result.requirements.find((requirement) => requirement.id === id)?.items ?? [];
  const [looksAt, setLooksAt] = useState<'drawing' | 'plan'>(() =>
    plan && !isDrawn ? 'plan' : (sideOf(itemsOf(chosen)) ?? 'drawing'),
  );
  const [place, setPlace] = useState<Item | null>(null);
  const view = useRef<DrawingView | null>(null);
  const facts = useFacts(topology, optionsOf(policy));
  const requirement = result.requirements.find((requirement) => requirement.id === chosen) ?? null;
  const seconds = useMemo(() => roleLines(result, reference, topology), [result, reference, topology]);
  const marks = useMemo(
    () => marksOf(place ? [place] : (requirement?.items.filter((item) => item.met !== true) ?? [])),
    [requirement, place],
  );
  const referenceMarks = useMemo(() => rolesOfMarks(result, marks.devices), [result, marks]);
  const choose = (id: string): void => {
    setChosen(id);
    setPlace(null);
    setLooksAt((now) => sideOf(itemsOf(id)) ?? now);
    const section = result.requirements.find((requirement) => requirement.id === id)?.section;
    if (section !== undefined) setOpened((now) => new Set([...now, section]));
  };
  const step = (by: number): void => {
    const ids = result.requirements.map((requirement) => requirement.id);
    const next = ids[Math.min(ids.length - 1, Math.max(0, ids.indexOf(chosen ?? '') + by))];
    if (next !== undefined) choose(next);
  };
  const blocks = (place ? [place] : (requirement?.items.filter((item) => item.met !== true) ?? [])).flatMap((item) =>
    item.places.flatMap((place) => place.block ?? []),
  );
  const show = (item: Item): void => {
    setPlace(item);
    setLooksAt((now) => sideOf([item]) ?? now);
    const devices = item.places.flatMap(({ device, link }) => {
      const drawn = link === undefined ? undefined : topology.links[link];
      return device !== undefined ? [device] : drawn ? [drawn.a.device, drawn.b.device] : [];
    });
    view.current?.reveal({ devices });
  };
  useCheckKeys({
    p: () => plan && setLooksAt(looksAt === 'plan' ? 'drawing' : 'plan'),
    r: () => setSide(side === 'reference' ? 'none' : 'reference'),
    ArrowDown: () => step(1),
    ArrowUp: () => step(-1),
    section: (nth) => {
      const section = result.sections[nth - 1];
      const first =
        section &&
        (result.requirements.find(
          (requirement) => requirement.section === section.id && requirement.verdict !== 'met',
        ) ??
          result.requirements.find((requirement) => requirement.section === section.id));
      if (first) choose(first.id);
    },
  });
  const hasAnswers = Object.keys(submission.answers).length > 0 || submission.attachments.length > 0;
  return (
    <>
      <Box sx={{ flex: 1, minHeight: 0, display: 'flex' }}>
        <RequirementList
          result={result}
          chosen={chosen}
          openSections={opened}
          onChoose={choose}
          onToggle={(id) =>
            setOpened((now) => new Set(now.has(id) ? [...now].filter((one) => one !== id) : [...now, id]))
          }
        />
        <Box sx={{ flex: 1, minWidth: 0, display: 'flex', flexDirection: 'column' }}>
          <Box sx={{ flex: 1, minHeight: 0, display: 'flex' }}>
            <Pane
              title={looksAt === 'plan' ? 'Student’s plan' : 'Student’s drawing'}
              aside={
                plan && isDrawn ? (
                  <Button
                    size="small"
                    onClick={() => setLooksAt(looksAt === 'plan' ? 'drawing' : 'plan')}
                    sx={{ minHeight: 24, py: 0 }}
                  >
                    <kbd>P</kbd>&nbsp;{looksAt === 'plan' ? 'drawing' : 'plan'}
                  </Button>
                ) : looksAt === 'plan' ? (
                  ''
                ) : (
                  matchedWords(result)
                )
              }
            >
              {looksAt === 'plan' && plan ? (
                <PlanView key={`${chosen} ${blocks.join()}`} plan={plan} brief={brief} marked={blocks} />
              ) : !isDrawn ? (
                <Empty title="An empty sheet was handed in" />
              ) : (
                <Drawing
                  topology={topology}
                  label={`Drawing of ${submission.student.name}`}
                  facts={facts.links}
                  lenses={LENSES}
                  marks={marks}
                  seconds={seconds}
                  dimOthers={marks.devices.size + marks.links.size > 0}
                  onReady={(ready) => {
                    view.current = ready;
                  }}
                />
              )}
            </Pane>
            {side === 'reference' && (
              <Pane
                title="Reference"
                aside={
                  <span>
                    <kbd>R</kbd> closes it
                  </span>
                }
              >
                {looksAt === 'plan' ? (
                  <ReferencePlan planId={planId} brief={brief} />
                ) : (
                  <Drawing
                    topology={reference}
                    label="Reference"
                    lenses={LENSES}
                    marks={{ devices: referenceMarks, links: NO_MARKS }}
                  />
                )}
              </Pane>
            )}
            {side === 'answers' && (
              <Pane title="Answers and files" aside="">
                <Answers submission={submission} />
              </Pane>
            )}
          </Box>
          {requirement && <Evidence requirement={requirement} drawing={topology} plan={plan} onPlace={show} />}
        </Box>
      </Box>
      <Box
        component="footer"
        sx={{
          height: 28,
          flex: 'none',
          px: 2,
          display: 'flex',
          alignItems: 'center',
          gap: 2,
          background: 'var(--sunk)',
          borderTop: '1px solid var(--line)',
          fontSize: 12,
          color: 'var(--ink2)',
        }}
      >
        <span>
          <kbd>J</kbd> <kbd>K</kbd> student
        </span>
        <span>
          <kbd>1</kbd> … <kbd>{Math.min(9, result.sections.length)}</kbd> section
        </span>
        <span>
          <kbd>↑</kbd> <kbd>↓</kbd> requirement
        </span>
        <Button
          size="small"
          aria-pressed={side === 'reference'}
          onClick={() => setSide(side === 'reference' ? 'none' : 'reference')}
          sx={{ minHeight: 22, py: 0, fontSize: 12, color: 'var(--ink2)' }}
        >
          <kbd>R</kbd>&nbsp;reference
        </Button>
        {hasAnswers && (
          <Button
            size="small"
            aria-pressed={side === 'answers'}
            onClick={() => setSide(side === 'answers' ? 'none' : 'answers')}
            sx={{ minHeight: 22, py: 0, fontSize: 12, color: 'var(--ink2)' }}
          >
            answers and files
          </Button>
        )}
      </Box>
    </>
  );
}

/** The lab's own plan, beside the student's. */
function ReferencePlan({ planId, brief }: { planId: string; brief: LabView['brief'] }) {
  const plan = useQuery({
    queryKey: ['document', planId],
    queryFn: () => readPlan(planId),
  });
  if (plan.isPending) return <Waiting what="Loading the plan" />;
  if (plan.isError) return <Failure error={plan.error} onAgain={() => void plan.refetch()} />;
  return <PlanView plan={plan.data.document} brief={brief} marked={NO_BLOCKS} />;
}
const NO_BLOCKS: readonly string[] = [];

const NO_MARKS: ReadonlyMap<string, Mark> = new Map();

/** The reference's devices whose parts the marked devices play. */
function rolesOfMarks(result: CheckResult, devices: ReadonlyMap<string, Mark>): Map<string, Mark> {
  const roles = new Map<string, Mark>();
  for (const { role, device } of result.matching)
    if (device !== null && devices.has(splitInstanceId(device).device)) roles.set(splitInstanceId(role).device, 'met');
  return roles;
}

function Pane({ title, aside, children }: { title: string; aside: ReactNode; children: ReactNode }) {
  return (
    <Box
      component="section"
      aria-label={title}
      sx={{ flex: 1, minWidth: 0, display: 'flex', flexDirection: 'column', borderLeft: '1px solid var(--line)' }}
    >
      <Box
        sx={{
          height: 36,
          flex: 'none',
          px: 2,
          display: 'flex',
          alignItems: 'center',
          justifyContent: 'space-between',
          borderBottom: '1px solid var(--line)',
        }}
      >
        <Typography variant="h3">{title}</Typography>
        <Typography variant="body2" color="text.secondary" noWrap>
          {aside}
        </Typography>
      </Box>
      <Box sx={{ flex: 1, minHeight: 0, overflow: 'auto' }}>{children}</Box>
    </Box>
  );
}

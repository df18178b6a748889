import { Box, Typography } from '@mui/material';
import { type LabView, type SubmissionView } from '@sobrin/contracts';
import { type EngineOptions, splitInstanceId } from '@sobrin/core/engine';
import { type CheckResult, type Place } from '@sobrin/core/spec';
import { type Topology } from '@sobrin/core/topology';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useRef } from 'react';
import { readPlan } from '../api/documents';
import { Drawing } from '../drawing/drawing';
import { type Mark } from '../drawing/marks';
import { type DrawingView } from '../drawing/view';
import { useShownLab } from '../lab/lab-shell';
import { PlanView } from '../plan/plan-view';
import { Failure, Waiting } from '../ui/states';
import { Answers } from './answers';
import { type Side } from './check-footer';
import { DifferencesPane } from './differences-pane';
import { Pane } from './pane';
import { RolesPane } from './roles-pane';
import { OwnComments, subjectOf } from './comments';
import { type About, type Comments } from './use-comments';
import { type ReferencePlacing } from './use-reference';
import { type Decisions } from './use-decisions';
import { type Ask } from '../workers/engine-requests';
import { Key } from '../ui/keys/key';

const LENSES = { ends: true, subnets: true, cables: false };
const NO_BLOCKS: readonly string[] = [];
const NO_MARKS: ReadonlyMap<string, Mark> = new Map();

/** The lab's own drawing or plan, or what else the student handed in, beside the student's work. */
export function SidePane({
  side,
  looksAt,
  submission,
  result,
  marked,
  focus,
  reference,
  planId,
  brief,
  decisions,
  placing,
  comments,
  options,
  ask,
  onShow,
  onAbout,
}: {
  side: Side;
  looksAt: 'drawing' | 'plan';
  submission: SubmissionView;
  result: CheckResult;
  /** What is marked in the student's drawing. */
  marked: ReadonlyMap<string, Mark>;
  /** The student's devices that are to be seen. */
  focus: readonly string[];
  reference: Topology;
  planId: string;
  brief: LabView['brief'];
  decisions: Decisions;
  placing: ReferencePlacing;
  comments: Comments;
  options: Partial<EngineOptions>;
  /** Asks about the student's drawing, as it was judged. */
  ask: Ask;
  /** Brings something of the student's drawing into sight. */
  onShow: (place: Place) => void;
  /** Shows what a comment is about. */
  onAbout: (about: About) => void;
}) {
  const { tasks } = useShownLab();
  const referenceMarks = useMemo(() => rolesOfMarks(result, marked), [result, marked]);
  const view = useRef<DrawingView | null>(null);
  const roles = useMemo(
    () => focus.flatMap((id) => [...rolesOfMarks(result, new Map([[id, 'met']])).keys()]),
    [result, focus],
  );
  useEffect(() => view.current?.readable(roles), [roles]);
  return (
    <>
      {side === 'reference' && (
        <Pane
          title="Reference"
          aside={
            <span>
              <Key id="reference-placement" keys="L" /> {placing.placement === 'beside' ? 'above' : 'beside'} ·{' '}
              <Key id="reference" keys="R" /> closes it
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
              onReady={(ready) => {
                view.current = ready;
                placing.setView('reference', ready);
                ready.readable(roles);
              }}
              {...placing.propsOf('reference')}
            />
          )}
        </Pane>
      )}
      {side === 'differences' && (
        <Pane title="Differences" aside={<Closes id="differences" keys="D" />}>
          <DifferencesPane
            reference={reference}
            drawing={submission.topology}
            matching={result.matching}
            options={options}
            ask={ask}
            onShow={onShow}
          />
        </Pane>
      )}
      {side === 'roles' && (
        <Pane title="Who is who" aside={<Closes id="roles" keys="W" />}>
          <RolesPane result={result} reference={reference} drawing={submission.topology} decisions={decisions} />
        </Pane>
      )}
      {side === 'comments' && (
        <Pane title="Comments" aside={<Closes id="comments" keys="Shift C" />}>
          <Box sx={{ p: 2 }}>
            {comments.list.length ? (
              <OwnComments
                comments={comments}
                subject={(comment) =>
                  subjectOf(
                    comment,
                    submission.topology,
                    (id) =>
                      result.requirements.find((each) => each.id === id)?.sentence ?? 'A requirement that is gone',
                  )
                }
                onShow={onAbout}
              />
            ) : (
              <Typography color="text.secondary">
                Nothing is said yet. <Key id="comment" keys="C" /> says something of a requirement, of a device or a
                link, or of the whole work; its student reads it with the mark.
              </Typography>
            )}
          </Box>
        </Pane>
      )}
      {side === 'answers' && (
        <Pane title="Answers and files" aside="">
          <Answers submission={submission} tasks={tasks} />
        </Pane>
      )}
    </>
  );
}

const Closes = ({ id, keys }: { id: string; keys: string }) => (
  <span>
    <Key id={id} keys={keys} /> closes it
  </span>
);

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
/** The reference's devices whose parts the marked devices play. */
function rolesOfMarks(result: CheckResult, devices: ReadonlyMap<string, Mark>): Map<string, Mark> {
  const roles = new Map<string, Mark>();
  for (const { role, device } of result.matching)
    if (device !== null && devices.has(splitInstanceId(device).device)) roles.set(splitInstanceId(role).device, 'met');
  return roles;
}

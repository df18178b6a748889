import { Box, Button } from '@mui/material';
import { type LabView, type SubmissionView } from '@sobrin/contracts';
import { optionsOf } from '@sobrin/core/engine';
import { type CheckResult, type Place, asJudged } from '@sobrin/core/spec';
import { type Topology } from '@sobrin/core/topology';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Drawing } from '../drawing/drawing';
import { type DrawingView } from '../drawing/view';
import { PlanView } from '../plan/plan-view';
import { Empty } from '../ui/states';
import { useShortcuts } from '../ui/keys/shortcuts';
import { useEngine } from '../workers/use-facts';
import { CheckFooter, type Side } from './check-footer';
import { CausePanel } from './cause-panel';
import { Evidence } from './evidence';
import { devicesOf, matchedWords, roleLines } from './findings';
import { Pane } from './pane';
import { RequirementList } from './requirement-list';
import { SidePane } from './side-pane';
import { type Decisions } from './use-decisions';
import { withPins } from './comments';
import { type About, type Comments } from './use-comments';
import { marksOfCause, useCauses } from './use-causes';
import { useFindings } from './use-findings';
import { useReference } from './use-reference';
import { useWay, withWay } from './use-way';
import { WayStrip } from './way-strip';
import { Key } from '../ui/keys/key';
import { points } from '../ui/words';
import { IF_SMALL } from '../ui/frame';

const LENSES = { ends: true, subnets: true, cables: false };

/** The requirements with their verdicts, the student's drawing or plan with what is marked, and the evidence below. */
export function FindingsDesk({
  result,
  submission,
  reference,
  policy,
  brief,
  planId,
  decisions,
  comments,
}: {
  result: CheckResult;
  submission: SubmissionView;
  reference: Topology;
  policy: LabView['policy'];
  brief: LabView['brief'];
  planId: string;
  decisions: Decisions;
  comments: Comments;
}) {
  const { topology, plan } = submission;
  const view = useRef<DrawingView | null>(null);
  const judged = useMemo(() => asJudged(reference, topology, result.matching), [reference, topology, result]);
  const options = useMemo(() => optionsOf(policy), [policy]);
  const seconds = useMemo(() => roleLines(result, reference, topology), [result, reference, topology]);
  const [side, setSide] = useState<Side>('none');
  const findings = useFindings(result, submission, (devices) => view.current?.reveal({ devices }));
  const { chosen, requirement, opened, toggle, looksAt, lookAtOther, blocks } = findings;
  const { show, isDrawn, followed } = findings;
  const causes = useCauses(submission, result, ({ places }) =>
    view.current?.reveal({ devices: devicesOf([{ text: '', met: false, places }], topology) }),
  );
  const { chosen: cause, tried } = causes;
  const { facts, ask } = useEngine(judged, options, tried ?? judged);
  const choose = (id: string): void => {
    causes.choose(null);
    findings.choose(id);
  };
  const { way } = useWay(ask, looksAt === 'drawing' && !cause ? followed : null);
  const marks = useMemo(
    () => (cause ? marksOfCause(cause, tried !== null) : way ? withWay(findings.marks, way.marks) : findings.marks),
    [cause, tried, way, findings.marks],
  );
  const focus = useMemo(() => {
    if (cause) return devicesOf([{ text: '', met: false, places: cause.places }], topology);
    if (!way) return findings.focus;
    const { trace, at } = way;
    // First where one stands: of what lies far apart that is seen.
    return [...new Set([...trace.steps.slice(0, at + 1).reverse(), ...trace.steps].map(({ device }) => device))];
  }, [cause, topology, way, findings.focus]);
  const pinned = useMemo(() => withPins(tried ?? topology, comments.list), [tried, topology, comments.list]);
  const isBeside = side !== 'none';
  const room = useRef<HTMLDivElement>(null);
  const placing = useReference({ room, side, onSide: setSide, reference, topology, matching: result.matching });
  const isInstead = side === 'reference' && placing.placement === 'instead' && looksAt === 'drawing';
  // It shows what it is about, so large that it can be read.
  useEffect(() => view.current?.readable(focus), [isBeside, focus]);
  useShortcuts([
    {
      id: 'roles',
      text: 'Who is who',
      keys: 'W',
      run: () => setSide(side === 'roles' ? 'none' : 'roles'),
    },
    {
      id: 'differences',
      text: 'Differences from the reference',
      keys: 'D',
      run: () => setSide(side === 'differences' ? 'none' : 'differences'),
    },
    {
      id: 'comments',
      text: 'All comments',
      keys: 'Shift C',
      run: () => setSide(side === 'comments' ? 'none' : 'comments'),
    },
  ]);
  /** Marks something of the drawing, and brings it into sight. */
  const showPlace = (place: Place): void => show({ text: '', met: null, places: [place] });
  /** Brings into sight what a comment is about. */
  const showAbout = ({ kind, target }: About): void => {
    if (kind === 'requirement') choose(target);
    else if (kind !== 'work') showPlace(kind === 'link' ? { link: target } : { device: target });
  };
  const { answers, attachments, asked } = submission;
  const hasAnswers = [Object.keys(answers), attachments, asked.hints].some(({ length }) => length > 0);
  return (
    <>
      <Box sx={{ flex: 1, minHeight: 0, display: 'flex', [IF_SMALL]: { flexDirection: 'column' } }}>
        <RequirementList
          result={result}
          chosen={cause ? null : chosen}
          openSections={opened}
          onChoose={choose}
          onToggle={toggle}
          causes={causes}
        />
        <Box sx={{ flex: 1, minWidth: 0, display: 'flex', flexDirection: 'column' }}>
          <Box
            ref={room}
            sx={{
              flex: 1,
              minHeight: 0,
              display: 'flex',
              flexDirection: side === 'reference' && placing.placement === 'above' ? 'column-reverse' : 'row',
              [IF_SMALL]: { flexDirection: 'column' },
            }}
          >
            {!isInstead && (
              <Pane
                title={
                  tried ? `With ${cause!.letter} repaired` : looksAt === 'plan' ? 'Student’s plan' : 'Student’s drawing'
                }
                aside={
                  plan && isDrawn ? (
                    <Button size="small" onClick={lookAtOther} sx={{ minHeight: 24, py: 0 }}>
                      <Key id="plan-or-drawing" keys="P" />
                      &nbsp;{looksAt === 'plan' ? 'drawing' : 'plan'}
                    </Button>
                  ) : looksAt === 'plan' ? (
                    ''
                  ) : tried ? (
                    `${points(cause!.mark)} of ${points(result.of)}`
                  ) : (
                    matchedWords(result)
                  )
                }
              >
                {looksAt === 'plan' && plan && !cause ? (
                  <PlanView key={`${chosen} ${blocks.join()}`} plan={plan} brief={brief} marked={blocks} />
                ) : !isDrawn ? (
                  <Empty title="An empty sheet was handed in" />
                ) : (
                  <Drawing
                    topology={pinned}
                    comments={{ chosen: null, onPick: () => setSide('comments') }}
                    label={`Drawing of ${submission.student.name}`}
                    facts={facts.links}
                    lenses={LENSES}
                    marks={marks}
                    seconds={seconds}
                    dimOthers={marks.devices.size + marks.links.size > 0}
                    onReady={(ready) => {
                      view.current = ready;
                      placing.setView('student', ready);
                      ready.readable(focus);
                    }}
                    {...placing.propsOf('student')}
                  />
                )}
              </Pane>
            )}
            <SidePane
              side={side}
              looksAt={looksAt}
              submission={submission}
              result={result}
              marked={marks.devices}
              focus={focus}
              reference={reference}
              planId={planId}
              brief={brief}
              decisions={decisions}
              placing={placing}
              comments={comments}
              options={options}
              ask={ask}
              onShow={showPlace}
              onAbout={showAbout}
            />
          </Box>
          {way && <WayStrip way={way} />}
          {cause && (
            <CausePanel
              key={cause.letter}
              causes={causes}
              cause={cause}
              result={result}
              drawing={topology}
              comments={comments}
              isShort={isBeside}
              onRequirement={choose}
            />
          )}
          {requirement && !cause && (
            <Evidence
              key={requirement.id}
              requirement={requirement}
              drawing={topology}
              plan={plan}
              isShort={isBeside}
              onPlace={show}
              decisions={decisions}
              comments={comments}
              specAt={`/labs/${submission.labId}/spec`}
              causes={causes}
            />
          )}
        </Box>
      </Box>
      <CheckFooter
        sections={result.sections.length}
        side={side}
        onSide={(side) => (side === 'reference' ? placing.open() : setSide(side))}
        hasAnswers={hasAnswers}
        comments={comments.list.length}
        causes={causes.diagnosis?.causes.length ?? 0}
        isMine={decisions.isMine}
      />
    </>
  );
}

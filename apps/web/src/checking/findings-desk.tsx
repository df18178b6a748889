import { Box, Button } from '@mui/material';
import { type LabView, type SubmissionView } from '@sobrin/contracts';
import { optionsOf } from '@sobrin/core/engine';
import { type CheckResult } from '@sobrin/core/spec';
import { type Topology } from '@sobrin/core/topology';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Drawing } from '../drawing/drawing';
import { type DrawingView } from '../drawing/view';
import { PlanView } from '../plan/plan-view';
import { Empty } from '../ui/states';
import { useShortcuts } from '../ui/keys/shortcuts';
import { useFacts } from '../workers/use-facts';
import { CheckFooter, type Side } from './check-footer';
import { Evidence } from './evidence';
import { matchedWords, roleLines } from './findings';
import { Pane } from './pane';
import { RequirementList } from './requirement-list';
import { SidePane } from './side-pane';
import { type Decisions } from './use-decisions';
import { useFindings } from './use-findings';
import { Key } from '../ui/keys/key';
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
}: {
  result: CheckResult;
  submission: SubmissionView;
  reference: Topology;
  policy: LabView['policy'];
  brief: LabView['brief'];
  planId: string;
  decisions: Decisions;
}) {
  const { topology, plan } = submission;
  const view = useRef<DrawingView | null>(null);
  const facts = useFacts(topology, optionsOf(policy));
  const seconds = useMemo(() => roleLines(result, reference, topology), [result, reference, topology]);
  const [side, setSide] = useState<Side>('none');
  const findings = useFindings(result, submission, (devices) => view.current?.reveal({ devices }));
  const { chosen, choose, requirement, opened, toggle, looksAt, lookAtOther, marks, blocks } = findings;
  const { show, isDrawn, focus } = findings;
  const isBeside = side !== 'none';
  // Beside something else a drawing has half the room: it shows what it is about, so large that it can be read.
  useEffect(() => {
    if (isBeside) view.current?.readable(focus);
    else view.current?.showAll();
  }, [isBeside, focus]);
  useShortcuts([
    {
      id: 'reference',
      text: 'Reference beside it',
      keys: 'R',
      run: () => setSide(side === 'reference' ? 'none' : 'reference'),
    },
    {
      id: 'roles',
      text: 'Who is who',
      keys: 'W',
      run: () => setSide(side === 'roles' ? 'none' : 'roles'),
    },
  ]);
  const hasAnswers = Object.keys(submission.answers).length > 0 || submission.attachments.length > 0;
  return (
    <>
      <Box sx={{ flex: 1, minHeight: 0, display: 'flex', [IF_SMALL]: { flexDirection: 'column' } }}>
        <RequirementList result={result} chosen={chosen} openSections={opened} onChoose={choose} onToggle={toggle} />
        <Box sx={{ flex: 1, minWidth: 0, display: 'flex', flexDirection: 'column' }}>
          <Box sx={{ flex: 1, minHeight: 0, display: 'flex', [IF_SMALL]: { flexDirection: 'column' } }}>
            <Pane
              title={looksAt === 'plan' ? 'Student’s plan' : 'Student’s drawing'}
              aside={
                plan && isDrawn ? (
                  <Button size="small" onClick={lookAtOther} sx={{ minHeight: 24, py: 0 }}>
                    <Key id="plan-or-drawing" keys="P" />
                    &nbsp;{looksAt === 'plan' ? 'drawing' : 'plan'}
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
            />
          </Box>
          {requirement && (
            <Evidence
              key={requirement.id}
              requirement={requirement}
              drawing={topology}
              plan={plan}
              isShort={isBeside}
              onPlace={show}
              decisions={decisions}
            />
          )}
        </Box>
      </Box>
      <CheckFooter
        sections={result.sections.length}
        side={side}
        onSide={setSide}
        hasAnswers={hasAnswers}
        isMine={decisions.isMine}
      />
    </>
  );
}

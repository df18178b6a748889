import { Box, Button, Stack, useMediaQuery } from '@mui/material';
import { type SubnetNeed, problemsByBlock, touchedBy } from '@sobrin/core/plan';
import { type ReactNode, useDeferredValue, useMemo, useRef, useState } from 'react';
import { SaveTrouble } from '../documents/tools';
import { DESK, IF_SMALL, NARROW, PAGE, SIGHT } from '../ui/frame';
import { Empty } from '../ui/states';
import { Pulse } from '../ui/pulse';
import { historyKeys, useShortcuts } from '../ui/keys/shortcuts';
import { useStable } from '../ui/use-stable';
import { BlockMap } from './block-map';
import { BriefNumbers } from './brief-numbers';
import { MeetingDialog } from './dialogs/meeting-dialog';
import { PlanInspector } from './inspector/plan-inspector';
import { PlanDialogs } from './plan-dialogs';
import { MOST_FOUND, planRows } from './plan-rows';
import { PlanSearch } from './plan-search';
import { PlanToolbar } from './plan-toolbar';
import { PlanTreeTable } from './plan-tree-table';
import { StandingKey } from './standing-icon';
import { useOpened } from './use-opened';
import { usePlan, usePlanFacts, usePlanSetting, usePlanStore } from './use-plan';
import { type PlanDialog, focusField, usePlanActions } from './use-plan-actions';
import { Notice } from '../ui/notice';
import { Key } from '../ui/keys/key';

const NO_NEEDS: readonly SubnetNeed[] = [];

/** The address plan: map and tree of its blocks, the numbers of the brief beside, and what is chosen at the right. */
export function PlanDesk({ under, lost, children }: { under: string; lost: string | null; children?: ReactNode }) {
  const store = usePlanStore();
  const state = usePlan((all) => all);
  const { selection, select, unconfirmed, refusal, dismiss } = state;
  const { tree, ranges, needs, problems, toneOf } = usePlanFacts((facts) => facts);
  const { brief, showsResults, laysOut, drawingId } = usePlanSetting();
  const opened = useOpened();
  const [search, setSearch] = useState('');
  const [dialog, setDialog] = useState<PlanDialog | null>(null);
  const [message, setMessage] = useState(lost);
  const isNarrow = useMediaQuery(NARROW);
  const [showsNumbers, setShowsNumbers] = useState(false);
  const searchField = useRef<HTMLInputElement>(null);
  const wanted = useDeferredValue(search);
  const rows = useMemo(
    () => planRows(tree, ranges, { closed: opened.closed, opened: opened.opened, search: wanted }),
    [tree, ranges, opened.closed, opened.opened, wanted],
  );
  const isCut = wanted !== '' && rows.filter((row) => row.kind === 'address').length >= MOST_FOUND;
  const shownProblems = useMemo(() => (showsResults ? (problems ?? []) : []), [problems, showsResults]);
  const byBlock = useMemo(() => problemsByBlock(shownProblems), [shownProblems]);
  const waiting = useMemo(() => touchedBy(unconfirmed), [unconfirmed]);
  const actions = usePlanActions({ opened, problems: shownProblems, open: setDialog, tell: setMessage });
  const { first, node, isBlank } = actions;
  const showInMap = useStable(actions.show);
  const addInMap = useStable(actions.addBlock);
  const planFromNumbers = useStable(actions.planGroup);
  useShortcuts([
    { id: 'block', text: 'Add a block', keys: 'A', run: () => actions.addBlock() },
    { id: 'divide', text: 'Divide the block', keys: 'D', run: () => actions.divide() },
    { id: 'take', text: 'Take the next address', keys: 'N', run: () => focusField('take-name') },
    { id: 'paste', text: 'Paste a list', keys: 'P', run: () => setDialog({ kind: 'paste' }) },
    { id: 'workings', text: 'Work an address out', keys: 'W', run: actions.workings },
    { id: 'search', text: 'Find in the plan', keys: '/', run: () => searchField.current?.focus() },
    { id: 'remove', text: 'Remove what is chosen', keys: 'Del', run: actions.remove },
    { id: 'rename', text: 'Name of the block', keys: 'F2', run: () => focusField('block-name') },
    { id: 'problem', text: 'Next problem', keys: 'F8', run: actions.nextProblem },
    {
      id: 'leave',
      text: 'Choose nothing',
      keys: 'Esc',
      run: () => select({ blocks: [], address: null, range: null }),
    },
    ...historyKeys(store.getState()),
  ]);
  return (
    <Box sx={PAGE}>
      <PlanToolbar under={under} actions={actions} open={setDialog}>
        {children}
      </PlanToolbar>
      <SaveTrouble state={state} what="plan" />
      <BlockMap tree={tree} chosen={first} onChoose={showInMap} onFree={addInMap} />
      <Box sx={DESK}>
        {(!isNarrow || showsNumbers) && (
          <Box
            sx={{
              width: isNarrow ? '100%' : 240,
              flex: 'none',
              ...(isNarrow && { maxHeight: '40%' }),
              overflow: 'auto',
              [IF_SMALL]: { maxHeight: 'none' },
              borderRight: '1px solid var(--line)',
              background: 'var(--surface)',
            }}
          >
            <BriefNumbers
              needs={needs}
              tree={tree}
              chosenGroup={node?.block.group}
              showsResults={showsResults}
              onShow={showInMap}
              onPlan={planFromNumbers}
            />
          </Box>
        )}
        <Box sx={{ ...SIGHT, display: 'flex', flexDirection: 'column' }}>
          <Stack
            direction="row"
            useFlexGap
            sx={{ alignItems: 'center', px: 1.5, minHeight: 36, flex: 'none', flexWrap: 'wrap', columnGap: 1.5 }}
          >
            <Box component="h2" sx={{ m: 0, fontSize: 15 }}>
              Plan
            </Box>
            <PlanSearch field={searchField} value={search} onChange={setSearch} />
            {isCut && (
              <Box component="span" role="status" sx={{ color: 'var(--ink2)', fontSize: 12 }}>
                the first {MOST_FOUND}: type more
              </Box>
            )}
            <Box sx={{ flex: 1 }} />
            {isNarrow && (
              <Button size="small" aria-pressed={showsNumbers} onClick={() => setShowsNumbers(!showsNumbers)}>
                Brief numbers
              </Button>
            )}
            {laysOut && !isBlank && (
              <Button size="small" onClick={() => actions.divide('groups')}>
                Lay out all groups
              </Button>
            )}
            <StandingKey />
          </Stack>
          {isBlank ? (
            <Empty
              title="No address plan yet"
              action={
                <Stack direction="row" spacing={1}>
                  <Button variant="contained" onClick={() => actions.addBlock()}>
                    Add the root block
                  </Button>
                  {drawingId !== null && (
                    <Button variant="outlined" onClick={() => setDialog({ kind: 'compare' })}>
                      Build it from the drawing
                    </Button>
                  )}
                </Stack>
              }
            >
              Begin with the block that everything lives in
              <Key id="block" keys="A" inBrackets />, then divide it
              <Key id="divide" keys="D" inBrackets />: sites, then subnets. Every change is saved at once and can be
              undone.
            </Empty>
          ) : (
            <PlanTreeTable
              tree={tree}
              rows={rows}
              ranges={ranges}
              toneOf={toneOf}
              needs={showsResults ? needs : NO_NEEDS}
              brief={brief}
              problems={byBlock}
              selection={selection}
              waiting={waiting}
              onSelect={select}
              onOpen={opened.toggle}
            />
          )}
        </Box>
        <PlanInspector
          onDivide={() => actions.divide()}
          onFree={actions.addBlock}
          onWorkings={(start) => setDialog({ kind: 'workings', start })}
        />
      </Box>
      {showsResults && (
        <Pulse
          problems={isBlank ? [] : shownProblems}
          fine={
            isBlank
              ? 'nothing is planned yet'
              : 'no overlaps, every later number fits, nothing of the provider’s is used inside'
          }
          aside={
            <span style={{ whiteSpace: 'nowrap' }}>
              <kbd>↑</kbd> <kbd>↓</kbd> block · <kbd>→</kbd> open · <Key id="take" keys="N" /> next address
            </span>
          }
          onJump={actions.jump}
          onNext={actions.nextProblem}
        />
      )}
      {dialog && <PlanDialogs dialog={dialog} onClose={() => setDialog(null)} onTold={setMessage} />}
      <MeetingDialog />
      <Notice text={refusal} onClose={dismiss} />
      <Notice text={message} severity="info" onClose={() => setMessage(null)} />
    </Box>
  );
}

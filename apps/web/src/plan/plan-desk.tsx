import { Box, Button, Snackbar, Stack, useMediaQuery } from '@mui/material';
import { type SubnetNeed, problemsByBlock, touchedBy } from '@sobrin/core/plan';
import { type ReactNode, useDeferredValue, useMemo, useRef, useState } from 'react';
import { SaveTrouble } from '../documents/tools';
import { DESK, NARROW } from '../ui/desk';
import { Empty } from '../ui/states';
import { Pulse } from '../ui/pulse';
import { historyKeys, useKeys } from '../ui/use-keys';
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
  useKeys({
    a: () => actions.addBlock(),
    d: () => actions.divide(),
    n: () => focusField('take-name'),
    p: () => setDialog({ kind: 'paste' }),
    w: actions.workings,
    '/': () => searchField.current?.focus(),
    Delete: actions.remove,
    F2: () => focusField('block-name'),
    F8: actions.nextProblem,
    Escape: () => select({ blocks: [], address: null, range: null }),
    ...historyKeys(store.getState()),
  });
  return (
    <Box sx={{ height: '100%', display: 'flex', flexDirection: 'column', minWidth: 0 }}>
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
        <Box sx={{ flex: 1, minWidth: 0, minHeight: 0, display: 'flex', flexDirection: 'column' }}>
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
              Begin with the block that everything lives in (<kbd>A</kbd>), then divide it (<kbd>D</kbd>): sites, then
              subnets. Every change is saved at once and can be undone.
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
              <kbd>↑</kbd> <kbd>↓</kbd> block · <kbd>→</kbd> open · <kbd>N</kbd> next address
            </span>
          }
          onJump={actions.jump}
          onNext={actions.nextProblem}
        />
      )}
      {dialog && <PlanDialogs dialog={dialog} onClose={() => setDialog(null)} onTold={setMessage} />}
      <MeetingDialog />
      <Snackbar open={refusal !== null} autoHideDuration={8000} onClose={dismiss} message={refusal} />
      <Snackbar
        open={message !== null}
        autoHideDuration={12_000}
        onClose={(_event, why) => why !== 'clickaway' && setMessage(null)}
        message={message}
      />
    </Box>
  );
}

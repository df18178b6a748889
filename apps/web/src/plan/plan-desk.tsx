import { Box, Button, InputBase, Snackbar, Stack } from '@mui/material';
import { IconArrowsSplit2, IconPlus, IconTable } from '@tabler/icons-react';
import { type Prefix } from '@sobrin/core/address';
import { planCsv, readPlanText } from '@sobrin/core/formats';
import {
  type PlanNode,
  type PlanProblem,
  type SubnetNeed,
  PLAN_VERSION,
  problemsByBlock,
  newBlockIn,
  placeForNeed,
  removePlanned,
  touchedBy,
} from '@sobrin/core/plan';
import { type ReactNode, useDeferredValue, useMemo, useRef, useState } from 'react';
import { fileName, give, pickText } from '../api/files';
import { newShortId } from '../api/new-id';
import { HistoryTools, SaveSign, SaveTrouble } from '../documents/tools';
import { MenuTool } from '../ui/menu-tool';
import { Empty, TopBar } from '../ui/parts';
import { Pulse } from '../ui/pulse';
import { useKeys } from '../ui/use-keys';
import { useStable } from '../ui/use-stable';
import { BlockMap } from './block-map';
import { BriefNumbers } from './brief-numbers';
import { CompareDialog } from './dialogs/compare-dialog';
import { DivideDialog } from './dialogs/divide-dialog';
import { MeetingDialog } from './dialogs/meeting-dialog';
import { PasteDialog } from './dialogs/paste-dialog';
import { TableDialog, TableWithDrawing } from './dialogs/table-dialog';
import { WorkingsDialog } from './dialogs/workings-dialog';
import { PlanInspector } from './inspector/plan-inspector';
import { MOST_FOUND, planRows } from './plan-rows';
import { StandingKey } from './standing-icon';
import { PlanTreeTable } from './plan-tree-table';
import { useOpened } from './use-opened';
import { usePlan, usePlanFacts, usePlanSetting, usePlanStore } from './use-plan';

type Opened =
  | { kind: 'divide'; node: PlanNode; first: 'equal' | 'sizes' | 'groups' }
  | { kind: 'paste' | 'compare' | 'table' }
  | { kind: 'workings'; start: string };

const NO_NEEDS: readonly SubnetNeed[] = [];

/** The address plan: map and tree of its blocks, the numbers of the brief beside, and what is chosen at the right. */
export function PlanDesk({ under, lost, children }: { under: string; lost: string | null; children?: ReactNode }) {
  const store = usePlanStore();
  const { document: plan, selection, select, do: run, save, unconfirmed, refusal, dismiss } = usePlan((state) => state);
  const { tree, ranges, needs, problems, toneOf } = usePlanFacts((facts) => facts);
  const { brief, title, showsResults, laysOut, drawingId } = usePlanSetting();
  const { closed, opened, toggle, reveal, openSubnet } = useOpened();
  const [search, setSearch] = useState('');
  const [dialog, setDialog] = useState<Opened | null>(null);
  const [message, setMessage] = useState(lost);
  const searchField = useRef<HTMLInputElement>(null);
  const problemAt = useRef(-1);
  const wanted = useDeferredValue(search);
  const rows = useMemo(
    () => planRows(tree, ranges, { closed, opened, search: wanted }),
    [tree, ranges, closed, opened, wanted],
  );
  const isCut = wanted !== '' && rows.filter((row) => row.kind === 'address').length >= MOST_FOUND;
  const shownProblems = useMemo(() => (showsResults ? (problems ?? []) : []), [problems, showsResults]);
  const byBlock = useMemo(() => problemsByBlock(shownProblems), [shownProblems]);
  const waiting = useMemo(() => touchedBy(unconfirmed), [unconfirmed]);
  const first = selection.blocks[0];
  const node = first === undefined ? null : (tree.nodes.get(first) ?? null);
  const proposed = Object.entries(plan.blocks).filter(([, one]) => (one.standing ?? 'proposed') === 'proposed');
  const isBlank = tree.nodes.size === 0;

  const showBlock = (id: string): void => {
    reveal(tree, id);
    select({ blocks: [id], address: null, range: null });
  };
  /** At once where the field is there: what is typed next belongs into it and must not be taken for a key. */
  const focus = (field: string): void => {
    const there = document.getElementById(field);
    if (there) there.focus();
    else window.setTimeout(() => document.getElementById(field)?.focus());
  };
  const addBlock = (within: string | null, prefix: Prefix | null): void => {
    const id = newShortId('b');
    const block = { ...newBlockIn(tree, within, prefix), ...(isBlank && { name: title }) };
    if (!run('add a block', { kind: 'addBlock', id, block })) return;
    select({ blocks: [id], address: null, range: null });
    focus(prefix ? 'block-name' : 'block-prefix');
  };
  const planGroup = (need: SubnetNeed): void => {
    // Finding size and place is the students' own work: they get a block of the group to be placed.
    if (!laysOut) {
      const id = newShortId('b');
      const { group, name, site } = need;
      const block = {
        prefix: '',
        name,
        standing: 'proposed' as const,
        ...(site !== undefined && { site }),
        ...(group && { group: group.id }),
      };
      if (run(`plan ${name}`, { kind: 'addBlock', id, block })) select({ blocks: [id], address: null, range: null });
      return focus('block-prefix');
    }
    const place = placeForNeed(tree, need);
    if (!place)
      return setMessage(`No block of the plan has a free /${need.length} for ${need.name}. Add or enlarge one first.`);
    const id = newShortId('b');
    if (run(`plan ${need.name}`, { kind: 'addBlock', id, block: place.block }))
      select({ blocks: [id], address: null, range: null });
  };
  const showInMap = useStable(showBlock);
  const addInMap = useStable(addBlock);
  const planFromNumbers = useStable(planGroup);
  const divide = (way: 'equal' | 'sizes' | 'groups' = 'equal'): void => {
    const at = node ?? tree.nodes.get(tree.roots[0] ?? '');
    if (at) setDialog({ kind: 'divide', node: at, first: at.children.length && way === 'equal' ? 'sizes' : way });
  };
  const jump = ({ at }: PlanProblem): void => {
    if (at.block !== undefined) showBlock(at.block);
    if (at.address !== undefined) {
      if (at.block !== undefined) openSubnet(at.block);
      select({ blocks: at.block === undefined ? [] : [at.block], address: at.address, range: null });
    } else if (at.range !== undefined)
      select({ blocks: at.block === undefined ? [] : [at.block], address: null, range: at.range });
  };
  const nextProblem = (): void => {
    if (!shownProblems.length) return;
    problemAt.current = (problemAt.current + 1) % shownProblems.length;
    jump(shownProblems[problemAt.current]!);
  };
  const remove = (): void => {
    const commands = removePlanned(tree, selection);
    if (commands.length) run('remove', ...commands);
  };
  const readFile = async (): Promise<void> => {
    const file = await pickText('.json,application/json');
    if (!file) return;
    const read = readPlanText(file.text);
    if (read.ok) run('replace the plan', { kind: 'replace', plan: read.value });
    else
      setMessage(
        `${file.name} was not taken, the plan is as it was. ${read.error
          .slice(0, 3)
          .map((problem) => (problem.place ? `${problem.place}: ${problem.text}` : problem.text))
          .join(' ')}`,
      );
  };
  useKeys({
    a: () => addBlock(first ?? null, null),
    d: () => divide(),
    n: () => focus('take-name'),
    p: () => setDialog({ kind: 'paste' }),
    w: () => setDialog({ kind: 'workings', start: node?.block.prefix ?? '' }),
    '/': () => searchField.current?.focus(),
    Delete: remove,
    F2: () => focus('block-name'),
    F8: nextProblem,
    Escape: () => select({ blocks: [], address: null, range: null }),
    undo: () => store.getState().undo(),
    redo: () => store.getState().redo(),
  });
  const menu = [
    { text: 'Save the plan as CSV', run: () => give(fileName(`${title} plan`, 'csv'), 'text/csv', planCsv(plan)) },
    {
      text: 'Save the plan as a file',
      run: () =>
        give(
          fileName(`${title} plan`, 'json'),
          'application/json',
          `${JSON.stringify({ format: 'sobrin-plan', version: PLAN_VERSION, title, plan }, null, 1)}\n`,
        ),
    },
    { text: 'Replace the plan by a file…', run: () => void readFile() },
  ];
  return (
    <Box sx={{ height: '100%', display: 'flex', flexDirection: 'column', minWidth: 0 }}>
      <TopBar title={title} under={under}>
        <Button
          size="small"
          variant="contained"
          startIcon={<IconPlus size={16} />}
          onClick={() => addBlock(first ?? null, null)}
          title="Add a block (A)"
        >
          Block
        </Button>
        <Button
          size="small"
          variant="outlined"
          startIcon={<IconArrowsSplit2 size={16} />}
          disabled={isBlank}
          onClick={() => divide()}
          title="Divide the chosen block (D)"
        >
          Divide
        </Button>
        <Button
          size="small"
          variant="outlined"
          startIcon={<IconTable size={16} />}
          onClick={() => setDialog({ kind: 'paste' })}
          title="Paste a table (P)"
        >
          Paste a table
        </Button>
        {proposed.length > 0 && !isBlank && (
          <Button
            size="small"
            variant="outlined"
            onClick={() =>
              run(
                `decide ${proposed.length} blocks`,
                ...proposed.map(([id]) => ({ kind: 'setBlock', id, set: { standing: 'decided' } }) as const),
              )
            }
          >
            Decide {proposed.length} proposed
          </Button>
        )}
        <MenuTool
          entries={[
            { text: 'Address table and worksheet…', run: () => setDialog({ kind: 'table' }) },
            ...(drawingId === null
              ? []
              : [{ text: 'Compare with the drawing…', run: () => setDialog({ kind: 'compare' }) }]),
            {
              text: 'Workings and practice sheet… (W)',
              run: () => setDialog({ kind: 'workings', start: node?.block.prefix ?? '' }),
            },
            ...menu,
          ]}
        />
        <HistoryTools state={store.getState()} />
        <SaveSign save={save.kind} />
        {children}
      </TopBar>
      <SaveTrouble
        save={save}
        what="plan"
        onRetry={() => store.getState().retry()}
        onGiveUp={() => store.getState().giveUp()}
      />
      <BlockMap tree={tree} chosen={first ?? null} onChoose={showInMap} onFree={addInMap} />
      <Box sx={{ flex: 1, minHeight: 0, display: 'flex' }}>
        <Box sx={{ width: 240, flex: 'none', borderRight: '1px solid var(--line)', background: 'var(--surface)' }}>
          <BriefNumbers
            needs={needs}
            tree={tree}
            chosenGroup={node?.block.group}
            showsResults={showsResults}
            onShow={showInMap}
            onPlan={planFromNumbers}
          />
        </Box>
        <Box sx={{ flex: 1, minWidth: 0, display: 'flex', flexDirection: 'column' }}>
          <Stack direction="row" sx={{ alignItems: 'center', px: 1.5, height: 36, flex: 'none', gap: 1.5 }}>
            <Box component="h2" sx={{ m: 0, fontSize: 15 }}>
              Plan
            </Box>
            <InputBase
              inputRef={searchField}
              value={search}
              onChange={(event) => setSearch(event.target.value)}
              onKeyDown={(event) => {
                if (event.key === 'Escape') {
                  setSearch('');
                  event.currentTarget.querySelector('input')?.blur();
                }
              }}
              placeholder="Find ( / )"
              inputProps={{ 'aria-label': 'Find in the plan' }}
              sx={{
                flex: 1,
                maxWidth: 190,
                fontSize: 13,
                border: '1px solid var(--line)',
                borderRadius: '6px',
                px: 1,
                height: 28,
                background: 'var(--surface)',
              }}
            />
            {isCut && (
              <Box component="span" role="status" sx={{ color: 'var(--ink2)', fontSize: 12 }}>
                the first {MOST_FOUND}: type more
              </Box>
            )}
            <Box sx={{ flex: 1 }} />
            <StandingKey />
            {laysOut && !isBlank && (
              <Button size="small" onClick={() => divide('groups')}>
                Lay out all groups
              </Button>
            )}
          </Stack>
          {isBlank ? (
            <Empty
              title="No address plan yet"
              action={
                <Stack direction="row" spacing={1}>
                  <Button variant="contained" onClick={() => addBlock(null, null)}>
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
              onOpen={toggle}
            />
          )}
        </Box>
        <PlanInspector
          onDivide={() => divide()}
          onFree={addBlock}
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
          onJump={jump}
          onNext={nextProblem}
        />
      )}
      {dialog?.kind === 'divide' && (
        <DivideDialog node={dialog.node} first={dialog.first} onClose={() => setDialog(null)} />
      )}
      {dialog?.kind === 'paste' && <PasteDialog onClose={() => setDialog(null)} />}
      {dialog?.kind === 'compare' && drawingId !== null && (
        <CompareDialog drawingId={drawingId} onClose={() => setDialog(null)} />
      )}
      {dialog?.kind === 'workings' && (
        <WorkingsDialog start={dialog.start} title={title} onClose={() => setDialog(null)} />
      )}
      {dialog?.kind === 'table' &&
        (drawingId === null ? (
          <TableDialog onLegend={null} onClose={() => setDialog(null)} />
        ) : (
          <TableWithDrawing drawingId={drawingId} onClose={() => setDialog(null)} onTold={setMessage} />
        ))}
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

import { type Prefix } from '@sobrin/core/address';
import { planCsv, readPlanText } from '@sobrin/core/formats';
import {
  type PlanNode,
  type PlanProblem,
  type SubnetNeed,
  PLAN_VERSION,
  newBlockIn,
  placeForNeed,
  removePlanned,
} from '@sobrin/core/plan';
import { useRef } from 'react';
import { fileName, give, pickText } from '../api/files';
import { newShortId } from '../api/new-id';
import { type useOpened } from './use-opened';
import { usePlan, usePlanFacts, usePlanSetting } from './use-plan';

/** What is open over the plan. */
export type PlanDialog =
  | { kind: 'divide'; node: PlanNode; first: 'equal' | 'sizes' | 'groups' }
  | { kind: 'paste' | 'compare' | 'table' }
  | { kind: 'workings'; start: string };

/** At once where the field is there: what is typed next belongs into it and must not be taken for a key. */
export const focusField = (field: string): void => {
  const enter = (there: HTMLElement): void => {
    there.focus();
    // What is typed takes the place of what stands there.
    if (there instanceof HTMLInputElement) there.select();
  };
  const there = document.getElementById(field);
  if (there) enter(there);
  else
    window.setTimeout(() => {
      const late = document.getElementById(field);
      if (late) enter(late);
    });
};

/** Everything one can do in a plan, each once, for buttons, keys, menu and map. */
export function usePlanActions({
  opened,
  problems,
  open,
  tell,
}: {
  opened: ReturnType<typeof useOpened>;
  problems: readonly PlanProblem[];
  open: (dialog: PlanDialog) => void;
  tell: (text: string) => void;
}) {
  const { document: plan, selection, select, do: run } = usePlan((state) => state);
  const { tree } = usePlanFacts((facts) => facts);
  const { title, laysOut } = usePlanSetting();
  const problemAt = useRef(-1);
  const first = selection.blocks[0];
  const node = first === undefined ? null : (tree.nodes.get(first) ?? null);
  const isBlank = tree.nodes.size === 0;
  const choose = (id: string): void => select({ blocks: [id], address: null, range: null });

  const show = (id: string): void => {
    opened.reveal(tree, id);
    choose(id);
  };
  const addBlock = (within: string | null = first ?? null, prefix: Prefix | null = null): void => {
    const id = newShortId('b');
    const block = { ...newBlockIn(tree, within, prefix), ...(isBlank && { name: title }) };
    if (!run('add a block', { kind: 'addBlock', id, block })) return;
    choose(id);
    focusField(prefix ? 'block-name' : 'block-prefix');
  };
  const planGroup = (need: SubnetNeed): void => {
    const id = newShortId('b');
    // Finding size and place is the students' own work: they get a block of the group to be placed.
    if (!laysOut) {
      const { group, name, site } = need;
      const block = {
        prefix: '',
        name,
        standing: 'proposed' as const,
        ...(site !== undefined && { site }),
        ...(group && { group: group.id }),
      };
      if (run(`plan ${name}`, { kind: 'addBlock', id, block })) choose(id);
      return focusField('block-prefix');
    }
    const place = placeForNeed(tree, need);
    if (!place)
      return tell(`No block of the plan has a free /${need.length} for ${need.name}. Add or enlarge one first.`);
    if (run(`plan ${need.name}`, { kind: 'addBlock', id, block: place.block })) choose(id);
  };
  const divide = (way: 'equal' | 'sizes' | 'groups' = 'equal'): void => {
    const at = node ?? tree.nodes.get(tree.roots[0] ?? '');
    if (at) open({ kind: 'divide', node: at, first: at.children.length && way === 'equal' ? 'sizes' : way });
  };
  const jump = ({ at }: PlanProblem): void => {
    if (at.block !== undefined) show(at.block);
    const blocks = at.block === undefined ? [] : [at.block];
    if (at.address !== undefined) {
      if (at.block !== undefined) opened.openSubnet(at.block);
      select({ blocks, address: at.address, range: null });
    } else if (at.range !== undefined) select({ blocks, address: null, range: at.range });
  };
  const nextProblem = (): void => {
    if (!problems.length) return;
    problemAt.current = (problemAt.current + 1) % problems.length;
    jump(problems[problemAt.current]!);
  };
  const decideAll = (proposed: readonly string[]): void =>
    void run(
      `decide ${proposed.length} blocks`,
      ...proposed.map((id) => ({ kind: 'setBlock', id, set: { standing: 'decided' } }) as const),
    );
  const remove = (): void => {
    const commands = removePlanned(tree, selection);
    if (commands.length) run('remove', ...commands);
  };
  const readFile = async (): Promise<void> => {
    const file = await pickText('.json,application/json');
    if (!file) return;
    const read = readPlanText(file.text);
    if (read.ok) return void run('replace the plan', { kind: 'replace', plan: read.value });
    const why = read.error
      .slice(0, 3)
      .map((problem) => (problem.place ? `${problem.place}: ${problem.text}` : problem.text))
      .join(' ');
    tell(`${file.name} was not taken, the plan is as it was. ${why}`);
  };
  return {
    first: first ?? null,
    node,
    isBlank,
    show,
    addBlock,
    planGroup,
    divide,
    jump,
    nextProblem,
    decideAll,
    remove,
    readFile: () => void readFile(),
    workings: () => open({ kind: 'workings', start: node?.block.prefix ?? '' }),
    saveCsv: () => give(fileName(`${title} plan`, 'csv'), 'text/csv', planCsv(plan)),
    saveFile: () =>
      give(
        fileName(`${title} plan`, 'json'),
        'application/json',
        `${JSON.stringify({ format: 'sobrin-plan', version: PLAN_VERSION, title, plan }, null, 1)}\n`,
      ),
  };
}
export type PlanActions = ReturnType<typeof usePlanActions>;

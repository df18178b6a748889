import { NOTHING } from '../drawing/selection';
import { type Shortcut, useShortcuts } from '../ui/keys/shortcuts';
import { type MenuEntry } from './bench-menu';
import { COMMAND_FIELD_ID } from './command/command-field';
import { type Arranging } from './hands/use-arrange';
import { type Modes } from './modes';
import { useBench } from './use-bench';
import { type BenchActions } from './use-bench-actions';

/** The keys of the bench: those of its menu, and a few that stand in no menu. */
export function useBenchKeys({
  menu,
  actions,
  modes,
  arranging,
  nextProblem,
  endLens,
}: {
  menu: readonly MenuEntry[];
  actions: BenchActions;
  modes: Modes;
  arranging: Arranging;
  nextProblem: () => void;
  /** Ends the lens that stands in the way; false where there is none. */
  endLens: () => boolean;
}): void {
  const select = useBench((state) => state.select);
  const more: Shortcut[] = [
    {
      id: 'command',
      text: 'Type what to add, link, find or do',
      keys: '/',
      run: () => document.getElementById(COMMAND_FIELD_ID)?.focus(),
    },
    { id: 'address', text: 'Address of what is chosen', keys: 'E', run: focusAddress },
    { id: 'inspector', text: 'To what is set of it (Esc leads back)', keys: 'I', run: focusInspector },
    { id: 'problem', text: 'Next problem', keys: 'F8', run: nextProblem },
    {
      id: 'nudge',
      text: 'Move what is chosen',
      keys: Object.keys(STEPS),
      butIn: WALKED,
      run: (chord) => {
        const [x, y] = STEPS[chord]!;
        actions.nudge(x, y);
      },
    },
    {
      id: 'leave',
      text: 'End what is going on, or choose nothing',
      keys: 'Esc',
      run: () => {
        if (arranging.progress) arranging.cancel();
        else if (!modes.end() && !endLens()) select(NOTHING);
      },
    },
  ];
  const listed = menu.flatMap(({ keys, ...entry }): Shortcut[] =>
    keys === undefined ? [] : [{ ...entry, keys: ALSO[entry.id] ? [keys, ALSO[entry.id]!] : keys }],
  );
  useShortcuts([...listed, ...more]);
}

/** Second keys for what has one in the menu. */
const ALSO: Readonly<Record<string, string>> = { remove: 'Backspace', redo: 'Ctrl Y' };

const focusAddress = (): void =>
  document.querySelector<HTMLElement>('[aria-label=Inspector] input[aria-label^="Address of"]')?.focus();

const focusInspector = (): void =>
  document.querySelector<HTMLElement>('aside :is(input, select, textarea, button):not(:disabled)')?.focus();

const STEP = 8;
const STEPS: Readonly<Record<string, readonly [number, number]>> = {
  ArrowLeft: [-STEP, 0],
  ArrowRight: [STEP, 0],
  ArrowUp: [0, -STEP],
  ArrowDown: [0, STEP],
};
/** A focused tile is moved by the drawing itself, a row of a table scrolls, and a list has a way of its own. */
const WALKED = '.react-flow__node, table, [role=grid], [role=listbox]';

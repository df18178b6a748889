import { NOTHING } from '../drawing/selection';
import { useKeys } from '../ui/use-keys';
import { type MenuEntry, menuKeys } from './bench-menu';
import { COMMAND_FIELD_ID } from './command/command-field';
import { type Arranging } from './hands/use-arrange';
import { type Modes } from './modes';
import { useBench } from './use-bench';
import { type BenchActions } from './use-bench-actions';

/** The keys of the bench: those of its menu, and a few that stand in no menu. */
export function useShortcuts({
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
  const keys = menuKeys(menu);
  useKeys({
    ...keys,
    '/': () => document.getElementById(COMMAND_FIELD_ID)?.focus(),
    Backspace: keys.Delete,
    '$mod+y': keys['$mod+Shift+z'],
    e: () => document.querySelector<HTMLElement>('[aria-label=Inspector] input[aria-label^="Address of"]')?.focus(),
    F8: nextProblem,
    Escape: () => {
      if (arranging.progress) arranging.cancel();
      else if (!modes.end() && !endLens()) select(NOTHING);
    },
    ...Object.fromEntries(ARROWS.map(([key, x, y]) => [key, { run: () => actions.nudge(x, y), butIn: WALKED }])),
  });
}

const STEP = 8;
const ARROWS = [
  ['ArrowLeft', -STEP, 0],
  ['ArrowRight', STEP, 0],
  ['ArrowUp', 0, -STEP],
  ['ArrowDown', 0, STEP],
] as const;
/** A focused tile is moved by the drawing itself, a row of a table scrolls, and a list has a way of its own. */
const WALKED = '.react-flow__node, table, [role=grid], [role=listbox], [role=separator]';

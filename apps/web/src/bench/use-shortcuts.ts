import { NOTHING } from '../drawing/selection';
import { type MenuEntry, menuKeys } from './bench-menu';
import { COMMAND_FIELD_ID } from './command/command-field';
import { type Arranging } from './hands/use-arrange';
import { type Modes } from './modes';
import { useBench } from './use-bench';
import { type BenchActions } from './use-bench-actions';
import { useBenchKeys } from './use-bench-keys';

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
  useBenchKeys({
    ...keys,
    '/': () => document.getElementById(COMMAND_FIELD_ID)?.focus(),
    Backspace: keys.Delete,
    'ctrl y': keys['ctrl shift z'],
    e: () => document.querySelector<HTMLElement>('[aria-label=Inspector] input[aria-label^="Address of"]')?.focus(),
    F8: nextProblem,
    Escape: () => {
      if (arranging.progress) arranging.cancel();
      else if (!modes.end() && !endLens()) select(NOTHING);
    },
    arrows: actions.nudge,
  });
}

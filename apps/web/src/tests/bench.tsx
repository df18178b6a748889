import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { type PlanOfLab } from '@sobrin/core/editing';
import { analyse } from '@sobrin/core/engine';
import { type Topology } from '@sobrin/core/topology';
import { type BenchStore, createBenchStore } from '../bench/bench-store';
import Inspector from '../bench/inspector/inspector';
import { PlanContext } from '../bench/plan-of-lab';
import { BenchProvider } from '../bench/use-bench';
import { type Selection, NOTHING } from '../drawing/selection';
import { factsOf } from '../workers/facts';

/** The inspector of what is chosen in a drawing, with the store that its changes go to. */
export function openInspector(
  topology: Topology,
  selection: Partial<Selection>,
  {
    showsEngine = true,
    about = false,
    plan = null,
  }: { showsEngine?: boolean; about?: boolean; plan?: PlanOfLab | null } = {},
): BenchStore {
  const store = createBenchStore(
    { document: topology, revision: 0 },
    { post: () => new Promise(() => {}), keep: () => Promise.resolve(), newId: () => '1', later: () => {} },
  );
  store.getState().select({ ...NOTHING, ...selection });
  render(
    <BenchProvider store={store} id="d">
      <PlanContext value={plan}>
        <Inspector
          menu={[]}
          modules={undefined}
          facts={factsOf(analyse(topology))}
          showDocument={about}
          showsEngine={showsEngine}
        />
      </PlanContext>
    </BenchProvider>,
  );
  return store;
}

/** Types a text into a field and leaves it with Enter. */
export async function fill(label: string | RegExp, text: string): Promise<void> {
  const field = screen.getByLabelText(label);
  await userEvent.clear(field);
  await userEvent.paste(text);
  await userEvent.keyboard('{Enter}');
}

import { type Drill, type DrilledLab } from '@sobrin/core/spec';
import { canonicalJson } from '@sobrin/core/topology';
import { type StoreApi, createStore, useStore } from 'zustand';
import { announce } from '../ui/announce';
import { type DrillNews } from '../workers/drill.worker';

/** The drill of a lab: it goes on while its page is left, as long as Sobrin is open. */
interface DrillState {
  readonly isRunning: boolean;
  readonly done: number;
  readonly of: number;
  readonly found: Drill | null;
  /** The lab that was drilled, as a text; with the proposals that were taken since. */
  readonly lab: string | null;
  readonly taken: ReadonlySet<string>;
  readonly trouble: string | null;
  readonly worker: Worker | null;
}
const NONE: DrillState = {
  isRunning: false,
  done: 0,
  of: 0,
  found: null,
  lab: null,
  taken: new Set(),
  trouble: null,
  worker: null,
};

const drills = new Map<string, StoreApi<DrillState>>();
function drillOf(lab: string): StoreApi<DrillState> {
  let store = drills.get(lab);
  if (!store) drills.set(lab, (store = createStore(() => NONE)));
  return store;
}

export function useDrill(id: string, lab: DrilledLab) {
  const store = drillOf(id);
  const state = useStore(store);
  const start = (): void => {
    store.getState().worker?.terminate();
    const worker = new Worker(new URL('../workers/drill.worker.ts', import.meta.url), { type: 'module' });
    store.setState({ ...NONE, found: store.getState().found, isRunning: true, worker, lab: canonicalJson(lab) });
    const end = (more: Partial<DrillState>): void => {
      worker.terminate();
      store.setState({ isRunning: false, worker: null, taken: new Set(), ...more });
    };
    worker.onmessage = ({ data }: MessageEvent<DrillNews>) => {
      if ('found' in data) {
        end({ found: data.found });
        announce(`The drill is done: ${Math.round(100 * data.found.score.all)} % noticed`);
      } else if ('trouble' in data) end({ trouble: data.trouble });
      else store.setState(data);
    };
    worker.onerror = () => end({ trouble: 'The drill could not be made.' });
    worker.postMessage(lab);
  };
  const cancel = (): void => {
    state.worker?.terminate();
    store.setState({ isRunning: false, worker: null });
  };
  return {
    ...state,
    /** Whether the lab is another one now than the one that was drilled. */
    isStale: state.found !== null && !state.isRunning && state.lab !== canonicalJson(lab),
    start,
    cancel,
    /** A proposal that is in the spec now: only what it notices is otherwise. */
    take: (proposal: string, next: DrilledLab): void =>
      store.setState({ taken: new Set([...state.taken, proposal]), lab: canonicalJson(next) }),
    /** The spec says more of what is meant; nothing else is otherwise. */
    says: (next: DrilledLab): void => store.setState({ lab: canonicalJson(next) }),
  };
}

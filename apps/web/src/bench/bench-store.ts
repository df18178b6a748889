import { type Saved, type Conflict } from '@sobrin/contracts';
import { type Command, type Topology, applyBatch, invariantProblems } from '@sobrin/core';
import { createStore, type StoreApi } from 'zustand/vanilla';
import { NOTHING, type Selection } from '../drawing/selection';
import { type Pending, type Save } from './pending';
import { type SaveState, Saver } from './saver';

/** One step of the history: what was done, and what takes it back. */
interface Step {
  title: string;
  forward: readonly Command[];
  inverse: Command;
}

export interface BenchState {
  topology: Topology;
  selection: Selection;
  past: readonly Step[];
  future: readonly Step[];
  save: SaveState;
  /** What could not be done, as a sentence; null where all went well. */
  refusal: string | null;
  do: (title: string, ...commands: Command[]) => boolean;
  undo: () => void;
  redo: () => void;
  select: (selection: Selection) => void;
  dismiss: () => void;
  /** Puts the two versions before the person: what is shown is one's own. */
  showConflict: (conflict: Conflict) => void;
  keepMine: () => void;
  takeTheirs: () => void;
  /** Gives up what the server refuses; the page is to be loaded again. */
  giveUp: () => Promise<void>;
  flush: () => Promise<boolean>;
  retry: () => void;
}
export type BenchStore = StoreApi<BenchState>;

export interface BenchPorts {
  post: (save: Save) => Promise<Saved>;
  keep: (pending: Pending) => Promise<void>;
  newId: () => string;
  later: (run: () => void, ms: number) => void;
}

/**
 * The bench's document with its history. Every change is a command: it is applied here at once, kept in this browser,
 * and sent to the server in the background. Undo sends the inverse as a change of its own.
 */
export function createBenchStore(start: { topology: Topology; revision: number }, ports: BenchPorts): BenchStore {
  return createStore<BenchState>((set, get) => {
    const saver = new Saver(start.revision, {
      ...ports,
      onState: (save) => set({ save }),
      onMerged: (merged, waiting) => {
        const done = applyBatch(merged, 'waiting', waiting);
        set({
          topology: done.ok ? done.value.document : merged,
          selection: existing(done.ok ? done.value.document : merged, get().selection),
        });
      },
    });

    /** Applies commands; returns the inverse, or null with the reason shown. */
    const apply = (title: string, commands: readonly Command[]): Command | null => {
      const done = applyBatch(get().topology, title, commands);
      // The server would refuse a drawing that does not hold together, and all that follows it: it is said here first.
      const wrong = done.ok ? invariantProblems(done.value.document)[0]?.text : done.error;
      if (!done.ok || wrong !== undefined) {
        set({ refusal: `This cannot be done: ${wrong}` });
        return null;
      }
      set({ topology: done.value.document, refusal: null, selection: existing(done.value.document, get().selection) });
      saver.add(commands);
      return done.value.inverse;
    };

    return {
      topology: start.topology,
      selection: NOTHING,
      past: [],
      future: [],
      save: { kind: 'saved' },
      refusal: null,
      do: (title, ...commands) => {
        const inverse = apply(title, commands);
        if (inverse) set({ past: [...get().past, { title, forward: commands, inverse }], future: [] });
        return inverse !== null;
      },
      undo: () => {
        const step = get().past.at(-1);
        if (step && apply(step.title, [step.inverse]))
          set({ past: get().past.slice(0, -1), future: [step, ...get().future] });
      },
      redo: () => {
        const [step, ...rest] = get().future;
        const inverse = step && apply(step.title, step.forward);
        if (inverse) set({ past: [...get().past, { ...step, inverse }], future: rest });
      },
      select: (selection) => set({ selection }),
      dismiss: () => set({ refusal: null }),
      showConflict: (conflict) => set({ topology: conflict.mine, save: { kind: 'conflict', conflict } }),
      keepMine: () => {
        const { save, topology } = get();
        if (save.kind === 'conflict') saver.resolve(save.conflict.revision, { kind: 'replace', topology });
      },
      takeTheirs: () => {
        const { save } = get();
        if (save.kind !== 'conflict') return;
        set({ ...freshFrom(save.conflict) });
        saver.resolve(save.conflict.revision, null);
      },
      giveUp: () => saver.giveUp(),
      flush: () => saver.flush(),
      retry: () => saver.retry(),
    };
  });
}

/** After taking the other version the own history no longer fits the document. */
const freshFrom = ({ theirs }: Conflict): Partial<BenchState> => ({
  topology: theirs,
  past: [],
  future: [],
  selection: NOTHING,
});

const existing = (topology: Topology, { devices, links, sites }: Selection): Selection => {
  const next = {
    devices: devices.filter((id) => topology.devices[id]),
    links: links.filter((id) => topology.links[id]),
    sites: sites.filter((id) => topology.sites[id]),
  };
  const same =
    next.devices.length === devices.length && next.links.length === links.length && next.sites.length === sites.length;
  return same ? { devices, links, sites } : next;
};

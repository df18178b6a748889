import { type Conflict, type Saved } from '@sobrin/contracts';
import { type Result } from '@sobrin/core';
import { type Applied } from '@sobrin/core/changes';
import { createStore, type StoreApi } from 'zustand/vanilla';
import { type Pending, type Save } from './pending';
import { type Document, type SaveState, Saver } from './saver';

/** The steps of all documents of a page in the order in which they were made. */
let stepsMade = 0;
export const nextStep = (): number => ++stepsMade;

/** One step of the history: what was done, and what takes it back. */
interface Step<C> {
  title: string;
  /** Its place among the steps of all documents. */
  number: number;
  forward: readonly C[];
  inverse: C;
}

/** What a sort of document must bring along: how its commands apply, what must hold, and what can be chosen in it. */
export interface DocumentKind<D extends Document, C, S> {
  applyAll: (document: D, title: string, commands: readonly C[]) => Result<Applied<D, C>, string>;
  /** Why a document would be refused by the server; undefined where it would not. */
  problem: (document: D) => string | undefined;
  replace: (document: D) => C;
  nothing: S;
  /** Of what is chosen that which is still there. */
  existing: (document: D, selection: S) => S;
}

export interface DocumentState<D extends Document, C, S> {
  document: D;
  selection: S;
  past: readonly Step<C>[];
  future: readonly Step<C>[];
  save: SaveState<D>;
  /** Commands that the server has not confirmed yet. */
  unconfirmed: readonly C[];
  /** What could not be done, as a sentence; null where all went well. */
  refusal: string | null;
  do: (title: string, ...commands: C[]) => boolean;
  undo: () => void;
  redo: () => void;
  select: (selection: S) => void;
  dismiss: () => void;
  /** Puts the two versions before the person: what is shown is one's own. */
  showConflict: (conflict: Conflict<D>) => void;
  keepMine: () => void;
  /** Takes the other version, with the commands of mine that are to be made on top of it. */
  takeTheirs: (mine?: readonly C[]) => void;
  /** Gives up what the server refuses; the page is to be loaded again. */
  giveUp: () => Promise<void>;
  flush: () => Promise<boolean>;
  retry: () => void;
  /** Shows what others have saved while nobody listened. */
  catchUp: () => Promise<void>;
  /** Shows what others save, until the function that comes back is called. */
  follow: () => () => void;
}
export type DocumentStore<D extends Document, C, S> = StoreApi<DocumentState<D, C, S>>;

export interface DocumentPorts<D extends Document, C> {
  post: (save: Save<C>) => Promise<Saved<D>>;
  keep: (pending: Pending<C>) => Promise<void>;
  newId: () => string;
  later: (run: () => void, ms: number) => void;
  /** Why it cannot be changed here, as a sentence; null or absent where it can. */
  readOnly?: string | null;
  /** What others save; absent where nobody else can. */
  others?: {
    read: () => Promise<{ document: D; revision: number }>;
    /** Tells revisions that the server has, until the function that comes back is called. */
    listen: (hear: (revision: number) => void) => () => void;
  };
}

/**
 * A document with its history. Every change is a command: it is applied here at once, kept in this browser, and sent to
 * the server in the background. Undo sends the inverse as a change of its own.
 */
export function createDocumentStore<D extends Document, C, S>(
  start: { document: D; revision: number },
  kind: DocumentKind<D, C, S>,
  ports: DocumentPorts<D, C>,
): DocumentStore<D, C, S> {
  return createStore<DocumentState<D, C, S>>((set, get) => {
    const shown = (document: D): Partial<DocumentState<D, C, S>> => ({
      document,
      selection: kind.existing(document, get().selection),
    });
    const saver = new Saver<D, C>(start.revision, {
      ...ports,
      ...(ports.others && { read: ports.others.read }),
      onState: (save) => set({ save, unconfirmed: saver.unconfirmed }),
      onMerged: (merged, waiting) => {
        const done = kind.applyAll(merged, 'waiting', waiting);
        set(shown(done.ok ? done.value.document : merged));
      },
    });

    /** Applies commands; returns the inverse, or null with the reason shown. */
    const apply = (title: string, commands: readonly C[]): C | null => {
      if (ports.readOnly) {
        set({ refusal: `Nothing was changed. ${ports.readOnly}` });
        return null;
      }
      const done = kind.applyAll(get().document, title, commands);
      // The server would refuse a document that does not hold together, and all that follows it: it is said here first.
      const wrong = done.ok ? kind.problem(done.value.document) : done.error;
      if (!done.ok || wrong !== undefined) {
        set({ refusal: `This cannot be done: ${wrong}` });
        return null;
      }
      set({ ...shown(done.value.document), refusal: null });
      saver.add(commands);
      return done.value.inverse;
    };

    return {
      document: start.document,
      selection: kind.nothing,
      past: [],
      future: [],
      save: { kind: 'saved' },
      unconfirmed: [],
      refusal: null,
      do: (title, ...commands) => {
        const inverse = apply(title, commands);
        if (inverse)
          set({ past: [...get().past, { title, number: nextStep(), forward: commands, inverse }], future: [] });
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
      showConflict: (conflict) => set({ document: conflict.mine, save: { kind: 'conflict', conflict } }),
      keepMine: () => {
        const { save, document } = get();
        if (save.kind === 'conflict') saver.resolve(save.conflict.revision, [kind.replace(document)]);
      },
      takeTheirs: (mine = []) => {
        const { save } = get();
        if (save.kind !== 'conflict') return;
        const done = kind.applyAll(save.conflict.theirs, 'mine', mine);
        // After taking the other version the own history no longer fits the document.
        set({
          document: done.ok ? done.value.document : save.conflict.theirs,
          past: [],
          future: [],
          selection: kind.nothing,
        });
        saver.resolve(save.conflict.revision, done.ok ? mine : []);
      },
      giveUp: () => saver.giveUp(),
      flush: () => saver.flush(),
      retry: () => saver.retry(),
      catchUp: () => saver.heard(Infinity),
      follow: () => ports.others?.listen((revision) => void saver.heard(revision)) ?? (() => undefined),
    };
  });
}

import { type Conflict, type Saved, type SetAside } from '@sobrin/contracts';
import { type Result, plural } from '@sobrin/core';
import {
  type Applied,
  type Contest,
  type Edit,
  type MergeRules,
  decided,
  editsBetween,
  mergeOf,
} from '@sobrin/core/changes';
import { createStore, type StoreApi } from 'zustand/vanilla';
import { type Pending, type Save } from './pending';
import { type Document, type Own, type SaveState, Saver } from './saver';

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
  edits: (edits: Edit[]) => C;
  merge: MergeRules<D>;
  /** A place in a document as people call it. */
  placeWords: (path: readonly string[], document: D) => string;
  /** What a document has twice and should have once, as sentences. */
  doubled?: (document: D) => ReadonlyMap<string, string>;
  /** Whether people find its versions in a list. */
  listsVersions?: boolean;
  /** Whether a person is asked where two versions meet, also where they go together. */
  asksAlways?: boolean;
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
  /** What happened without being asked for, as sentences. */
  told: string | null;
  do: (title: string, ...commands: C[]) => boolean;
  undo: () => void;
  redo: () => void;
  select: (selection: S) => void;
  dismiss: () => void;
  /** What a closed tab left meets with what is saved. `document` is what it showed, made by `own`. */
  showConflict: (conflict: Conflict<D>, document: D, own: Own<C>) => void;
  /**
   * Ends a conflict: mine holds at those of the contested places, and theirs at the others; or what commands make of
   * theirs. Both versions are kept by name first: where that fails nothing is decided, and `refusal` says why.
   */
  decide: (how: ((contest: Contest) => boolean) | readonly C[]) => Promise<void>;
  /** Takes what is saved in place of what the server refuses, which is kept as a version first. False, with the reason in `refusal`, where it cannot be. */
  giveUp: () => Promise<boolean>;
  /** Takes what is saved; what is not is gone. */
  throwAway: () => Promise<void>;
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
  /** What may be changed all the same. */
  spared?: (command: C) => boolean;
  /** What others save; absent where nobody else can. */
  others?: {
    read: () => Promise<{ document: D; revision: number }>;
    /** Tells revisions that the server has, until the function that comes back is called. */
    listen: (hear: (revision: number) => void) => () => void;
    /** Keeps what was changed as a version; `met` where another version met it, which is kept, too. */
    setAside: (own: Own<C> & { save: string; met: boolean }) => Promise<SetAside>;
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
    /** Commands of a closed tab that are contested; null where they are this tab's own. */
    let left: Own<C> | null = null;
    /** The id under which something is being set aside, also when it is tried again. */
    let asideId: string | null = null;
    let isDeciding = false;
    const saver = new Saver<D, C>(start.revision, {
      ...ports,
      ...(ports.others && { read: ports.others.read }),
      onState: (save) => set({ save, unconfirmed: saver.unconfirmed }),
      onMerged: (merged, waiting) => {
        const { document: mine } = get();
        const done = kind.applyAll(merged, 'waiting', waiting);
        const document = done.ok ? done.value.document : merged;
        set(shown(document));
        tell(newlyDoubled(mine, document));
      },
      onOthers: (document) => set(shown(document)),
      onConflict: (conflict) => meet(conflict),
    });
    const tell = (sentences: readonly string[]): void => {
      if (sentences.length) set({ told: sentences.join(' ') });
    };
    const newlyDoubled = (before: D, after: D): string[] => {
      const known = kind.doubled?.(before);
      return [...(kind.doubled?.(after) ?? [])].filter(([what]) => !known?.has(what)).map(([, sentence]) => sentence);
    };

    const keepAside = async (met: boolean): Promise<SetAside> => {
      asideId ??= ports.newId();
      const done = await ports.others!.setAside({ save: asideId, ...(left ?? saver.own), met });
      asideId = null;
      return done;
    };

    /** Two versions meet: what goes together is put together, and only the rest is asked. */
    const meet = (conflict: Conflict<D>): void => {
      const { document: mine } = get();
      const merge = mergeOf(conflict.before, mine, conflict.theirs, kind.merge);
      if (merge.contests.length || kind.asksAlways) {
        set({ save: { kind: 'conflict', conflict, merge }, unconfirmed: saver.unconfirmed });
        return;
      }
      const places = merge.later.map((path) => kind.placeWords(path.slice(0, 2), mine));
      const [itStands, it] = places.length === 1 ? ['it stands', 'it'] : ['they stand', 'them'];
      tell([
        ...(places.length
          ? [
              `${conflict.by.join(', ') || 'Somebody'} moved ${list(places)} as well: ${itStands} where you put ${it}, the later of the two.`,
            ]
          : []),
        ...newlyDoubled(mine, merge.together),
      ]);
      hold(conflict, merge.together);
    };
    /** The document holds in place of what was saved. */
    const hold = (conflict: Conflict<D>, document: D): void => {
      left = null;
      set(shown(document));
      const edits = editsBetween(conflict.theirs, document);
      saver.resolve(conflict.revision, edits.length ? [kind.edits(edits)] : []);
    };
    const takeSaved = async (): Promise<void> => {
      const there = await ports.others!.read();
      set({ ...shown(there.document), past: [], future: [] });
      saver.resolve(there.revision, []);
    };

    /** Applies commands; returns the inverse, or null with the reason shown. */
    const apply = (title: string, commands: readonly C[]): C | null => {
      if (ports.readOnly && !(ports.spared && commands.every(ports.spared))) {
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
      told: null,
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
      dismiss: () => set({ refusal: null, told: null }),
      showConflict: (conflict, document, own) => {
        left = own;
        set({ document });
        saver.stop();
        meet(conflict);
      },
      decide: async (how) => {
        const { save } = get();
        if (save.kind !== 'conflict' || isDeciding) return;
        const { conflict } = save;
        isDeciding = true;
        try {
          await keepAside(true);
        } catch (error) {
          set({ refusal: `Nothing was decided, and both versions are as they were: ${textOf(error)}` });
          return;
        } finally {
          isDeciding = false;
        }
        // The page may have been worked on since they met, and while they were being kept.
        const { document: mine } = get();
        const merge = mergeOf(conflict.before, mine, conflict.theirs, kind.merge);
        if (typeof how === 'function') {
          const sides = { base: conflict.before, mine, theirs: conflict.theirs };
          const document = decided(merge, how, sides, kind.merge);
          // What was given up is no step that could be taken back.
          if (!merge.contests.every(how)) set({ past: [], future: [] });
          hold(conflict, document);
        } else {
          const done = kind.applyAll(conflict.theirs, 'mine', how);
          set({ past: [], future: [] });
          hold(conflict, done.ok ? done.value.document : conflict.theirs);
        }
        if (kind.listsVersions) set({ told: 'Both versions that met are kept by name among the versions.' });
      },
      giveUp: async () => {
        try {
          const { revision, left: lost } = await keepAside(false);
          await takeSaved();
          if (revision !== null && kind.listsVersions)
            set({
              told: `What was refused is kept among the versions, as “Could not be saved”${lost ? `, without ${plural(lost, 'change')} that cannot be made` : ''}.`,
            });
          return true;
        } catch (error) {
          set({ refusal: `Your changes could not be kept as a version: ${textOf(error)}` });
          return false;
        }
      },
      throwAway: takeSaved,
      flush: () => saver.flush(),
      retry: () => saver.retry(),
      catchUp: () => saver.heard(Infinity),
      follow: () => ports.others?.listen((revision) => void saver.heard(revision)) ?? (() => undefined),
    };
  });
}

const textOf = (error: unknown): string => (error instanceof Error ? error.message : String(error));
const list = (words: readonly string[]): string =>
  words.length > 3 ? `${words.slice(0, 3).join(', ')} and ${words.length - 3} more` : words.join(', ');

import { createStore, type StoreApi } from 'zustand/vanilla';
import { nextStep } from '../documents/document-store';
import { when } from '../ui/words';

/** What a lab has beside its documents. */
export interface LabFacts {
  title: string;
  dueAt: string | null;
}

interface Step {
  readonly title: string;
  readonly number: number;
  readonly before: LabFacts;
  readonly after: LabFacts;
}
interface FactsState {
  value: LabFacts;
  past: readonly Step[];
  future: readonly Step[];
  save: { kind: 'saved' | 'saving' } | { kind: 'offline'; text: string };
  change: (title: string, next: Partial<LabFacts>) => void;
  undo: () => void;
  redo: () => void;
  again: () => void;
}
export type FactsStore = StoreApi<FactsState>;

/** Sends a change of what was `known` of a lab; where others changed the same meanwhile, answers what is there instead. */
export type SendFacts = (change: Partial<LabFacts>, known: LabFacts) => Promise<LabFacts | null>;

/**
 * Title and due date while they are edited. Each change is sent at once, one after another; what could not be sent stays
 * here and is sent with the next, or when it is asked for.
 */
export function createFactsStore(start: LabFacts, send: SendFacts): FactsStore {
  return createStore<FactsState>((set, get) => {
    let confirmed = start;
    let busy = false;
    const push = async (): Promise<void> => {
      if (busy) return;
      busy = true;
      while (!isSame(confirmed, get().value)) {
        const { value } = get();
        const change = {
          ...(value.title !== confirmed.title && { title: value.title }),
          ...(value.dueAt !== confirmed.dueAt && { dueAt: value.dueAt }),
        };
        set({ save: { kind: 'saving' } });
        try {
          const theirs = await send(change, confirmed);
          if (theirs) {
            // Told once: whoever sends it again has seen what others made of it.
            confirmed = theirs;
            set({ save: { kind: 'offline', text: `Not saved: ${whatOthersDid(theirs, change)}` } });
            break;
          }
          confirmed = value;
          set({ save: { kind: 'saved' } });
        } catch (error) {
          set({ save: { kind: 'offline', text: `Not saved: ${(error as Error).message}` } });
          break;
        }
      }
      busy = false;
    };
    const take = (value: LabFacts, past: readonly Step[], future: readonly Step[]): void => {
      set({ value, past, future });
      void push();
    };
    return {
      value: start,
      past: [],
      future: [],
      save: { kind: 'saved' },
      change: (title, next) => {
        const { value, past } = get();
        const after = { ...value, ...next };
        take(after, [...past, { title, number: nextStep(), before: value, after }], []);
      },
      undo: () => {
        const { past, future } = get();
        const step = past.at(-1);
        if (step) take(step.before, past.slice(0, -1), [step, ...future]);
      },
      redo: () => {
        const [step, ...rest] = get().future;
        if (step) take(step.after, [...get().past, step], rest);
      },
      again: () => void push(),
    };
  });
}

function whatOthersDid(theirs: LabFacts, change: Partial<LabFacts>): string {
  const told =
    change.title !== undefined
      ? `Somebody else called this lab “${theirs.title}” meanwhile.`
      : `Somebody else set the due date ${theirs.dueAt === null ? 'to none' : `to ${when(theirs.dueAt)}`} meanwhile.`;
  return `${told} “Try now” puts yours in its place.`;
}

const isSame = (a: LabFacts, b: LabFacts): boolean => a.title === b.title && a.dueAt === b.dueAt;

import { type StoreApi, createStore } from 'zustand/vanilla';
import { ApiError, api } from '../api/client';
import { allKept, keep, letGo } from '../documents/kept';
import { type Unsent, watchUnsent } from '../documents/unsent';

/** An answer as it is typed, what it was typed over, and what of it was sent without an answer yet. */
interface Draft {
  readonly text: string;
  readonly from: string;
  readonly sent?: string;
}

export interface AnswersState {
  /** What the server is known to have, by task. */
  readonly stored: Readonly<Record<string, string>>;
  /** What is typed and not stored yet. */
  readonly drafts: Readonly<Record<string, Draft>>;
  readonly isSending: boolean;
  /** Why the last answer could not be stored, as a sentence. */
  readonly trouble: string | null;
  type: (task: string, text: string) => void;
  /** Sends at once what is typed; whether all is stored. */
  flush: () => Promise<boolean>;
  /** What the server has, as it was read anew. */
  hear: (answers: Readonly<Record<string, string>>) => void;
  /** Sends nothing more: whoever typed here is not who uses the page now. */
  stop: () => void;
  /** Of an answer that was changed elsewhere as well: takes that one, or goes on with what is typed here. */
  choose: (task: string, whose: 'theirs' | 'mine') => void;
}
export type AnswersStore = StoreApi<AnswersState>;

const PREFIX = 'answer';
const SEND_AFTER_MS = 700;
const AGAIN_AFTER_MS = [2_000, 5_000, 15_000, 30_000];

/** What is shown of an answer, and whether somebody changed it elsewhere while it was typed here. */
export function answerOf({ stored, drafts }: AnswersState, task: string): { text: string; elsewhere: string | null } {
  const [saved, draft] = [stored[task] ?? '', drafts[task]];
  if (!draft) return { text: saved, elsewhere: null };
  const isMine = [draft.from, draft.text, draft.sent].includes(saved);
  return { text: draft.text, elsewhere: isMine ? null : saved };
}

const open = new Map<string, AnswersStore>();

/** The answers of a person's work on a lab, known by its drawing: they outlive a visit to another page. */
export async function openAnswers(
  labId: string,
  workId: string,
  given: Readonly<Record<string, string>>,
): Promise<AnswersStore> {
  const known = open.get(workId);
  if (known) {
    known.getState().hear(given);
    return known;
  }
  const left = (await allKept<Draft>()).flatMap(([key, draft]): [string, Draft][] => {
    const [prefix, work, ...task] = String(key).split(' ');
    return prefix === PREFIX && work === workId ? [[task.join(' '), draft]] : [];
  });
  const meanwhile = open.get(workId);
  if (meanwhile) return meanwhile;
  const store = createAnswers(labId, workId, given, Object.fromEntries(left));
  open.set(workId, store);
  const unsent: Unsent = {
    isUnsaved: () => Object.keys(store.getState().drafts).length > 0,
    flush: () => store.getState().flush(),
    retry: () => void store.getState().flush(),
    forget: () => {
      store.getState().stop();
      open.delete(workId);
    },
  };
  watchUnsent(unsent);
  // What a closed tab left.
  if (left.length) void store.getState().flush();
  return store;
}

/**
 * Answers as they are typed. Each is kept in this browser with every letter, sent a moment later, one answer a request,
 * and let go of here when the server has it.
 */
export function createAnswers(
  labId: string,
  workId: string,
  stored: Readonly<Record<string, string>>,
  drafts: Readonly<Record<string, Draft>> = {},
): AnswersStore {
  return createStore<AnswersState>((setState, get) => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    let failures = 0;
    let sending: Promise<boolean> | null = null;
    let isStopped = false;
    /** What stood where this page stored an answer: who reads that was asked before it. */
    const before = new Map<string, string>();
    const keyOf = (task: string): string => `${PREFIX} ${workId} ${task}`;
    // A full store must not keep an answer from the server.
    const keepDraft = async (task: string, draft: Draft | undefined): Promise<void> => {
      try {
        await (draft ? keep(keyOf(task), draft) : letGo(keyOf(task)));
      } catch {
        // It stays on the page, and is sent as any other.
      }
    };
    const later = (ms: number): void => {
      clearTimeout(timer);
      timer = setTimeout(() => void get().flush(), ms);
    };
    const put = (task: string, draft: Draft | undefined): void => {
      const { [task]: _old, ...rest } = get().drafts;
      setState({ drafts: draft ? { ...rest, [task]: draft } : rest });
      void keepDraft(task, draft);
    };

    const send = async (): Promise<boolean> => {
      setState({ isSending: true });
      try {
        for (let next = due(); next; next = due()) {
          const [task, draft] = next;
          const { text } = draft;
          put(task, { ...draft, sent: text });
          await api('PUT my/labs/:id/answers', { id: labId }, { answers: { [task]: text }, drawing: workId });
          before.set(task, get().stored[task] ?? '');
          setState({ stored: { ...get().stored, [task]: text } });
          const now = get().drafts[task];
          put(task, now && now.text !== text ? { text: now.text, from: text } : undefined);
        }
        failures = 0;
        setState({ trouble: null });
      } catch (error) {
        const status = error instanceof ApiError ? error.status : 0;
        setState({ trouble: error instanceof Error ? error.message : String(error) });
        // What is refused for good is not sent again and again; it stays typed.
        if (!isStopped && (status < 400 || status >= 500 || [401, 408, 429].includes(status)))
          later(AGAIN_AFTER_MS[Math.min(failures++, AGAIN_AFTER_MS.length - 1)]!);
      } finally {
        setState({ isSending: false });
      }
      return !Object.keys(get().drafts).length;
    };
    /** The next answer to be sent: none that somebody changed elsewhere as well, of which a person says which holds. */
    const due = (): [string, Draft] | undefined =>
      isStopped ? undefined : Object.entries(get().drafts).find(([task]) => answerOf(get(), task).elsewhere === null);

    return {
      stored,
      drafts,
      isSending: false,
      trouble: null,
      type: (task, text) => {
        const from = get().drafts[task]?.from ?? get().stored[task] ?? '';
        if (text === (get().drafts[task]?.text ?? from)) return;
        put(task, text === from && !sending ? undefined : { ...get().drafts[task], text, from });
        later(SEND_AFTER_MS);
      },
      flush: async () => {
        clearTimeout(timer);
        // Whoever asks while a request is on its way waits for what was typed since, too.
        if (sending) await sending;
        sending ??= send().finally(() => (sending = null));
        return sending;
      },
      stop: () => {
        clearTimeout(timer);
        isStopped = true;
      },
      hear: (answers) => {
        const mine = Object.entries(get().stored).filter(([task]) => before.get(task) === (answers[task] ?? ''));
        if (!sending) setState({ stored: { ...answers, ...Object.fromEntries(mine) } });
      },
      choose: (task, whose) => {
        const draft = get().drafts[task];
        if (!draft) return;
        put(task, whose === 'mine' ? { text: draft.text, from: get().stored[task] ?? '' } : undefined);
        void get().flush();
      },
    };
  });
}

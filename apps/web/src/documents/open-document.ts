import {
  type AsideRequest,
  type Conflict,
  type DocumentView,
  type Present,
  type Saved,
  type SetAside,
} from '@sobrin/contracts';
import { useQuery } from '@tanstack/react-query';
import { useEffect } from 'react';
import { ApiError, api } from '../api/client';
import { newId } from '../api/new-id';
import { type DocumentKind, type DocumentStore, createDocumentStore } from './document-store';
import { lineOfDocument, othersAt } from './others';
import {
  type Orphan,
  type Pending,
  type Save,
  forget,
  holdTabLock,
  isPendingElsewhere,
  keepOrphan,
  keepPending,
  orphansOf,
} from './pending';
import { useReadOnly, useSpeaksAs } from './read-only';
import { type Unsent, watchUnsent } from './unsent';
import { type Document, type Own, MOST_AT_ONCE, isConflict } from './saver';
import { announce } from '../ui/announce';

const post = <D extends Document>(documentId: string, save: Save): Promise<Saved<D>> =>
  api('POST documents/:id/changes', { id: documentId }, save) as Promise<Saved<D>>;

export interface Opened<D extends Document, C, S> {
  store: DocumentStore<D, C, S>;
  /** What is to be said of what a closed tab left: what could not be sent, and what there is twice since it was. */
  lost: string | null;
}
type AnyStore = DocumentStore<never, never, never>;

/**
 * The documents of this tab. They outlive a visit to another page, with what can be undone, and with what could not be
 * sent yet.
 */
const open = new Map<string, AnyStore>();

const documents: Unsent = {
  isUnsaved: () => [...open.values()].some((store) => store.getState().save.kind !== 'saved'),
  flush: () => Promise.all([...open.values()].map((store) => store.getState().flush())),
  retry: () => {
    for (const store of open.values()) store.getState().retry();
  },
  forget: () => open.clear(),
};

/** Opens a document: first sends what a closed tab left unsaved in this browser, then reads what the server has. */
async function openDocument<D extends Document, C extends object, S>(
  documentId: string,
  kind: DocumentKind<D, C, S>,
  listen: Listen,
  readOnly: string | null,
  /** Whether one may comment on what can be read only. */
  mayComment: boolean,
): Promise<Opened<D, C, S>> {
  holdTabLock();
  // Whoever is named to change it meanwhile opens it anew.
  const key = `${documentId} ${readOnly === null ? 'to be changed' : mayComment ? 'to be spoken in' : 'to be read'}`;
  const mine = open.get(key) as unknown as DocumentStore<D, C, S> | undefined;
  if (mine) {
    await mine.getState().catchUp();
    return { store: mine, lost: null };
  }
  const left = await alone(`sobrin-left-${documentId}`, () => sendOrphans<D>(documentId));
  const read = (): Promise<DocumentView<D>> => api('GET documents/:id', { id: documentId }) as Promise<DocumentView<D>>;
  const { document, revision } = await read();
  const store = createDocumentStore<D, C, S>({ document, revision }, kind, {
    post: (save) => post<D>(documentId, save),
    keep: (pending) => keepPending(documentId, pending),
    newId,
    later: (run, ms) => void setTimeout(run, ms),
    others: {
      read,
      listen: (hear) => listen(documentId, hear),
      setAside: ({ commands, ...own }) => setAside(documentId, { ...own, commands: [...commands] }),
    },
    readOnly,
    ...(mayComment && { spared: (command) => 'kind' in command && command.kind === 'setComment' }),
  });
  if (left.clash) {
    const { conflict, orphan } = left.clash;
    // It was made here, of commands of this kind.
    const own = ownOf(orphan.pending) as Own<C>;
    // What that tab showed: what the server was sent, with what still waited.
    const shown = kind.applyAll(conflict.before, 'left', own.commands);
    store.getState().showConflict(conflict, shown?.ok ? shown.value.document : conflict.mine, own);
    // Only when it is decided what holds is the other one given up.
    const decided = ({ save }: { save: { kind: string } }): boolean => save.kind === 'saved';
    if (decided(store.getState())) await forget(orphan);
    else {
      const stop = store.subscribe((state) => {
        if (!decided(state)) return;
        stop();
        void forget(orphan);
      });
    }
  }
  open.set(key, store as unknown as AnyStore);
  watchUnsent(documents);
  const twice = left.merged ? [...(kind.doubled?.(document).values() ?? [])] : [];
  const told = twice.length ? ['What a closed tab left came together with what was saved since.', ...twice] : [];
  return { store, lost: [left.lost ?? [], told].flat().join(' ') || null };
}

/** Does something that two tabs must not do at once. */
const alone = <T>(name: string, work: () => Promise<T>): Promise<T> =>
  'locks' in navigator ? navigator.locks.request(name, work) : work();

const setAside = (id: string, request: AsideRequest): Promise<SetAside> =>
  api('POST documents/:id/aside', { id }, request);

/** All that a tab left, with the revision it was made on. */
const ownOf = ({ sent, waiting, base }: Pending): Own<object> => ({
  base: sent?.base ?? base,
  commands: [...(sent?.commands ?? []), ...waiting],
});

/**
 * Sends what closed tabs left: all of it, up to the first that meets with what others saved since. What is refused is
 * kept as a version; where that cannot be, it stays in this browser.
 */
async function sendOrphans<D extends Document>(
  documentId: string,
): Promise<{ lost: string | null; merged: boolean; clash: { conflict: Conflict<D>; orphan: Orphan } | null }> {
  const lost: string[] = [];
  let merged = false;
  for (const orphan of await orphansOf(documentId)) {
    try {
      merged = (await sendPending(documentId, orphan)) || merged;
    } catch (error) {
      if (!(error instanceof ApiError) || error.status < 400 || error.status >= 500 || error.status === 401)
        throw error;
      if (isConflict<D>(error.body))
        return { lost: lost.join(' ') || null, merged, clash: { conflict: error.body, orphan } };
      const { base, commands } = ownOf(orphan.pending);
      const kept = await setAside(documentId, { save: newId(), base, commands: [...commands], met: false }).catch(
        () => null,
      );
      lost.push(
        `Some changes that a closed tab left unsaved in this browser do not fit what is saved: ${error.message}`,
        kept ? 'They are kept among the versions, as “Could not be saved”.' : 'They stay in this browser.',
      );
      if (!kept) continue;
    }
    await forget(orphan);
  }
  return { lost: lost.join(' ') || null, merged, clash: null };
}

/**
 * Sends all that is not stored yet of a document: by this tab, and by tabs that are closed. Null where the server has it
 * all then; else why not, as a sentence.
 */
export async function sendAll(documentId: string): Promise<string | null> {
  for (const [key, store] of open) {
    if (!key.startsWith(documentId)) continue;
    store.getState().retry();
    if (await store.getState().flush()) continue;
    return store.getState().save.kind === 'conflict'
      ? 'It meets with what was saved elsewhere: open it, and say whose holds.'
      : 'Its last changes did not reach the server yet: open it, and look what it says.';
  }
  const { lost, clash } = await alone(`sobrin-left-${documentId}`, () => sendOrphans(documentId));
  if (clash) return 'What a closed tab left meets with what was saved elsewhere: open it, and say whose holds.';
  if (lost !== null) return lost;
  return (await isPendingElsewhere(documentId))
    ? 'Another tab of this browser has changes of it that are not saved yet: look there first.'
    : null;
}

/**
 * Sends what a tab left, and takes off what is stored, so that only the rest is left where that is refused. Whether
 * others had saved in between.
 */
async function sendPending(documentId: string, orphan: Orphan): Promise<boolean> {
  let isMerged = false;
  while (orphan.pending.sent ?? orphan.pending.waiting.length) {
    const { sent, waiting, base } = orphan.pending;
    // Kept with its id first: whoever comes after a crash sends the same again.
    const save = sent ?? { save: newId(), base, commands: waiting.slice(0, MOST_AT_ONCE) };
    const rest = sent ? waiting : waiting.slice(MOST_AT_ONCE);
    await keepOrphan(orphan, { sent: save, waiting: rest, base });
    const { revision, merged } = await post(documentId, save);
    isMerged ||= merged !== null;
    await keepOrphan(orphan, { sent: null, waiting: rest, base: revision });
  }
  return isMerged;
}

/** A document to work on. */
export function useOpenDocument<D extends Document, C extends object, S>(
  documentId: string,
  kind: DocumentKind<D, C, S>,
  listen: Listen = listenToDocument,
) {
  const readOnly = useReadOnly();
  const mayComment = useSpeaksAs() !== null;
  return useQuery({
    queryKey: ['open', documentId, readOnly, mayComment],
    queryFn: () => openDocument(documentId, kind, listen, readOnly, mayComment),
    staleTime: Infinity,
    gcTime: 0,
    refetchOnReconnect: false,
  });
}

/** Hears of the revisions of a document that the server has, until the function that comes back is called. */
export type Listen = (documentId: string, hear: (revision: number) => void) => () => void;
const listenToDocument: Listen = (documentId, hear) =>
  listenTo(lineOfDocument(documentId), (data) => hear(Number(data)));

/** Hears of saves, or of other events of a live line, while the page is seen: a browser has few connections, and a page in the background needs none. */
export function listenTo(url: string, hear: (data: string) => void, event = 'saved'): () => void {
  let source: EventSource | null = null;
  const follow = (): void => {
    source?.close();
    source = window.document.visibilityState === 'visible' ? new EventSource(url) : null;
    source?.addEventListener(event, ({ data }: MessageEvent<string>) => hear(data));
    source?.addEventListener('present', ({ data }: MessageEvent<string>) =>
      othersAt(url, JSON.parse(data) as Present[]),
    );
  };
  follow();
  window.document.addEventListener('visibilitychange', follow);
  return () => {
    window.document.removeEventListener('visibilitychange', follow);
    source?.close();
    othersAt(url, []);
  };
}

type History = Record<'past' | 'future', readonly { title: string; number: number }[]>;

/** Says what was done, undone and done again, for those who do not see it. */
function tellHistory(now: History, before: History): void {
  if (now.past === before.past) return;
  const last = now.past.at(-1);
  if (now.past.length < before.past.length) announce(`Undone: ${before.past.at(-1)!.title}`);
  else if (last) announce(`${last.number === before.future[0]?.number ? 'Done again' : 'Done'}: ${last.title}`);
}

/** Shows what others save as long as the page shows the document, and sends the rest at the end. */
export function useKeeping<D extends Document, C, S>(store: DocumentStore<D, C, S>): void {
  useEffect(() => {
    const alone = store.getState().follow();
    const silent = store.subscribe(tellHistory);
    return () => {
      alone();
      silent();
      void store.getState().flush();
    };
  }, [store]);
}

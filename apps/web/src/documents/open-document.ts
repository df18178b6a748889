import { type Conflict, type DocumentView, type Present, type Saved } from '@sobrin/contracts';
import { useQuery } from '@tanstack/react-query';
import { useEffect } from 'react';
import { ApiError, api } from '../api/client';
import { newId } from '../api/new-id';
import { type DocumentKind, type DocumentStore, createDocumentStore } from './document-store';
import { lineOfDocument, othersAt } from './others';
import { type Orphan, type Save, forget, holdTabLock, keepPending, orphansOf } from './pending';
import { useReadOnly } from './read-only';
import { type Document, isConflict } from './saver';

const post = <D extends Document>(documentId: string, save: Save): Promise<Saved<D>> =>
  api('POST documents/:id/changes', { id: documentId }, save) as Promise<Saved<D>>;

export interface Opened<D extends Document, C, S> {
  store: DocumentStore<D, C, S>;
  /** What could not be sent of what a closed tab left, as a sentence. */
  lost: string | null;
}
type AnyStore = DocumentStore<never, never, never>;

/**
 * The documents of this tab. They outlive a visit to another page, with what can be undone, and with what could not be
 * sent yet.
 */
const open = new Map<string, AnyStore>();

/** Closes all documents, when somebody else is to use the page; resolved when what was not sent yet is sent or kept. */
export async function closeDocuments(): Promise<void> {
  await Promise.all([...open.values()].map((store) => store.getState().flush()));
  forgetDocuments();
}
export const forgetDocuments = (): void => open.clear();

const isUnsaved = (): boolean => [...open.values()].some((store) => store.getState().save.kind !== 'saved');
window.addEventListener('beforeunload', (event) => {
  if (isUnsaved()) event.preventDefault();
});
window.addEventListener('online', () => {
  for (const store of open.values()) store.getState().retry();
});

/** Opens a document: first sends what a closed tab left unsaved in this browser, then reads what the server has. */
async function openDocument<D extends Document, C extends object, S>(
  documentId: string,
  kind: DocumentKind<D, C, S>,
  listen: Listen,
  readOnly: string | null,
): Promise<Opened<D, C, S>> {
  holdTabLock();
  // Whoever is named to change it meanwhile opens it anew.
  const key = `${documentId} ${readOnly === null ? 'to be changed' : 'to be read'}`;
  const mine = open.get(key) as unknown as DocumentStore<D, C, S> | undefined;
  if (mine) {
    await mine.getState().catchUp();
    return { store: mine, lost: null };
  }
  const left = await sendOrphans<D>(documentId);
  const read = (): Promise<DocumentView<D>> => api('GET documents/:id', { id: documentId }) as Promise<DocumentView<D>>;
  const { document, revision } = await read();
  const store = createDocumentStore<D, C, S>({ document, revision }, kind, {
    post: (save) => post<D>(documentId, save),
    keep: (pending) => keepPending(documentId, pending),
    newId,
    later: (run, ms) => void setTimeout(run, ms),
    others: { read, listen: (hear) => listen(documentId, hear) },
    readOnly,
  });
  if (left.clash) {
    const { conflict, orphan } = left.clash;
    store.getState().showConflict(conflict);
    // Only when one version is chosen is the other one given up.
    const stop = store.subscribe(({ save }) => {
      if (save.kind === 'conflict') return;
      stop();
      void forget(orphan);
    });
  }
  open.set(key, store as unknown as AnyStore);
  return { store, lost: left.lost };
}

/** Sends what closed tabs left: all of it, up to the first that meets with what others saved since. */
async function sendOrphans<D extends Document>(
  documentId: string,
): Promise<{ lost: string | null; clash: { conflict: Conflict<D>; orphan: Orphan } | null }> {
  let lost: string | null = null;
  for (const orphan of await orphansOf(documentId)) {
    const { sent, waiting, base } = orphan.pending;
    try {
      const done = sent && (await post<D>(documentId, sent));
      if (waiting.length) await post<D>(documentId, { save: newId(), base: done?.revision ?? base, commands: waiting });
    } catch (error) {
      if (!(error instanceof ApiError) || error.status < 400 || error.status >= 500 || error.status === 401)
        throw error;
      if (isConflict<D>(error.body)) return { lost, clash: { conflict: error.body, orphan } };
      lost = `Some changes that a closed tab left unsaved in this browser do not fit what is saved: ${error.message}`;
    }
    await forget(orphan);
  }
  return { lost, clash: null };
}

/** A document to work on. */
export function useOpenDocument<D extends Document, C extends object, S>(
  documentId: string,
  kind: DocumentKind<D, C, S>,
  listen: Listen = listenToDocument,
) {
  const readOnly = useReadOnly();
  return useQuery({
    queryKey: ['open', documentId, readOnly],
    queryFn: () => openDocument(documentId, kind, listen, readOnly),
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

/** Shows what others save as long as the page shows the document, and sends the rest at the end. */
export function useKeeping<D extends Document, C, S>(store: DocumentStore<D, C, S>): void {
  useEffect(() => {
    const alone = store.getState().follow();
    return () => {
      alone();
      void store.getState().flush();
    };
  }, [store]);
}

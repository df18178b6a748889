import { type Conflict, type DocumentView, type Saved } from '@sobrin/contracts';
import { useQuery } from '@tanstack/react-query';
import { createContext, useContext, useEffect, type ReactNode } from 'react';
import { useStore } from 'zustand';
import { ApiError, api } from '../api/client';
import { type BenchState, type BenchStore, createBenchStore } from './bench-store';
import { newId } from '../api/new-id';
import { type Orphan, type Save, forget, holdTabLock, keepPending, orphansOf } from './pending';
import { isConflict } from './saver';

const post = (documentId: string, save: Save): Promise<Saved> =>
  api<Saved>('POST', `documents/${documentId}/changes`, save);

/** Benches of this tab by document: one that could not yet send everything is taken up again as it was left. */
const open = new Map<string, BenchStore>();

interface Opened {
  store: BenchStore;
  /** What could not be sent of what a closed tab left, as a sentence. */
  lost: string | null;
}

/** Opens a drawing: first sends what a closed tab left unsaved in this browser, then reads what the server has. */
async function openBench(documentId: string): Promise<Opened> {
  holdTabLock();
  const mine = open.get(documentId);
  if (mine && !(await mine.getState().flush())) return { store: mine, lost: null };
  const left = await sendOrphans(documentId);
  const { topology, revision } = await api<DocumentView>('GET', `documents/${documentId}`);
  const store = createBenchStore(
    { topology, revision },
    {
      post: (save) => post(documentId, save),
      keep: (pending) => keepPending(documentId, pending),
      newId,
      later: (run, ms) => void setTimeout(run, ms),
    },
  );
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
  open.set(documentId, store);
  return { store, lost: left.lost };
}

/** Sends what closed tabs left: all of it, up to the first that meets with what others saved since. */
async function sendOrphans(
  documentId: string,
): Promise<{ lost: string | null; clash: { conflict: Conflict; orphan: Orphan } | null }> {
  let lost: string | null = null;
  for (const orphan of await orphansOf(documentId)) {
    const { sent, waiting, base } = orphan.pending;
    try {
      const done = sent && (await post(documentId, sent));
      if (waiting.length) await post(documentId, { save: newId(), base: done?.revision ?? base, commands: waiting });
    } catch (error) {
      if (!(error instanceof ApiError) || error.status < 400 || error.status >= 500 || error.status === 401)
        throw error;
      if (isConflict(error.body)) return { lost, clash: { conflict: error.body, orphan } };
      lost = `Some changes that a closed tab left unsaved in this browser do not fit the saved drawing: ${error.message}`;
    }
    await forget(orphan);
  }
  return { lost, clash: null };
}

/** The bench of a document, kept as long as the page shows it. */
export function useOpenBench(documentId: string) {
  return useQuery({
    queryKey: ['bench', documentId],
    queryFn: () => openBench(documentId),
    staleTime: Infinity,
    gcTime: 0,
    refetchOnReconnect: false,
  });
}

const BenchContext = createContext<BenchStore | null>(null);

export function BenchProvider({ store, children }: { store: BenchStore; children: ReactNode }) {
  useEffect(() => {
    const online = (): void => store.getState().retry();
    const leaving = (event: BeforeUnloadEvent): void => {
      if (store.getState().save.kind !== 'saved') event.preventDefault();
    };
    window.addEventListener('online', online);
    window.addEventListener('beforeunload', leaving);
    return () => {
      window.removeEventListener('online', online);
      window.removeEventListener('beforeunload', leaving);
      void store.getState().flush();
    };
  }, [store]);
  return <BenchContext value={store}>{children}</BenchContext>;
}

export function useBenchStore(): BenchStore {
  const store = useContext(BenchContext);
  if (!store) throw new Error('There is no bench around this part.');
  return store;
}
export const useBench = <T,>(select: (state: BenchState) => T): T => useStore(useBenchStore(), select);

import { createContext, useContext, type ReactNode } from 'react';
import { useStore } from 'zustand';
import { useKeeping, useOpenDocument } from '../documents/open-document';
import { type BenchState, type BenchStore, DRAWING } from './bench-store';

/** The bench of a drawing, kept as long as the page shows it. */
export const useOpenBench = (documentId: string) => useOpenDocument(documentId, DRAWING);

const BenchContext = createContext<BenchStore | null>(null);

export function BenchProvider({ store, children }: { store: BenchStore; children: ReactNode }) {
  useKeeping(store);
  return <BenchContext value={store}>{children}</BenchContext>;
}

export function useBenchStore(): BenchStore {
  const store = useContext(BenchContext);
  if (!store) throw new Error('There is no bench around this part.');
  return store;
}
export const useBench = <T,>(select: (state: BenchState) => T): T => useStore(useBenchStore(), select);

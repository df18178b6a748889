import { createContext, useContext, useMemo, type ReactNode } from 'react';
import { useStore } from 'zustand';
import { useKeeping, useOpenDocument } from '../documents/open-document';
import { type BenchState, type BenchStore, DRAWING } from './bench-store';

/** The bench of a drawing, kept as long as the page shows it. */
export const useOpenBench = (documentId: string) => useOpenDocument(documentId, DRAWING);

const BenchContext = createContext<{ store: BenchStore; id: string } | null>(null);

/** `id` is that of the document. */
export function BenchProvider({ store, id, children }: { store: BenchStore; id: string; children: ReactNode }) {
  useKeeping(store);
  const value = useMemo(() => ({ store, id }), [store, id]);
  return <BenchContext value={value}>{children}</BenchContext>;
}

function useBenchContext(): { store: BenchStore; id: string } {
  const found = useContext(BenchContext);
  if (!found) throw new Error('There is no bench around this part.');
  return found;
}
export const useBenchStore = (): BenchStore => useBenchContext().store;
export const useBenchId = (): string => useBenchContext().id;
export const useBench = <T,>(select: (state: BenchState) => T): T => useStore(useBenchStore(), select);

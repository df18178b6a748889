import { type Brief } from '@sobrin/core/plan';
import { createContext, type ReactNode, startTransition, useContext, useEffect, useState } from 'react';
import { type StoreApi, createStore, useStore } from 'zustand';
import { useKeeping, useOpenDocument } from '../documents/open-document';
import { Waiting } from '../ui/states';
import { type PlanFacts, type PlanState, type PlanStore, PLAN, factsOf, followPlan } from './plan-store';

/** The plan of a lab or of a student's work, kept as long as the page shows it. */
export const useOpenPlan = (documentId: string) => useOpenDocument(documentId, PLAN);

/** Whose plan it is, and what may be told of it. */
export interface PlanSetting {
  brief: Brief;
  /** Title of the lab, for what is printed. */
  title: string;
  /** Whether problems and the sizes that follow from the brief are told. */
  showsResults: boolean;
  /** Whether Sobrin may lay out all groups by itself: it is the students' own work to do. */
  laysOut: boolean;
  /** The drawing that belongs to the plan, for comparing; its document is opened when it is asked for. */
  drawingId: string | null;
  /** The plan of a lab, which others may have open, too; null for a student's own. */
  sharedId: string | null;
}

interface PlanContextValue {
  store: PlanStore;
  facts: StoreApi<PlanFacts>;
  setting: PlanSetting;
}
const PlanContext = createContext<PlanContextValue | null>(null);

export function PlanProvider({
  store,
  setting,
  children,
}: {
  store: PlanStore;
  setting: PlanSetting;
  children: ReactNode;
}) {
  useKeeping(store);
  const { brief } = setting;
  const [facts, setFacts] = useState(() => (isLarge(store) ? null : createFacts(store, brief)));
  useEffect(() => {
    if (facts) return followPlan(store, facts, brief);
    // What follows from a large plan is worked out by itself, and the page is put together in pieces.
    const timer = setTimeout(() => {
      const made = createFacts(store, brief);
      startTransition(() => setFacts(made));
    });
    return () => clearTimeout(timer);
  }, [store, facts, brief]);
  return facts ? <PlanContext value={{ store, facts, setting }}>{children}</PlanContext> : <Waiting what="the plan" />;
}

const LARGE = 2000;
const isLarge = (store: PlanStore): boolean => Object.keys(store.getState().document.addresses ?? {}).length > LARGE;
const createFacts = (store: PlanStore, brief: Brief): StoreApi<PlanFacts> =>
  createStore<PlanFacts>(() => factsOf(store.getState().document, brief));

function usePlanContext(): PlanContextValue {
  const value = useContext(PlanContext);
  if (!value) throw new Error('There is no plan around this part.');
  return value;
}
export const usePlanStore = (): PlanStore => usePlanContext().store;
export const usePlanSetting = (): PlanSetting => usePlanContext().setting;
export const usePlan = <T,>(select: (state: PlanState) => T): T => useStore(usePlanContext().store, select);
export const usePlanFacts = <T,>(select: (facts: PlanFacts) => T): T => useStore(usePlanContext().facts, select);

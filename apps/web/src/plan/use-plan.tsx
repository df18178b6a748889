import { type Brief } from '@sobrin/core';
import { createContext, type ReactNode, useContext, useEffect, useState } from 'react';
import { type StoreApi, createStore, useStore } from 'zustand';
import { useKeeping, useOpenDocument } from '../documents/open-document';
import { type PlanFacts, type PlanState, type PlanStore, PLAN, factsOf, followPlan } from './plan-store';

/** The plan of a lab or of a student's work, kept as long as the page shows it. */
export const useOpenPlan = (documentId: string) => useOpenDocument(documentId, PLAN);

/** Whose plan it is, and what may be told of it. */
export interface PlanSetting {
  brief: Brief;
  /** Title of the lab, for what is printed. */
  title: string;
  /** Whether problems and the sizes that follow from the brief are told. */
  tells: boolean;
  /** Whether Sobrin may lay out all groups by itself: it is the students' own work to do. */
  laysOut: boolean;
  /** The drawing that belongs to the plan, for comparing; its document is opened when it is asked for. */
  drawingId: string | null;
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
  const [facts] = useState(() => createStore<PlanFacts>(() => factsOf(store.getState().document, brief)));
  useEffect(() => followPlan(store, facts, brief), [store, facts, brief]);
  return <PlanContext value={{ store, facts, setting }}>{children}</PlanContext>;
}

function usePlanContext(): PlanContextValue {
  const value = useContext(PlanContext);
  if (!value) throw new Error('There is no plan around this part.');
  return value;
}
export const usePlanStore = (): PlanStore => usePlanContext().store;
export const usePlanSetting = (): PlanSetting => usePlanContext().setting;
export const usePlan = <T,>(select: (state: PlanState) => T): T => useStore(usePlanContext().store, select);
export const usePlanFacts = <T,>(select: (facts: PlanFacts) => T): T => useStore(usePlanContext().facts, select);

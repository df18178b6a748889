import { type PlanOfLab } from '@sobrin/core/editing';
import { type Brief, offeredAddresses, offeredGateways, planTree } from '@sobrin/core/plan';
import { useQuery } from '@tanstack/react-query';
import { createContext, type ReactNode, useContext, useMemo } from 'react';
import { readPlan } from '../api/documents';
import { useBench } from './use-bench';

interface Offers {
  addresses: readonly string[];
  gateways4: readonly string[];
  gateways6: readonly string[];
}
const NO_OFFERS: Offers = { addresses: [], gateways4: [], gateways6: [] };

export const PlanContext = createContext<PlanOfLab | null>(null);

/** The plan that goes with the drawing, once it is known. */
export const usePlanOfLab = (): PlanOfLab | undefined => useContext(PlanContext) ?? undefined;

/** Makes the address plan that belongs to a drawing known to its bench. Without it the bench works as well. */
export function PlanProvider({ planId, brief, children }: { planId: string; brief: Brief; children: ReactNode }) {
  const plan = useQuery({
    queryKey: ['document', planId],
    queryFn: () => readPlan(planId),
    staleTime: 0,
  });
  const document = plan.data?.document;
  const value = useMemo(() => (document ? { tree: planTree(document), brief } : null), [document, brief]);
  return <PlanContext value={value}>{children}</PlanContext>;
}

/** VLANs of the plan by number, each with the name of the subnet it carries. */
export function usePlannedVlans(): ReadonlyMap<string, string> {
  const plan = useContext(PlanContext);
  return useMemo(() => {
    const blocks = Object.values(plan?.tree.plan.blocks ?? {});
    return new Map(blocks.flatMap(({ vlan, name }) => (vlan === undefined ? [] : [[String(vlan), name] as const])));
  }, [plan]);
}

/** Addresses and gateways that the plan has for a device. */
export function useAddressSuggestions(deviceId: string): Offers {
  const topology = useBench((state) => state.document);
  const plan = useContext(PlanContext);
  return useMemo(() => {
    if (!plan) return NO_OFFERS;
    const site = topology.sites[topology.devices[deviceId]?.site ?? '']?.name;
    return {
      addresses: offeredAddresses(plan.tree, plan.brief, topology, deviceId),
      gateways4: offeredGateways(plan.tree, plan.brief, site, 4),
      gateways6: offeredGateways(plan.tree, plan.brief, site, 6),
    };
  }, [plan, topology, deviceId]);
}

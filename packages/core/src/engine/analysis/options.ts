import { type VlanPolicy } from '../datalink';
import { type FilterOut } from '../forwarding';
import { type Distances, type RoutingOptions, USUAL_DISTANCES, USUAL_ROUTING } from '../network';

/** How real equipment of the lab behaves where standards leave a choice. */
export interface EngineOptions extends RoutingOptions {
  autoPairing: boolean;
  vlanPolicy: VlanPolicy;
  /** Whether filters see what leaves a router under the address that it had, or that it has then. */
  filterOut: FilterOut;
}
export const DEFAULT_OPTIONS: EngineOptions = {
  autoPairing: true,
  vlanPolicy: 'implicit',
  filterOut: 'before-translation',
  ...USUAL_ROUTING,
};

/** What the rules of a lab say of its equipment; what they leave out is as by default. */
export interface EquipmentPolicy {
  readonly autoPairing?: boolean;
  readonly vlanDatabase?: VlanPolicy;
  readonly filterOut?: FilterOut;
  readonly borderRouters?: RoutingOptions['borderRouters'];
  readonly distances?: Partial<Distances>;
}
/** What of the rules of a lab is about equipment: no key of what they leave open. */
export function equipmentOf(policy: EquipmentPolicy): EquipmentPolicy {
  const { autoPairing, vlanDatabase, filterOut, borderRouters, distances } = policy;
  return {
    ...(autoPairing !== undefined && { autoPairing }),
    ...(vlanDatabase !== undefined && { vlanDatabase }),
    ...(filterOut !== undefined && { filterOut }),
    ...(borderRouters !== undefined && { borderRouters }),
    ...(distances !== undefined && { distances }),
  };
}

/**
 * The options of an analysis that a lab's rules about equipment ask for; what they leave open stays the engine's
 * default.
 */
export function optionsOf(policy: EquipmentPolicy): Partial<EngineOptions> {
  const { vlanDatabase, distances, ...others } = equipmentOf(policy);
  return {
    ...others,
    ...(vlanDatabase !== undefined && { vlanPolicy: vlanDatabase }),
    ...(distances !== undefined && { distances: { ...USUAL_DISTANCES, ...distances } }),
  };
}

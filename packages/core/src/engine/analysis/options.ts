import { type VlanPolicy } from '../datalink';
import { type FilterOut } from '../forwarding';

/** How real equipment of the lab behaves where standards leave a choice. */
export interface EngineOptions {
  autoPairing: boolean;
  vlanPolicy: VlanPolicy;
  /** Whether filters see what leaves a router under the address that it had, or that it has then. */
  filterOut: FilterOut;
}
export const DEFAULT_OPTIONS: EngineOptions = {
  autoPairing: true,
  vlanPolicy: 'implicit',
  filterOut: 'before-translation',
};

/** What the rules of a lab say of its equipment; what they leave out is as by default. */
export interface EquipmentPolicy {
  readonly autoPairing?: boolean;
  readonly vlanDatabase?: VlanPolicy;
  readonly filterOut?: FilterOut;
}
/**
 * The options of an analysis that a lab's rules about equipment ask for; what they leave open stays the engine's
 * default.
 */
export const optionsOf = ({ autoPairing, vlanDatabase, filterOut }: EquipmentPolicy): Partial<EngineOptions> => ({
  ...(autoPairing !== undefined && { autoPairing }),
  ...(vlanDatabase !== undefined && { vlanPolicy: vlanDatabase }),
  ...(filterOut !== undefined && { filterOut }),
});

import { type Topology, canonicalJson } from '../../topology';
import { type DataLink, type VlanPolicy, dataLink, dataLinkAfter, edgeEditOf } from '../datalink';
import { type Instance, instancesOf } from '../devices';
import { type Network } from '../network';
import { type Physical, physical } from '../physical';
import { ReachGrid } from '../reach';
import { convergedNetwork } from '../convergence';
import { type FilterOut, type Layers } from '../forwarding';

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
export const optionsOf = ({ autoPairing, vlanDatabase, filterOut }: EquipmentPolicy): Partial<EngineOptions> => ({
  ...(autoPairing !== undefined && { autoPairing }),
  ...(vlanDatabase !== undefined && { vlanPolicy: vlanDatabase }),
  ...(filterOut !== undefined && { filterOut }),
});

/** Everything the engine says of a drawing, stage by stage; each stage is a pure function of the ones before. */
export interface NetworkModel extends Layers {
  readonly topology: Topology;
  readonly options: EngineOptions;
  readonly instances: ReadonlyMap<string, Instance>;
  readonly layer1: Physical;
  readonly layer2: DataLink;
  readonly layer3: Network;
  readonly reach: ReachGrid;
}

/**
 * Works everything out.
 *
 * @param last what was worked out of the drawing before an edit: parts of the drawing that are the same values (as edits
 *   leave them) are not worked out again where nothing else bears on them. The answers are the same without it.
 */
export function analyse(topology: Topology, options: Partial<EngineOptions> = {}, last?: NetworkModel): NetworkModel {
  const settled = { ...DEFAULT_OPTIONS, ...options };
  const { autoPairing, vlanPolicy, filterOut } = settled;
  const before = last && canonicalJson(last.options) === canonicalJson(settled) ? last : undefined;
  const instances = instancesOf(topology, before);
  const layer1 = physical(topology, instances, { autoPairing }, before);
  const edgeEdit = before ? edgeEditOf({ topology, instances, layer1 }, before) : null;
  const after = edgeEdit && dataLinkAfter(edgeEdit, { topology, instances, layer1 }, vlanPolicy, before!);
  const layer2 = after ?? dataLink(topology, instances, layer1, vlanPolicy, before?.layer2);
  const earlier = before && { layer3: before.layer3, edit: after ? edgeEdit : null };
  const layer3 = convergedNetwork(instances, layer1, layer2, filterOut, earlier);
  return {
    topology,
    options: settled,
    instances,
    layer1,
    layer2,
    layer3,
    filterOut,
    reach: new ReachGrid({ instances, layer2, layer3, filterOut }, before?.reach),
  };
}

import { type Topology } from '../topology';
import { type DataLink, type VlanPolicy, dataLink } from './datalink';
import { type Instance, instancesOf } from './instances';
import { type Network } from './network';
import { type Physical, physical } from './physical';
import { ReachGrid } from './reach';
import { settledNetwork } from './settle';
import { type Layers } from './step';

/** How real equipment of the lab behaves where standards leave a choice. */
export interface EngineOptions {
  autoPairing: boolean;
  vlanPolicy: VlanPolicy;
}
export const DEFAULT_OPTIONS: EngineOptions = { autoPairing: true, vlanPolicy: 'implicit' };

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

export function analyse(topology: Topology, options: Partial<EngineOptions> = {}): NetworkModel {
  const settled = { ...DEFAULT_OPTIONS, ...options };
  const { autoPairing, vlanPolicy } = settled;
  const instances = instancesOf(topology);
  const layer1 = physical(topology, instances, { autoPairing });
  const layer2 = dataLink(topology, instances, layer1, vlanPolicy);
  const layer3 = settledNetwork(instances, layer1, layer2);
  return {
    topology,
    options: settled,
    instances,
    layer1,
    layer2,
    layer3,
    reach: new ReachGrid({ instances, layer2, layer3 }),
  };
}

import { type Topology } from '../../topology';
import { type DataLink, dataLink, dataLinkAfter, edgeEditOf } from '../datalink';
import { type Instance, instancesOf } from '../devices';
import { type Network } from '../network';
import { type Physical, type PortVerdict, physical } from '../physical';
import { ReachGrid } from '../reach';
import { convergedNetwork } from '../convergence';
import { type Layers } from '../forwarding';
import { DEFAULT_OPTIONS, type EngineOptions } from './options';
import { portVerdicts } from './port-security';

/** Everything the engine says of a drawing, stage by stage; each stage is a pure function of the ones before. */
export interface NetworkModel extends Layers {
  readonly topology: Topology;
  readonly options: EngineOptions;
  readonly instances: ReadonlyMap<string, Instance>;
  readonly layer1: Physical;
  readonly layer2: DataLink;
  readonly layer3: Network;
  readonly reach: ReachGrid;
  /** The network as it were if no port minded who speaks; absent where none does. */
  readonly unminding?: NetworkModel;
}

/** Works everything out. */
export const analyse = (topology: Topology, options: Partial<EngineOptions> = {}): NetworkModel =>
  modelOf(topology, { ...DEFAULT_OPTIONS, ...options });

/**
 * Works out what has changed. Parts of the drawing that are the same values (as edits leave them) are not worked out again
 * where nothing else bears on them; the answers are those of an analysis from nothing.
 */
export const analyseAfter = (before: NetworkModel, topology: Topology): NetworkModel =>
  topology === before.topology ? before : modelOf(topology, before.options, before);

function modelOf(topology: Topology, options: EngineOptions, before?: NetworkModel): NetworkModel {
  const model = layersOf(topology, options, NO_VERDICTS, before?.unminding ?? before);
  const verdicts = portVerdicts(model);
  return verdicts.size ? { ...layersOf(topology, options, verdicts), unminding: model } : model;
}

const NO_VERDICTS: ReadonlyMap<string, PortVerdict> = new Map();

/** @param verdicts what ports do that mind who speaks, by `portId` */
function layersOf(
  topology: Topology,
  options: EngineOptions,
  verdicts: ReadonlyMap<string, PortVerdict>,
  before?: NetworkModel,
): NetworkModel {
  const { autoPairing, vlanPolicy, filterOut } = options;
  const instances = instancesOf(topology, before);
  const layer1 = physical(topology, instances, { autoPairing, verdicts }, before);
  const given = { topology, instances, layer1 };
  const edgeEdit = before ? edgeEditOf(given, before) : null;
  const layer2 = edgeEdit
    ? dataLinkAfter(edgeEdit, given, vlanPolicy, before!)
    : dataLink(given, vlanPolicy, before?.layer2.points);
  const layer3 = convergedNetwork(
    instances,
    layer1,
    layer2,
    options,
    before && { layer3: before.layer3, edit: edgeEdit },
  );
  const reach = new ReachGrid({ instances, layer2, layer3, filterOut }, before?.reach);
  return { topology, options, instances, layer1, layer2, layer3, filterOut, reach };
}

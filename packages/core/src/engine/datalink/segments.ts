import { type Topology } from '../../topology';
import { type Bundles } from './bundles';
import { type Instance, type Port, instanceId, type Reason } from '../devices';
import { type Physical, portId } from '../physical';
import { isRadio, radioVlan } from './passes';
import { UnionFind } from './union-find';

/** A port of a bridge that frames go through; of a bundle, its first port stands for all. */
export interface BridgePort {
  readonly instance: Instance;
  readonly port: Port;
  /** Its place among the ports of the device, from 1. */
  readonly number: number;
  readonly segment: string;
  /** The VLAN of what comes over the air; null for a port with a cable. */
  readonly radio: number | null;
  readonly speedMbps: number;
}

/** What carries frames between ports: links that are up, those of a bundle as one, joined where hubs repeat. */
export interface Segments {
  /** The segment at a port; null where nothing is up there. */
  at(instance: string, port: string): string | null;
  /** The links of a segment, in order. */
  linksOf(segment: string): readonly string[];
  /** Loops of hubs and shared ports by segment, each with the place where it closes. */
  readonly looped: ReadonlyMap<string, Reason['at']>;
  /** Ports of devices that bridge by VLAN, in the order of devices and ports. */
  readonly bridgePorts: readonly BridgePort[];
}

/** Links that belong together, by the first of them, and where they close a circle. Links that stand alone are not in it. */
export interface Joins {
  readonly first: ReadonlyMap<string, string>;
  readonly looped: ReadonlyMap<string, Reason['at']>;
}
const NO_JOINS: Joins = { first: new Map(), looped: new Map() };

/** The name of the segment of a link that stands alone. */
export const segmentOf = (link: string): string => `segment ${link}`;

/** Which links hubs, bundles and shared ports join. */
export function joinsOf(
  topology: Topology,
  instances: ReadonlyMap<string, Instance>,
  layer1: Physical,
  bundles: Bundles,
): Joins {
  const crowded = new Set<string>();
  for (const ids of layer1.atPort.values())
    if (ids.length > 1)
      for (const id of ids)
        for (const end of [topology.links[id]!.a, topology.links[id]!.b]) crowded.add(instanceId(end));
  const joining = [...instances.values()].filter(
    ({ id, model }) => (model.bridges === 'hub' && model.class !== 'passive') || crowded.has(id),
  );
  const isLong = layer1.channels.length < layer1.links.size;
  if (!joining.length && !bundles.any && !isLong) return NO_JOINS;

  const sets = new UnionFind();
  const up: string[] = [];
  const wire = new Map<string, number>();
  for (const [id, state] of layer1.links)
    if (state.up) {
      up.push(id);
      wire.set(id, sets.add());
    }
  for (const id of up) {
    const channel = layer1.channelOf.get(id)!.id;
    if (channel !== id) sets.union(wire.get(channel)!, wire.get(id)!);
    const lead = bundles.ofLink(channel)?.links[0];
    if (lead !== undefined) sets.union(wire.get(lead)!, wire.get(id)!);
  }
  const circles: [number, Reason['at']][] = [];
  const join = (ids: readonly string[], place: Reason['at']): void => {
    for (let at = 1; at < ids.length; at++)
      if (!sets.union(wire.get(ids[0]!)!, wire.get(ids[at]!)!)) circles.push([wire.get(ids[0]!)!, place]);
  };
  for (const instance of joining) {
    const { id, model, ports } = instance;
    // Over the air only those meet whose network is in the same VLAN.
    const byNetwork = (ids: readonly string[], port: string): string[][] =>
      model.bridges === 'vlan' && isRadio(ports.get(port)!)
        ? [...linksByVlan(ids, topology, instance, instances).values()]
        : [[...ids]];
    const used = [...ports.keys()].flatMap((port) => {
      const ids = (layer1.atPort.get(portId(id, port)) ?? []).filter((link) => wire.has(link));
      return ids.length ? [{ port, ids }] : [];
    });
    for (const { port, ids } of used) for (const group of byNetwork(ids, port)) join(group, { device: id, port });
    if (model.bridges === 'hub')
      for (const { port, ids } of used.slice(1)) join([used[0]!.ids[0]!, ids[0]!], { device: id, port });
  }
  const first = new Map<string, string>();
  for (const [at, id] of up.entries()) {
    const device = up[sets.find(at)]!;
    if (device !== id) first.set(id, device);
  }
  return { first, looped: new Map(circles.map(([circle, place]) => [segmentOf(up[sets.find(circle)]!), place])) };
}

/** The links at a radio by the VLAN of the network that each is in. */
function linksByVlan(
  ids: readonly string[],
  topology: Topology,
  at: Instance,
  instances: ReadonlyMap<string, Instance>,
): Map<number, string[]> {
  const found = new Map<number, string[]>();
  for (const id of ids) {
    const vlan = radioVlan(topology.links[id]!, at, instances);
    found.set(vlan, [...(found.get(vlan) ?? []), id]);
  }
  return found;
}

export function segmentsOf(
  topology: Topology,
  instances: ReadonlyMap<string, Instance>,
  layer1: Physical,
  bundles: Bundles,
  { first, looped }: Joins,
): Segments {
  const { links } = layer1;
  // A segment is called by its first link, so that it keeps its name when others come and go.
  const name = (id: string): string => segmentOf(first.get(id) ?? id);
  const firstAt = (instance: string, port: string): string | undefined =>
    layer1.atPort.get(portId(instance, port))?.find((id) => links.get(id)?.up);
  let all: Map<string, string[]> | null = null;
  const linksBySegment = (): Map<string, string[]> => {
    const found = new Map<string, string[]>();
    for (const [id, { up }] of links) {
      if (!up) continue;
      const there = found.get(name(id));
      if (there) there.push(id);
      else found.set(name(id), [id]);
    }
    return found;
  };
  let ports: BridgePort[] | null = null;
  const bridgePorts = (): BridgePort[] =>
    [...instances.values()].flatMap((instance) =>
      instance.model.bridges !== 'vlan'
        ? []
        : [...instance.ports.values()].flatMap((port, index): BridgePort[] => {
            const link = port.switched ? firstAt(instance.id, port.key) : undefined;
            if (link === undefined) return [];
            if (isRadio(port)) {
              const up = layer1.atPort.get(portId(instance.id, port.key))!.filter((id) => links.get(id)?.up);
              return [...linksByVlan(up, topology, instance, instances)].map(([radio, [first]]) => ({
                instance,
                port,
                number: index + 1,
                segment: name(first!),
                radio,
                speedMbps: links.get(first!)!.speedMbps ?? 0,
              }));
            }
            const channel = layer1.channelOf.get(link)!.id;
            const bundle = bundles.ofLink(channel);
            if (bundle && bundle.links[0] !== channel) return [];
            const speedMbps = bundle?.speedMbps ?? links.get(link)!.speedMbps ?? 0;
            return [{ instance, port, number: index + 1, segment: name(link), radio: null, speedMbps }];
          }),
    );
  return {
    at: (instance, port) => {
      const link = firstAt(instance, port);
      return link === undefined ? null : name(link);
    },
    linksOf: (segment) => (all ??= linksBySegment()).get(segment) ?? [],
    looped,
    get bridgePorts() {
      return (ports ??= bridgePorts());
    },
  };
}

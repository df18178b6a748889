import { type LinkEnd, type Topology } from '../topology';
import { type Bundles } from './bundles';
import { type Instance, type Port, instanceIdOf } from './instances';
import { type Physical, portId } from './physical';
import { type Reason } from './reason';
import { UnionFind } from './union-find';

/** A port of a bridge that frames go through; of a bundle, its first port stands for all. */
export interface BridgePort {
  readonly instance: Instance;
  readonly port: Port;
  /** Its place among the ports of the device, from 1. */
  readonly number: number;
  readonly segment: string;
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

const endsOf = (topology: Topology, link: string): readonly [LinkEnd, LinkEnd] => {
  const { a, b } = topology.links[link]!;
  return [a, b];
};

export function segmentsOf(
  topology: Topology,
  instances: ReadonlyMap<string, Instance>,
  layer1: Physical,
  bundles: Bundles,
): Segments {
  const sets = new UnionFind();
  const up: string[] = [];
  const wire = new Map<string, number>();
  for (const [id, state] of layer1.links)
    if (state.up) {
      up.push(id);
      wire.set(id, sets.add());
    }
  for (const id of up) {
    const lead = bundles.ofLink(id)?.links[0];
    if (lead !== undefined) sets.union(wire.get(lead)!, wire.get(id)!);
  }
  const circles: [number, Reason['at']][] = [];
  const join = (ids: readonly string[], place: Reason['at']): void => {
    for (let at = 1; at < ids.length; at++)
      if (!sets.union(wire.get(ids[0]!)!, wire.get(ids[at]!)!)) circles.push([wire.get(ids[0]!)!, place]);
  };
  const wiresAt = (instance: string, port: string): string[] =>
    (layer1.atPort.get(portId(instance, port)) ?? []).filter((id) => wire.has(id));
  const crowded = new Set<string>();
  for (const ids of layer1.atPort.values())
    if (ids.length > 1) for (const id of ids) for (const end of endsOf(topology, id)) crowded.add(instanceIdOf(end));
  for (const { id, model, ports } of instances.values()) {
    if (model.bridges !== 'hub' && !crowded.has(id)) continue;
    const used = [...ports.keys()].flatMap((port) => {
      const ids = wiresAt(id, port);
      return ids.length ? [{ port, ids }] : [];
    });
    for (const { port, ids } of used) join(ids, { device: id, port });
    if (model.bridges === 'hub')
      for (const { port, ids } of used.slice(1)) join([used[0]!.ids[0]!, ids[0]!], { device: id, port });
  }
  // A segment is called by its first link, so that it keeps its name when others come and go.
  const name = (id: string): string => `segment ${up[sets.find(wire.get(id)!)]!}`;
  const firstAt = (instance: string, port: string): string | undefined =>
    layer1.atPort.get(portId(instance, port))?.find((id) => wire.has(id));
  let links: Map<string, string[]> | null = null;
  const linksBySegment = (): Map<string, string[]> => {
    const all = new Map<string, string[]>();
    for (const id of up) {
      const there = all.get(name(id));
      if (there) there.push(id);
      else all.set(name(id), [id]);
    }
    return all;
  };
  const bridgePorts = [...instances.values()].flatMap((instance) =>
    instance.model.bridges !== 'vlan'
      ? []
      : [...instance.ports.values()].flatMap((port, index): BridgePort[] => {
          const link = port.switched ? firstAt(instance.id, port.key) : undefined;
          if (link === undefined) return [];
          const bundle = bundles.ofLink(link);
          if (bundle && bundle.links[0] !== link) return [];
          const speedMbps = bundle?.speedMbps ?? layer1.links.get(link)!.speedMbps ?? 0;
          return [{ instance, port, number: index + 1, segment: name(link), speedMbps }];
        }),
  );
  return {
    at: (instance, port) => {
      const link = firstAt(instance, port);
      return link === undefined ? null : name(link);
    },
    linksOf: (segment) => (links ??= linksBySegment()).get(segment) ?? [],
    looped: new Map(circles.map(([one, place]) => [`segment ${up[sets.find(one)]!}`, place])),
    bridgePorts,
  };
}

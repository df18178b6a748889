import { type InterfaceAddress, type Prefix, formatPrefix, parseInterfaceAddress, subnetOf } from '../../address';
import { type NetworkModel, instanceId } from '../../engine';
import { type DeviceKind, entriesById } from '../../topology';

/** What two vertices have in common that may be of the same colour: the kind of a device, or the sort of a part. */
export type VertexKind = DeviceKind | PartSort;
/** What devices share: who hears whom on layer 2, a subnet of either family, whether addresses are leased. */
export const PART_SORTS = ['domain', 'subnet4', 'subnet6', 'leased'] as const;
export type PartSort = (typeof PART_SORTS)[number];

/**
 * A drawing as a graph: first its devices by number, each neighbour once for each link; then, as vertices of their own,
 * what devices share. So that who shares what is structure like any other, compared without any number or text.
 */
export interface Graph {
  /** Instance ids of the devices; vertices beyond are parts. */
  readonly ids: readonly string[];
  readonly kinds: readonly VertexKind[];
  readonly classes: readonly string[];
  /** Neighbours of devices by links alone. */
  readonly links: readonly (readonly number[])[];
  /** Neighbours of devices by what they share, and of parts: their devices. */
  readonly shares: readonly (readonly number[])[];
  /** For each sort the part that a device is in, by its vertex; -1 for none. */
  readonly parts: Readonly<Record<PartSort, Int32Array>>;
}

/** A reference is compared with many drawings. */
const graphs = new WeakMap<NetworkModel, Graph>();
export function graphOf(model: NetworkModel): Graph {
  let graph = graphs.get(model);
  if (!graph) graphs.set(model, (graph = read(model)));
  return graph;
}

function read(model: NetworkModel): Graph {
  const instances = [...model.instances.values()];
  const ids = instances.map(({ id }) => id);
  const index = new Map(ids.map((id, at) => [id, at]));
  const links: number[][] = ids.map(() => []);
  for (const [, link] of entriesById(model.topology.links)) {
    const [a, b] = [index.get(instanceId(link.a)), index.get(instanceId(link.b))];
    if (a === undefined || b === undefined || a === b) continue;
    links[a]!.push(b);
    links[b]!.push(a);
  }
  const kinds: VertexKind[] = instances.map((instance) => instance.model.kind);
  const classes = instances.map((instance) => instance.model.class as string);
  const shares: number[][] = ids.map(() => []);
  const parts = Object.fromEntries(
    PART_SORTS.map((sort) => [sort, new Int32Array(ids.length).fill(-1)]),
  ) as unknown as Record<PartSort, Int32Array>;
  for (const sort of PART_SORTS) {
    const known = new Map<string, number>();
    for (const [at, id] of ids.entries()) {
      // Equipment joins what it is between; what hosts share tells them apart.
      if (classes[at] !== 'end') continue;
      const key = partKey(model, id, sort);
      if (key === null) continue;
      let vertex = known.get(key);
      if (vertex === undefined) {
        vertex = kinds.length;
        known.set(key, vertex);
        kinds.push(sort);
        classes.push('part');
        shares.push([]);
      }
      parts[sort][at] = vertex;
      shares[at]!.push(vertex);
      shares[vertex]!.push(at);
    }
  }
  return { ids, kinds, classes, links, shares, parts };
}

function partKey(model: NetworkModel, id: string, sort: PartSort): string | null {
  const states = model.layer3.nodes.get(id)?.interfaceStates ?? [];
  if (sort === 'domain') {
    const point = states.find((state) => state.point !== null)?.point ?? null;
    return point === null ? null : `${model.layer2.domainOf(point)}`;
  }
  const instance = model.instances.get(id)!;
  if (sort === 'leased')
    return instance.interfaces.some(([, { v4, v6 }]) => v4?.dhcp === true || v6?.dhcp !== undefined) ? 'leased' : null;
  const family = sort === 'subnet4' ? 4 : 6;
  const subnet =
    typedIn(model, id, family)[0] ??
    states.flatMap((state) => state.addresses).find((on) => on.address.family === family);
  return subnet ? formatPrefix(prefixOfSubnet(subnet)) : null;
}

const typedIn = (model: NetworkModel, id: string, family: 4 | 6): InterfaceAddress[] =>
  model.instances.get(id)!.interfaces.flatMap(([, { v4, v6 }]) =>
    ((family === 4 ? v4?.addresses : v6?.addresses) ?? []).flatMap((text) => {
      const read = parseInterfaceAddress(text);
      return read.ok && read.value.address.family === family ? [read.value] : [];
    }),
  );
const prefixOfSubnet = (on: InterfaceAddress): Prefix => subnetOf(on);

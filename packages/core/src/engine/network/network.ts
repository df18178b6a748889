import { subnetOf } from '../../address';
import {
  type DeviceInterfaces,
  type NetworkInterfaces,
  networkInterfacesAfter,
  networkInterfacesOf,
} from './interface-states';
import { type DataLink, type EdgeEdit } from '../datalink';
import { type Instance } from '../devices';
import { type Leases, leaseKey } from './lease';
import { type InterfaceState, type Node, type Route, RouteTable, allAddresses, numberOf } from './node';
import { type OspfState, ospf } from './ospf';
import { type Physical, portId } from '../physical';
import { ripRoutes } from './rip';
import { type Distances, type RoutingOptions, USUAL_ROUTING } from './routing-options';
import { addStatics } from './static-routes';

export interface Network {
  readonly nodes: ReadonlyMap<string, Node>;
  /** Active interfaces by `numberOf` their addresses. */
  readonly owners: ReadonlyMap<number | bigint, readonly InterfaceState[]>;
  /** Devices that translate addresses. */
  readonly translators: readonly Node[];
  readonly leases: Leases;
  readonly ospf: OspfState;
  readonly ospf6: OspfState;
  /** Devices before they knew any routes, and what each has learnt. */
  readonly interfaces: NetworkInterfaces;
  readonly learnt: LearntByDevice;
}
type LearntByDevice = ReadonlyMap<string, readonly Route[]>;

/** Protocols take routes over from one another: after so many rounds what still changes is left as it is. */
const MOST_ROUNDS = 8;
const NOTHING: readonly Route[] = [];

/** The same before an edit, and what the edit concerned if that is little. */
export interface Earlier {
  readonly layer3: Network;
  readonly edit: EdgeEdit | null;
}

/**
 * Interfaces with their addresses and all routes, with the leases that are given.
 *
 * @param earlier interfaces, tables and routes that stay as they were stay the same values
 */
export function network(
  instances: ReadonlyMap<string, Instance>,
  layer1: Physical,
  layer2: DataLink,
  leases: Leases = new Map(),
  earlier?: Earlier,
  options: RoutingOptions = USUAL_ROUTING,
): Network {
  const { distances } = options;
  const before = earlier?.layer3;
  const edgeEdit = before && !leases.size && !before.leases.size ? earlier.edit : null;
  const all =
    (edgeEdit && networkInterfacesAfter(edgeEdit, instances, layer1, layer2, before!.interfaces)) ??
    networkInterfacesOf(instances, layer1, layer2, leases, before?.interfaces);
  const { all: byDevice } = all;
  const speedOf = ({ instance, config: { on } }: InterfaceState): number => {
    const port = on.kind === 'port' || on.kind === 'sub' ? on.port : null;
    const [link] = port === null ? [] : (layer1.atPort.get(portId(instance, port)) ?? []);
    return (link === undefined ? null : layer1.links.get(link)?.speedMbps) ?? 1000;
  };
  let learnt: LearntByDevice = new Map();
  // Who takes nothing over has no need of tables to tell what it knows.
  let nodes = untabled(byDevice);
  const takesOver = [...nodes.values()].some(takesRoutesOver);
  if (takesOver) nodes = tabled(byDevice, leases, learnt, distances);
  let [database, database6] = [
    ospf(nodes, layer2, speedOf, 4, options, before?.ospf),
    ospf(nodes, layer2, speedOf, 6, options, before?.ospf6),
  ];
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const rip = ripRoutes(nodes, layer2, distances.rip);
    const next = new Map<string, readonly Route[]>();
    for (const id of new Set([...database.routes.keys(), ...database6.routes.keys(), ...rip.keys()])) {
      const [first = NOTHING, ...more] = [database.routes, database6.routes, rip].flatMap((all) => {
        const routes = all.get(id);
        return routes?.length ? [routes] : [];
      });
      const from = more.length ? [first, ...more].flat() : first;
      if (!from.length) continue;
      const old = before?.learnt.get(id);
      next.set(id, old && sameRoutes(from, old) ? old : from);
    }
    const settled =
      round > 0 &&
      next.size === learnt.size &&
      [...next].every(([id, routes]) => sameRoutes(routes, learnt.get(id) ?? NOTHING));
    if (settled) break;
    learnt = next;
    nodes = tabled(byDevice, leases, learnt, distances, before);
    // What nobody takes over from elsewhere does not change with the tables.
    if (!takesOver) break;
    database = ospf(nodes, layer2, speedOf, 4, options);
    database6 = ospf(nodes, layer2, speedOf, 6, options);
  }
  const translators = [...nodes.values()].filter((node) => node.instance.settings.nat?.length);
  const owners = (before && ownersAfter(byDevice, before)) ?? ownersOf(byDevice);
  return { nodes, owners, translators, leases, ospf: database, ospf6: database6, interfaces: all, learnt };
}

/** Who has which address after an edit; undefined where somebody shares one, since then the order of devices matters. */
function ownersAfter(byDevice: ReadonlyMap<string, DeviceInterfaces>, before: Network): Network['owners'] | undefined {
  if (byDevice.size !== before.interfaces.all.size) return undefined;
  let owners: Map<number | bigint, readonly InterfaceState[]> | null = null;
  for (const [id, { interfaceStates }] of byDevice) {
    const old = before.interfaces.all.get(id)?.interfaceStates;
    if (old === interfaceStates) continue;
    if (!old) return undefined;
    owners ??= new Map(before.owners);
    for (const interfaceState of old)
      for (const number of interfaceState.up ? numbersOf(interfaceState) : []) {
        if (owners.get(number)!.length > 1) return undefined;
        owners.delete(number);
      }
    for (const interfaceState of interfaceStates)
      for (const number of interfaceState.up ? numbersOf(interfaceState) : []) {
        if (owners.has(number)) return undefined;
        owners.set(number, [interfaceState]);
      }
  }
  return owners ?? before.owners;
}

function ownersOf(byDevice: ReadonlyMap<string, DeviceInterfaces>): Network['owners'] {
  const owners = new Map<number | bigint, InterfaceState[]>();
  for (const { interfaceStates } of byDevice.values())
    for (const interfaceState of interfaceStates) {
      if (!interfaceState.up) continue;
      for (const number of numbersOf(interfaceState)) {
        const there = owners.get(number);
        if (there) there.push(interfaceState);
        else owners.set(number, [interfaceState]);
      }
    }
  return owners;
}
/** Each address of an interface once; interfaces are values that never change. */
const numbers = new WeakMap<InterfaceState, ReadonlySet<number | bigint>>();
export function numbersOf(interfaceState: InterfaceState): ReadonlySet<number | bigint> {
  let found = numbers.get(interfaceState);
  if (!found) numbers.set(interfaceState, (found = new Set(allAddresses(interfaceState).map(numberOf))));
  return found;
}

const takesRoutesOver = ({ instance: { settings } }: Node): boolean =>
  [settings.ospf, settings.ospf6, settings.rip].some(
    (process) => process?.redistribute?.length || process?.defaultOriginate,
  );

const sameRoutes = (first: readonly Route[], second: readonly Route[]): boolean =>
  first === second ||
  (first.length === second.length &&
    first.every((route, at) => {
      const there = second[at]!;
      return (
        route === there ||
        (route.out === there.out &&
          route.via?.value === there.via?.value &&
          route.metric === there.metric &&
          route.unstable === there.unstable &&
          route.source === there.source &&
          route.prefix.value === there.prefix.value &&
          route.prefix.length === there.prefix.length &&
          route.prefix.family === there.prefix.family)
      );
    }));

const EMPTY = new RouteTable();
/** Those who speak to other routers. */
function untabled(byDevice: ReadonlyMap<string, DeviceInterfaces>): Map<string, Node> {
  const nodes = new Map<string, Node>();
  for (const [id, { instance, interfaceStates, addressSets }] of byDevice) {
    const { ospf: two, ospf6: three, rip } = instance.settings;
    if (two ?? three ?? rip) nodes.set(id, { instance, interfaceStates, addressSets, table: EMPTY, refused: [] });
  }
  return nodes;
}

/** The routing table of every device: what is connected, what it has learnt, and what was typed. */
function tabled(
  byDevice: ReadonlyMap<string, DeviceInterfaces>,
  leases: Leases,
  learnt: LearntByDevice,
  distances: Distances,
  before?: Network,
): Map<string, Node> {
  const { learnt: distance } = distances;
  const nodes = new Map<string, Node>();
  for (const [id, device] of byDevice) {
    const routes = learnt.get(id) ?? NOTHING;
    const [old, known] = [before?.interfaces.all.get(id), before?.nodes.get(id)];
    const { instance, interfaceStates, addressSets, unreadable, waysOut } = device;
    if (
      known &&
      old?.interfaceStates === interfaceStates &&
      old.waysOut === waysOut &&
      (before!.learnt.get(id) ?? NOTHING) === routes &&
      old.instance.settings === instance.settings &&
      old.instance.name === instance.name &&
      !unreadable.length &&
      sameWaysOut(device, leases, before!.leases)
    ) {
      nodes.set(id, old.instance === instance ? known : { ...known, instance });
      continue;
    }
    const table = new RouteTable();
    for (const out of interfaceStates)
      if (out.up)
        for (const on of out.addresses)
          table.add({ prefix: subnetOf(on), source: 'connected', distance: 0, metric: 0, via: null, out });
    for (const route of routes) table.add(route);
    for (const out of interfaceStates) {
      const router = leases.get(leaseKey(id, out.key))?.router;
      const prefix = { family: 4 as const, value: 0n, length: 0 };
      if (router && out.up) table.add({ prefix, source: 'dhcp', distance, metric: 0, via: router, out });
    }
    for (const { prefix, via, out } of waysOut)
      if (via) table.add({ prefix, source: 'ra', distance, metric: 0, via, out });
      else if (!table.at(prefix).some((known) => known.out === out && known.source === 'connected'))
        table.add({ prefix, source: 'connected', distance: 0, metric: 0, via, out });
    const refused = [...unreadable];
    addStatics(instance, interfaceStates, table, refused, distances);
    nodes.set(id, { instance, interfaceStates, addressSets, table, refused });
  }
  return nodes;
}

/** Whether servers tell a device the same ways out, with the same doubts. */
const sameWaysOut = ({ instance, interfaceStates }: DeviceInterfaces, leases: Leases, before: Leases): boolean =>
  (!leases.size && !before.size) ||
  interfaceStates.every(({ key }) => {
    return ([4, 6] as const).every((family) => {
      const [lease, old] = [leases, before].map((all) => all.get(leaseKey(instance.id, key, family)));
      return lease?.router?.value === old?.router?.value && lease?.rivals === old?.rivals;
    });
  });

import { type Family, samePrefix } from '../../address';
import { type DataLink } from '../datalink';
import { type InterfaceState, type Node } from './node';
import { Database, type External, externalsOf } from './ospf-database';
import {
  type Adjacency,
  NO_ID,
  type OspfInterface,
  adjacenciesOf,
  costOf,
  ospfInterfacesOf,
  routerIdOf,
  settingsOf,
} from './ospf-interfaces';
import { type Learnt } from './rip';
import { type RoutingOptions } from './routing-options';

export interface OspfState {
  readonly speakers: readonly Node[];
  readonly routes: Learnt;
  readonly routerIds: ReadonlyMap<string, string>;
  readonly interfaces: readonly OspfInterface[];
  readonly adjacencies: readonly Adjacency[];
  readonly externals: readonly External[];
}

/**
 * Routes of all routers, from the databases that adjacencies spread. `speedOf` gives Mb/s of an interface.
 *
 * @param before the same before an edit: where the database is still the same, so are the routes
 */
export function ospf(
  nodes: ReadonlyMap<string, Node>,
  layer2: DataLink,
  speedOf: (interfaceState: InterfaceState) => number,
  family: Family,
  { borderRouters, distances }: RoutingOptions,
  before?: OspfState,
): OspfState {
  const speakers = [...nodes.values()].filter(
    // Without an id, which looks like an IPv4 address in both versions, a router does not take part.
    (node) => settingsOf(node, family) && (family === 4 || routerIdOf(node, family) !== NO_ID),
  );
  if (before && stillTheSame(speakers, before, layer2, speedOf, family)) return before;
  const interfaces = speakers.flatMap((node) => ospfInterfacesOf(node, layer2, speedOf, family));
  if (!interfaces.length)
    return { speakers, routes: new Map(), routerIds: new Map(), interfaces, adjacencies: [], externals: [] };
  const routerIds = new Map(speakers.map((node) => [node.instance.id, routerIdOf(node, family)]));
  const adjacencies = adjacenciesOf(interfaces, routerIds);
  const externals = speakers.flatMap((node) => externalsOf(node, family));
  const state = { speakers, routerIds, interfaces, adjacencies, externals };
  if (before && sameDatabase(state, before)) return { ...state, routes: before.routes };
  const database = new Database({ ...state, family, borderRouters, distance: distances.ospf });
  return { ...state, routes: new Map(speakers.map((node) => [node.instance.id, database.routesOf(node)])) };
}

/** Whether nothing that routers look at has changed: their interfaces, who is on their wires, and how fast these are. */
function stillTheSame(
  speakers: readonly Node[],
  before: OspfState,
  layer2: DataLink,
  speedOf: (interfaceState: InterfaceState) => number,
  family: Family,
): boolean {
  return (
    speakers.length === before.speakers.length &&
    speakers.every((node, at) => {
      const old = before.speakers[at]!;
      return node.instance === old.instance && node.interfaceStates === old.interfaceStates && node.table === old.table;
    }) &&
    before.interfaces.every(
      ({ interfaceState, node, cost, domain }) =>
        domain === (interfaceState.point === null ? null : layer2.domainOf(interfaceState.point)) &&
        cost === costOf(node, interfaceState, speedOf, family),
    )
  );
}

/** Whether all routers tell the same: the same interfaces, neighbours and routes from elsewhere. */
function sameDatabase(first: Omit<OspfState, 'routes'>, second: Omit<OspfState, 'routes'>): boolean {
  const sameFace = (a: OspfInterface, b: OspfInterface): boolean =>
    a.interfaceState === b.interfaceState &&
    a.cost === b.cost &&
    a.area === b.area &&
    a.node.instance.settings === b.node.instance.settings;
  return (
    first.interfaces.length === second.interfaces.length &&
    first.interfaces.every((ospfInterface, at) => sameFace(ospfInterface, second.interfaces[at]!)) &&
    first.adjacencies.length === second.adjacencies.length &&
    first.adjacencies.every(
      ({ a, b }, at) => sameFace(a, second.adjacencies[at]!.a) && sameFace(b, second.adjacencies[at]!.b),
    ) &&
    first.externals.length === second.externals.length &&
    first.externals.every(({ by, prefix, metric, type }, at) => {
      const there = second.externals[at]!;
      const isSame = metric === there.metric && type === there.type && samePrefix(prefix, there.prefix);
      return isSame && by.instance.id === there.by.instance.id;
    })
  );
}

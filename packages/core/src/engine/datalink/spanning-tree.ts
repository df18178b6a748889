import { type Instance, macOf, type Reason } from '../devices';
import { portId } from '../physical';
import { type BridgePort, type Segments } from './segments';
import { UnionFind } from './union-find';

/**
 * What a port does in a tree (IEEE 802.1Q-2018 §13.12): root and designated ports forward; alternate and backup ports
 * discard what would close a loop; a guarded port discards because its guard forbids what it hears.
 */
export type PortRoleInTree = 'root' | 'designated' | 'alternate' | 'backup' | 'guarded';

export interface TreePort {
  readonly instance: string;
  readonly port: string;
  readonly role: PortRoleInTree;
  readonly cost: number;
}
export interface TreeBridge {
  readonly instance: string;
  readonly priority: number;
  readonly mac: string;
  /** The instance at the root of the tree; the bridge itself where it is the root. */
  readonly root: string;
  readonly rootCost: number;
  readonly rootPort: string | null;
}
/** One tree: that of all VLANs, or of those for which the bridges have a priority of their own. */
export interface Tree {
  /** VLANs that bridges name; empty for the tree of all others. */
  readonly vlans: readonly number[];
  readonly bridges: ReadonlyMap<string, TreeBridge>;
  /** By `portId`. */
  readonly ports: ReadonlyMap<string, TreePort>;
  /** Ports that discard frames, by `portId`. */
  readonly discarding: ReadonlySet<string>;
}

export interface SpanningTree {
  /** The tree of all VLANs that nobody names comes first. */
  readonly trees: readonly Tree[];
  /** The tree that a VLAN follows. */
  treeOf(vlan: number): Tree;
  /** Whether a port of a bridge passes frames of a VLAN on. Ports of bridges that take no part always do. */
  forwards(instance: string, port: string, vlan: number): boolean;
  readonly reasons: readonly Reason[];
}

export const DEFAULT_BRIDGE_PRIORITY = 32768;
const DEFAULT_PORT_PRIORITY = 128;

/** Whether a device takes part in the spanning tree: switches do unless they are told not to, others when told to. */
export const takesPart = ({ model, settings }: Instance): boolean =>
  model.bridges === 'vlan' && (settings.spanningTree?.on ?? model.class === 'intermediary');

/** Port costs by speed in Mb/s: the short ones of IEEE 802.1D-1998 table 8-5, the long ones of 802.1Q-2018 table 13-4. */
function costOf({ instance, port, speedMbps }: BridgePort): number {
  const set = port.config.stp?.cost;
  if (set !== undefined) return set;
  const speed = Math.max(speedMbps, 1);
  if (instance.settings.spanningTree?.longCosts) return Math.max(1, Math.floor(20_000_000 / speed));
  if (speed >= 10_000) return 2;
  if (speed >= 1000) return 4;
  if (speed >= 100) return 19;
  return speed >= 10 ? 100 : 250;
}

/** A priority vector (802.1Q-2018 §13.10), better when earlier in order. */
interface Vector {
  root: string;
  cost: number;
  bridge: string;
  /** Port of the sender as "priority number", as text that sorts. */
  port: string;
}
const compare = (a: Vector, b: Vector): number =>
  order(a.root, b.root) || a.cost - b.cost || order(a.bridge, b.bridge) || order(a.port, b.port);
const order = (a: string, b: string): number => (a < b ? -1 : a > b ? 1 : 0);

/** One port as the trees see it: on a segment that hubs and bridges without spanning tree pass on. */
class Sender {
  readonly key: string;
  readonly bridge: string;
  private knownCost: number | undefined;
  private knownName: string | undefined;

  constructor(
    readonly from: BridgePort,
    readonly segment: number,
  ) {
    this.bridge = from.instance.id;
    this.key = portId(this.bridge, from.port.key);
  }

  /** Asked for where several ports meet: most are alone. */
  get cost(): number {
    return (this.knownCost ??= costOf(this.from));
  }
  /** "priority number", as text that sorts. */
  get portName(): string {
    const { port, number } = this.from;
    return (this.knownName ??= `${padded(port.config.stp?.priority ?? DEFAULT_PORT_PRIORITY)} ${padded(number)}`);
  }
}

export function spanningTree(segments: Segments): SpanningTree {
  const senders = sendersOf(segments);
  const shut = guardedByBpdus(senders);
  const live = senders.filter((sender) => !shut.includes(sender));
  const named = namedVlans(live);
  const trees = [treeFor([], live, shut), ...named.map((vlans) => treeFor(vlans, live, shut))];
  const byVlan = new Map(trees.flatMap((tree) => tree.vlans.map((vlan) => [vlan, tree])));
  const treeOf = (vlan: number): Tree => byVlan.get(vlan) ?? trees[0]!;
  return {
    trees,
    treeOf,
    forwards: (instance, port, vlan) => {
      const { discarding } = treeOf(vlan);
      return !discarding.size || !discarding.has(portId(instance, port));
    },
    reasons: contested(senders).flatMap(({ key, from }): Reason[] => {
      const at = { device: from.instance.id, port: from.port.key };
      if (shut.some((sender) => sender.key === key))
        return [
          {
            code: 'PORT_GUARDED',
            text: `${from.instance.name} ${from.port.key} is shut by its guard: another switch takes part in the spanning tree there.`,
            at,
          },
        ];
      return trees.some((tree) => tree.ports.get(key)?.role === 'guarded')
        ? [
            {
              code: 'PORT_GUARDED',
              text: `${from.instance.name} ${from.port.key} passes nothing on: its guard forbids that the root of the spanning tree lies behind it.`,
              at,
            },
          ]
        : [];
    }),
  };
}

function sendersOf({ bridgePorts }: Segments): Sender[] {
  const sets = new UnionFind();
  const numbers = new Map<string, number>();
  const numberOf = (name: string): number => {
    let at = numbers.get(name);
    if (at === undefined) numbers.set(name, (at = sets.add()));
    return at;
  };
  for (const { instance, segment } of bridgePorts)
    if (!takesPart(instance)) sets.union(numberOf(`bridge ${instance.id}`), numberOf(segment));
    else numberOf(segment);
  return bridgePorts
    .filter(({ instance }) => takesPart(instance))
    .map((from) => new Sender(from, sets.find(numberOf(from.segment))));
}
const padded = (number: number): string => String(number).padStart(5, '0');

/** Ports that are shut because they must not hear of another bridge, and do. */
const guardedByBpdus = (senders: readonly Sender[]): Sender[] =>
  contested(senders).filter(({ from }) => from.port.config.stp?.bpduGuard);

/** Ports that are not alone on their segment. */
function contested(senders: readonly Sender[]): Sender[] {
  const onSegment = new Map<number, number>();
  for (const { segment } of senders) onSegment.set(segment, (onSegment.get(segment) ?? 0) + 1);
  return senders.filter(({ segment }) => onSegment.get(segment)! > 1);
}

/** VLANs for which some bridge has a priority of its own, those that all bridges treat alike together. */
function namedVlans(senders: readonly Sender[]): number[][] {
  const bridges = [...new Map(senders.map(({ from }) => [from.instance.id, from.instance])).values()];
  const vlans = new Set(
    bridges.flatMap((bridge) => (bridge.settings.spanningTree?.instances ?? []).flatMap((it) => it.vlans)),
  );
  const alike = new Map<string, number[]>();
  for (const vlan of [...vlans].sort((a, b) => a - b)) {
    const key = bridges.map((bridge) => priorityOf(bridge, vlan)).join();
    alike.set(key, [...(alike.get(key) ?? []), vlan]);
  }
  return [...alike.values()];
}
function priorityOf({ settings: { spanningTree: set } }: Instance, vlan: number | undefined): number {
  const special = vlan === undefined ? undefined : set?.instances?.find(({ vlans }) => vlans.includes(vlan));
  return special?.priority ?? set?.priority ?? DEFAULT_BRIDGE_PRIORITY;
}

/**
 * The tree that the exchange of priority vectors settles in. Every round computes all vectors afresh from those of the
 * round before; no bridge holds on to what it once heard, so that a round without change is the end.
 */
function treeFor(vlans: readonly number[], senders: readonly Sender[], shut: readonly Sender[]): Tree {
  const bySegment = new Map<number, Sender[]>();
  for (const sender of senders) put(bySegment, sender.segment, sender);
  // A port that is alone on its segment hears nobody: it is designated, and no concern of the others.
  for (const [segment, list] of bySegment) if (list.length === 1) bySegment.delete(segment);
  const byBridge = new Map<string, Sender[]>(senders.map((sender) => [sender.bridge, []]));
  for (const list of bySegment.values()) for (const sender of list) byBridge.get(sender.bridge)!.push(sender);
  const instances = new Map(senders.map(({ bridge, from }) => [bridge, from.instance]));
  const names = new Map(
    [...instances].map(([id, instance]) => [id, `${padded(priorityOf(instance, vlans[0]))} ${macOf(id)} ${id}`]),
  );
  /** What each bridge knows of the root, and by which port. */
  let known = new Map<string, { vector: Vector; by: Sender | null }>();
  for (const id of byBridge.keys()) known.set(id, { vector: itself(names.get(id)!), by: null });
  const offer = (sender: Sender): Vector => {
    const { root, cost } = known.get(sender.bridge)!.vector;
    return { root, cost, bridge: names.get(sender.bridge)!, port: sender.portName };
  };
  let best = new Map<number, Sender>();
  for (let round = 0; round < byBridge.size + 3; round++) {
    best = new Map();
    for (const [segment, list] of bySegment)
      for (const sender of list) {
        const so = best.get(segment);
        if (!so || compare(offer(sender), offer(so)) < 0) best.set(segment, sender);
      }
    const next: typeof known = new Map();
    let changed = false;
    for (const [id, ports] of byBridge) {
      let heard: { vector: Vector; by: Sender | null; own: string } = {
        vector: itself(names.get(id)!),
        by: null,
        own: '',
      };
      for (const port of ports) {
        const sender = best.get(port.segment)!;
        if (sender.bridge === id || port.from.port.config.stp?.rootGuard) continue;
        const said = offer(sender);
        const vector = { ...said, cost: said.cost + port.cost };
        const by = compare(vector, heard.vector) || order(port.portName, heard.own);
        if (by < 0) heard = { vector, by: port, own: port.portName };
      }
      next.set(id, heard);
      const before = known.get(id)!;
      if (before.by !== heard.by || compare(before.vector, heard.vector)) changed = true;
    }
    known = next;
    if (!changed) break;
  }
  const idOf = new Map([...names].map(([id, name]) => [name, id]));
  const bridges = new Map(
    [...known].map(([id, { vector, by }]): [string, TreeBridge] => [
      id,
      {
        instance: id,
        priority: priorityOf(instances.get(id)!, vlans[0]),
        mac: macOf(id),
        root: idOf.get(vector.root)!,
        rootCost: by ? vector.cost : 0,
        rootPort: by?.from.port.key ?? null,
      },
    ]),
  );
  const roleOf = (port: Sender): PortRoleInTree => {
    const sender = best.get(port.segment) ?? port;
    if (sender === port) return 'designated';
    if (known.get(port.bridge)!.by === port) return 'root';
    if (sender.bridge === port.bridge) return 'backup';
    return port.from.port.config.stp?.rootGuard ? 'guarded' : 'alternate';
  };
  const discarding = new Set(shut.map((sender) => sender.key));
  for (const list of bySegment.values())
    for (const sender of list) if (!PASSING.has(roleOf(sender))) discarding.add(sender.key);
  let ports: Map<string, TreePort> | null = null;
  const allPorts = (): Map<string, TreePort> => {
    const entry = (sender: Sender, role: PortRoleInTree): [string, TreePort] => [
      sender.key,
      { instance: sender.from.instance.id, port: sender.from.port.key, role, cost: sender.cost },
    ];
    return new Map([
      ...senders.map((sender) => entry(sender, roleOf(sender))),
      ...shut.map((sender) => entry(sender, 'guarded')),
    ]);
  };
  return {
    vlans,
    bridges,
    discarding,
    // Most ask only who discards.
    get ports() {
      return (ports ??= allPorts());
    },
  };
}
const PASSING: ReadonlySet<PortRoleInTree> = new Set(['root', 'designated']);
const itself = (name: string): Vector => ({ root: name, cost: 0, bridge: name, port: '' });
function put<K, V>(map: Map<K, V[]>, key: K, nullable: V): void {
  const list = map.get(key);
  if (list) list.push(nullable);
  else map.set(key, [nullable]);
}

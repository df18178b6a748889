import { type Address, sameAddress } from '../../address';
import { Distinctions, classKey, standsOut } from './classes';
import { Destinations, type ForwardingView, type Reachability } from './destinations';
import { type Target, lentTargets } from './lent-targets';
import { type ClassNumbers, VERDICTS, Verdicts, codeOf, probeKey } from './verdicts';
import { forwards } from '../devices';
import { numbersOf, type Node, numberOf } from '../network';
import { type Layers, type Answer, ECHO, type Probe, type Trace, trace } from '../forwarding';

export { type Reachability } from './destinations';
export { type Target } from './lent-targets';

/** How many pairs of a device and an address of another one are answered how. */
export type Tally = Record<Answer, number>;

/** Devices that are alike for every packet. */
interface DeviceClass extends ClassNumbers {
  readonly key: string;
  readonly members: string[];
  /** How many addresses each has. */
  readonly slots: number;
}

/**
 * Who reaches whom, worked out once for each pair of classes: a class by the addresses of classes, never device by device.
 * After an edit that concerns hosts only, what others know of one another is taken from before.
 */
export class ReachGrid {
  // Of this drawing alone, made with it.
  private readonly classes = new Map<string, DeviceClass>();
  private readonly classOf = new Map<string, DeviceClass>();
  private readonly distinctions: Distinctions;

  // Shared with drawings between which lie edits of hosts: filled when somebody asks, never emptied, left behind by any
  // other edit.
  private readonly verdicts: Verdicts;
  private readonly destinations: Destinations;

  // Of this drawing alone, filled when somebody asks: gone with it.
  /** By the number of who asks, the slot that is asked for and what is asked with. */
  private readonly traces = new Map<string, Trace>();
  private readonly addresses = new Map<string, readonly Address[]>();
  private allTargets: readonly Target[] | null = null;
  /** By the place of a target among all. */
  private slots: readonly { readonly to: DeviceClass; readonly slot: number | null }[] | null = null;
  /** The first two devices of each class, that are asked for it: the second where it is asked about itself. */
  private readonly standIns: [StandIn[], StandIn[]] = [[], []];

  constructor(
    private readonly layers: Layers,
    before?: ReachGrid,
  ) {
    this.distinctions = new Distinctions(layers.layer3.nodes);
    const edit = before ? this.editOf(before) : null;
    this.verdicts = edit ? before!.verdicts : new Verdicts();
    this.destinations = new Destinations(
      layers,
      edit ? { known: before!.destinations, without: edit.addresses } : undefined,
    );
    // Those that stay what they were come first: whoever joins a class of theirs is answered like them.
    const nodes = [...layers.layer3.nodes.values()];
    const stays = ({ instance: { id } }: Node): boolean => edit !== null && !edit.devices.has(id);
    for (const node of nodes.filter(stays)) {
      const old = before!.classOf.get(node.instance.id)!;
      this.join(node, old.key, old);
    }
    const keyBefore = before && this.keysBefore(before);
    for (const node of nodes)
      if (!stays(node)) this.join(node, keyBefore?.(node) ?? classKey(layers, node, this.distinctions));
  }

  /** The key that a device had, where nothing that it is made of has changed; null where anything may have. */
  private keysBefore(before: ReachGrid): ((node: Node) => string | null) | null {
    const [now, old] = [this.layers, before.layers];
    if (now.layer2.lasting.graph !== old.layer2.lasting.graph) return null;
    if (now.layer3.leases.size || old.layer3.leases.size || !this.distinctions.holdsLike(before.distinctions))
      return null;
    return (node) => {
      const known = old.layer3.nodes.get(node.instance.id) === node;
      return known &&
        standsOut(now.layer3, node, this.distinctions) === standsOut(old.layer3, node, before.distinctions)
        ? before.classOf.get(node.instance.id)!.key
        : null;
    };
  }

  private join({ instance: { id }, interfaceStates }: Node, key: string, old?: DeviceClass): void {
    let found = this.classes.get(key);
    if (!found) {
      const slots = interfaceStates.reduce((sum, interfaceState) => sum + interfaceState.addresses.length, 0);
      found = old ? { ...old, members: [] } : { key, members: [], slots, ...this.verdicts.add(slots) };
      this.classes.set(key, found);
    }
    found.members.push(id);
    this.classOf.set(id, found);
  }

  /** What an edit concerns, if it is hosts and their addresses only; null where anything may be different. */
  private editOf(before: ReachGrid): Edit | null {
    const { layer2, layer3 } = this.layers;
    const { layer2: old2, layer3: old3 } = before.layers;
    if (before.verdicts.isWorn(before.classes.size)) return null;
    if (!this.distinctions.equals(before.distinctions) || !sameOneWay(layer2.oneWay, old2.oneWay)) return null;
    if (layer2.storms.size || old2.storms.size) return null;
    if (layer2.bundles.doubtful.size || old2.bundles.doubtful.size) return null;
    const devices = new Set<string>();
    const addresses = new Set<number | bigint>();
    const touch = (node: Node | undefined): boolean => {
      if (!node) return true;
      if (!isLeaf(node)) return false;
      for (const interfaceState of node.interfaceStates)
        for (const address of [
          ...interfaceState.addresses.map((on) => on.address),
          ...(interfaceState.linkLocal ? [interfaceState.linkLocal] : []),
        ]) {
          if (this.distinctions.isSingled(address)) return false;
          addresses.add(numberOf(address));
          for (const number of numbersOf(interfaceState))
            for (const owners of [layer3.owners.get(number), old3.owners.get(number)])
              for (const owner of owners ?? []) devices.add(owner.instance);
        }
      devices.add(node.instance.id);
      return true;
    };
    for (const [id, node] of layer3.nodes) {
      const old = old3.nodes.get(id);
      if (!old || !isAlike(node, old)) {
        if (!touch(node) || !touch(old)) return null;
      } else if (
        node.interfaceStates.some(({ point }) => point !== null && layer2.domainOf(point) !== old2.domainOf(point))
      )
        return null;
    }
    for (const [id, old] of old3.nodes) if (!layer3.nodes.has(id) && !touch(old)) return null;
    // Who has one of these addresses on an interface that is down is nobody's owner, and yet may be asked for.
    for (const { nodes } of [layer3, old3])
      for (const node of nodes.values())
        if (
          node.interfaceStates.some(
            ({ up, addresses: own }) => !up && own.some(({ address }) => addresses.has(numberOf(address))),
          )
        ) {
          if (!isLeaf(node)) return null;
          devices.add(node.instance.id);
        }
    return { devices, addresses };
  }

  /** Every address of every device, sorted by device; then those that virtual routers and translations answer for. */
  targets(): readonly Target[] {
    this.allTargets ??= [
      ...[...this.layers.layer3.nodes.values()].flatMap((node) =>
        node.interfaceStates.flatMap((interfaceState) =>
          interfaceState.addresses.map(({ address }) => ({ device: node.instance.id, address })),
        ),
      ),
      ...lentTargets(this.layers),
    ];
    return this.allTargets;
  }

  /** How many classes the devices fall into that have an address. */
  get classCount(): number {
    return [...this.classes.values()].filter((reachClass) => reachClass.slots).length;
  }

  /**
   * The answer for a pair. The trace is that of a pair of the same two classes: its answer, reason code and place hold
   * for this pair too, its names and addresses may be those of the others.
   */
  ask(from: string, target: Target, probe: Probe = ECHO): Trace {
    const slot = this.slotOf(target) ?? `${target.device} ${numberOf(target.address)}`;
    const key = `${this.classOf.get(from)!.number} ${slot} ${probeKey(probe)}`;
    let found = this.traces.get(key);
    if (!found) this.traces.set(key, (found = trace(this.layers, from, target.device, target.address, probe)));
    return found;
  }

  /** Only the answer for a pair: put together from where packets end if nobody on the way looks into them, else traced. */
  answer(from: string, target: Target, probe: Probe = ECHO): Reachability {
    const slot = this.slotOf(target);
    if (slot === null) return VERDICTS[codeOf(this.ask(from, target, probe))]!;
    const [of, to] = [this.classOf.get(from)!, this.classOf.get(target.device)!];
    const row = this.verdicts.rowOf(of, probe);
    return VERDICTS[row[slot] || this.verdict(row, of, to, slot - to.slot, probe)]!;
  }

  /** Answers to one device, by the place of a target among all: quicker than asking for each. */
  answersTo(from: string, probe: Probe = ECHO): (at: number) => Reachability {
    const of = this.classOf.get(from)!;
    const row = this.verdicts.rowOf(of, probe);
    const slots = this.targetSlots();
    return (at) => {
      const { slot, to } = slots[at]!;
      if (slot === null) return VERDICTS[codeOf(this.ask(from, this.targets()[at]!, probe))]!;
      return VERDICTS[row[slot] || this.verdict(row, of, to, slot - to.slot, probe)]!;
    };
  }

  private targetSlots() {
    this.slots ??= this.targets().map((target) => ({
      to: this.classOf.get(target.device)!,
      slot: this.slotOf(target),
    }));
    return this.slots;
  }

  /** All pairs at once, a class at a time. */
  tally(probe: Probe = ECHO): Tally {
    const counts = new Float64Array(VERDICTS.length);
    const all = [...this.classes.values()].filter((reachClass) => reachClass.slots);
    for (const of of all) {
      const row = this.verdicts.rowOf(of, probe);
      for (const to of all) {
        const pairs = of.members.length * (to.members.length - (of === to ? 1 : 0));
        if (!pairs) continue;
        for (let at = 0; at < to.slots; at++)
          counts[row[to.slot + at] || this.verdict(row, of, to, at, probe)]! += pairs;
      }
    }
    const sum: Tally = { yes: 0, no: 0, uncertain: 0 };
    for (const [code, verdict] of VERDICTS.entries()) if (verdict) sum[verdict.answer] += counts[code]!;
    return sum;
  }

  private addressesOf(device: string): readonly Address[] {
    let found = this.addresses.get(device);
    if (!found) {
      const { interfaceStates } = this.layers.layer3.nodes.get(device)!;
      found = interfaceStates.flatMap((interfaceState) => interfaceState.addresses.map((on) => on.address));
      this.addresses.set(device, found);
    }
    return found;
  }

  /** The number of an address of a class; null where it is none that interfaces have. */
  private slotOf({ device, address }: Target): number | null {
    const at = this.addressesOf(device).findIndex(
      (candidate) => candidate === address || sameAddress(candidate, address),
    );
    return at < 0 ? null : this.classOf.get(device)!.slot + at;
  }

  /** Works out what a class gets from an address of another: of any other device, where both are the same class. */
  private verdict(row: Uint8Array, of: DeviceClass, to: DeviceClass, at: number, probe: Probe): number {
    const from = this.standIn(of, 0);
    const other = of === to ? this.standIn(to, 1) : this.standIn(to, 0);
    const found =
      this.destinations.verdict(from.view, other.view, other.places[at]!) ??
      trace(this.layers, from.device, other.device, this.addressesOf(other.device)[at]!, probe);
    return (row[to.slot + at] = codeOf(found));
  }

  private standIn({ number, members }: DeviceClass, at: 0 | 1): StandIn {
    let found = this.standIns[at][number];
    if (!found) {
      const device = members[at] ?? members[0]!;
      found = {
        device,
        view: this.destinations.viewOf(device),
        places: this.addressesOf(device).map(this.destinations.placeOf),
      };
      this.standIns[at][number] = found;
    }
    return found;
  }
}

/** A device that is asked for its class, with the places of its addresses. */
interface StandIn {
  readonly device: string;
  readonly view: ForwardingView;
  readonly places: readonly number[];
}

/** Devices and addresses that an edit concerns. */
interface Edit {
  readonly devices: ReadonlySet<string>;
  readonly addresses: ReadonlySet<number | bigint>;
}

/** Whether no packets but its own go through a device, and nobody is asked in its place. */
const isLeaf = ({ instance, interfaceStates }: Node): boolean =>
  !forwards(instance, 4) &&
  !forwards(instance, 6) &&
  !instance.settings.nat?.length &&
  !instance.settings.firewall &&
  interfaceStates.every((interfaceState) => !interfaceState.virtual?.length);

/** Whether a device does the same with every packet as it did. */
const isAlike = (node: Node, old: Node): boolean =>
  node.interfaceStates === old.interfaceStates &&
  node.table === old.table &&
  node.instance.settings === old.instance.settings &&
  node.instance.model === old.instance.model;

const sameOneWay = (
  first: ReadonlyMap<number, ReadonlySet<number>>,
  second: ReadonlyMap<number, ReadonlySet<number>>,
): boolean =>
  first.size === second.size &&
  [...first].every(
    ([from, to]) => second.get(from)?.size === to.size && [...to].every((at) => second.get(from)!.has(at)),
  );

import { contains, formatAddress, formatInterfaceAddress, parseInterfaceAddress, sameAddress } from '../../address';
import { portUses } from '../../engine';
import { type DrawnAddress, type PlanNode, drawnAddresses, gatewayOf, schemesOf } from '../../plan';
import { type Command, type Interface, entriesById, entryOf } from '../../topology';
import { changeInterface, portInterface } from '../change';
import { type VirtualPlace, addVirtualInterface, virtualInterfaceKey } from '../interfaces';
import { type PlanOfLab, NextAddresses } from '../next-addresses';
import type { Draft } from './draft';
import { createVlan } from './uplink';

/** Where a gateway can be: at a port, or at an interface of a VLAN. */
type GatewayPlace = Extract<VirtualPlace, { kind: 'svi' | 'sub' }> | { kind: 'port'; port: string };

/** Whether a router is the gateway of a subnet now: newly, as before, not, or not since its port carries another subnet. */
export type Outcome = 'given' | 'there' | 'elsewhere' | 'crowded';

/** The router that gateways are put at. */
export class GatewayRouter {
  /** All addresses of the drawing, with those that are given here. */
  readonly drawn: DrawnAddress[];
  private readonly free: NextAddresses;

  /** @param port what its cable to the switch is plugged into; null where there is none */
  constructor(
    readonly draft: Draft,
    readonly plan: PlanOfLab,
    readonly id: string,
    private readonly port: string | null,
  ) {
    this.drawn = drawnAddresses(draft.topology);
    this.free = new NextAddresses(draft.topology, plan);
  }

  get name(): string {
    return this.draft.name(this.id);
  }

  /** Where the gateway of a subnet is; a sentence where it has no place. */
  place({ block }: PlanNode): GatewayPlace | string {
    const { draft, id, name } = this;
    if (draft.model(id).bridges === 'vlan') {
      if (block.vlan === undefined) return `${block.name} has no VLAN in the plan: ${name} needs one for its gateway.`;
      return { kind: 'svi', vlan: block.vlan };
    }
    const own =
      this.port ??
      portUses(draft.topology, id).find(({ facts, free }) => free && facts.connector === 'copper')?.facts.key;
    if (own === undefined) return `${name} has no free port for the gateway of ${block.name}.`;
    return block.vlan === undefined ? { kind: 'port', port: own } : { kind: 'sub', port: own, vlan: block.vlan };
  }

  /** The interface that is, or will be, at a place: its key and what is set there. */
  interfaceAt(on: GatewayPlace): [string, Interface] {
    const device = this.draft.topology.devices[this.id]!;
    if (on.kind === 'port') return portInterface(device, on.port);
    const found = entriesById(device.interfaces).find(
      ([, { on: there }]) =>
        there.kind === on.kind &&
        there.vlan === on.vlan &&
        (on.kind === 'svi' || (there.kind === 'sub' && there.port === on.port)),
    );
    return found ?? [virtualInterfaceKey(device, on), { on }];
  }

  /** A change of an interface, as a command. */
  change(on: GatewayPlace, key: string, now: Interface, set: Partial<Interface>): Command {
    return changeInterface(this.draft.topology, this.id, key, now, set, on.kind !== 'port');
  }

  /** Puts the gateway of a subnet where it belongs, in both families. */
  give(node: PlanNode): Outcome {
    const { draft, id } = this;
    const on = this.place(node);
    if (typeof on === 'string') {
      draft.left.push(on);
      return 'elsewhere';
    }
    if (on.kind === 'svi') createVlan(draft, id, on.vlan, node.block.name);
    const wanted = this.wanted(node);
    if (!wanted) return 'elsewhere';
    const { own, shared } = wanted;
    const [key, now] = this.interfaceAt(on);
    const others = [
      ...(own[4] === null ? [] : (now.v4?.addresses ?? [])),
      ...(own[6] === null ? [] : (now.v6?.addresses ?? [])),
    ];
    if (on.kind === 'port' && others.length) {
      draft.left.push(
        `${this.name} ${on.port} carries ${others[0]} already: give ${node.block.name} a VLAN in the plan.`,
      );
      return 'crowded';
    }
    if (on.kind !== 'port' && !entryOf(draft.topology.devices[id]!.interfaces, key)) {
      const added = addVirtualInterface(draft.topology.devices[id]!, id, on);
      if (added) draft.run(added.command);
    }
    const groups = now.vrrp ?? [];
    const isShared = shared.length > 0 && !groups.some(({ addresses }) => addresses.includes(shared[0]!));
    if (!own[4] && !own[6] && !isShared) return 'there';
    const isDone = draft.run(
      this.change(on, key, now, {
        ...(own[4] && { v4: { addresses: [...(now.v4?.addresses ?? []), own[4]] } }),
        ...(own[6] && { v6: { ...now.v6, addresses: [...(now.v6?.addresses ?? []), own[6]] } }),
        ...(isShared && { vrrp: [...groups, { group: groups.length + 1, addresses: shared }] }),
      }),
    );
    if (!isDone) return 'elsewhere';
    for (const text of [own[4], own[6]]) if (text) this.keep(text, key);
    return 'given';
  }

  /** The addresses that it lacks to be the gateway of a subnet, its own and the shared ones; null where it cannot be. */
  private wanted({ block, space }: PlanNode): { own: Record<4 | 6, string | null>; shared: string[] } | null {
    const { draft, plan } = this;
    const { gateways } = schemesOf(plan.brief);
    const shared: string[] = [];
    const own: Record<4 | 6, string | null> = { 4: null, 6: null };
    let isThere = false;
    for (const family of [4, 6] as const) {
      const prefix = space[family];
      const gateway = prefix && gatewayOf(block, prefix, plan.brief);
      if (!prefix || !gateway) continue;
      const text = formatAddress(gateway);
      const holder = this.drawn.find(({ on: has }) => sameAddress(has.address, gateway));
      if (holder && holder.device !== this.id) {
        draft.left.push(`${text}, the gateway of ${block.name}, is at ${holder.name} already.`);
        continue;
      }
      isThere = true;
      // Of a virtual router each has an address of its own, and the gateway is what they share (RFC 9568).
      if (gateways > 1) {
        shared.push(text);
        const has = this.drawn.find(({ device, on: there }) => device === this.id && contains(prefix, there.address));
        if (!has) own[family] = this.free.take(prefix);
      } else if (!holder) own[family] = formatInterfaceAddress({ address: gateway, length: prefix.length });
    }
    if (!isThere && !space[4] && !space[6]) draft.left.push(`${block.name} has no prefix that can be read.`);
    return isThere ? { own, shared } : null;
  }

  private keep(text: string, key: string): void {
    const on = parseInterfaceAddress(text);
    const [device, name] = [this.id, this.name];
    const who = { device, member: null, name, site: undefined, interface: key, vlan: undefined, isRouter: true };
    if (on.ok) this.drawn.push({ ...who, on: on.value });
  }
}

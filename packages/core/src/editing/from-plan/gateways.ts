import { contains, formatAddress, formatInterfaceAddress } from '../../address';
import { portUses } from '../../engine';
import { type PlanNode, drawnAddresses, gatewayOf, schemesOf } from '../../plan';
import { type Interface, entriesById, entryOf } from '../../topology';
import { changeInterface, portInterface } from '../change';
import { type VirtualPlace, addVirtualInterface, virtualInterfaceKey } from '../interfaces';
import { type PlanOfLab, NextAddresses } from '../next-addresses';
import type { Draft } from './draft';
import { createVlan } from './uplink';

/** Where a gateway can be: at a port, or at an interface of a VLAN. */
type GatewayPlace = Extract<VirtualPlace, { kind: 'svi' | 'sub' }> | { kind: 'port'; port: string };

/** Where the gateway of a subnet is at a router; a sentence where it has no place. */
export function gatewayPlace(
  draft: Draft,
  router: string,
  port: string | null,
  { block }: PlanNode,
): GatewayPlace | string {
  if (draft.model(router).bridges === 'vlan') {
    if (block.vlan === undefined)
      return `${block.name} has no VLAN in the plan: ${draft.name(router)} needs one for its gateway.`;
    return { kind: 'svi', vlan: block.vlan };
  }
  const own =
    port ?? portUses(draft.topology, router).find(({ facts, free }) => free && facts.connector === 'copper')?.facts.key;
  if (own === undefined) return `${draft.name(router)} has no free port for the gateway of ${block.name}.`;
  return block.vlan === undefined ? { kind: 'port', port: own } : { kind: 'sub', port: own, vlan: block.vlan };
}

/** The interface of a router that is, or will be, at a place: its key and what is set there. */
export function interfaceAt(draft: Draft, router: string, on: GatewayPlace): [string, Interface] {
  const device = draft.topology.devices[router]!;
  if (on.kind === 'port') return portInterface(device, on.port);
  const found = entriesById(device.interfaces).find(
    ([, { on: there }]) =>
      there.kind === on.kind &&
      there.vlan === on.vlan &&
      (on.kind === 'svi' || (there.kind === 'sub' && there.port === on.port)),
  );
  return found ?? [virtualInterfaceKey(device, on), { on }];
}

/** Whether a router is the gateway of a subnet now: newly, as before, not, or not since its port carries another subnet. */
export type Outcome = 'given' | 'there' | 'elsewhere' | 'crowded';

/** Puts the gateway of a subnet where it belongs, in both families. */
export function giveGateway(
  draft: Draft,
  plan: PlanOfLab,
  router: string,
  port: string | null,
  node: PlanNode,
): Outcome {
  const on = gatewayPlace(draft, router, port, node);
  if (typeof on === 'string') {
    draft.left.push(on);
    return 'elsewhere';
  }
  if (on.kind === 'svi') createVlan(draft, router, on.vlan, node.block.name);
  const drawn = drawnAddresses(draft.topology);
  const free = new NextAddresses(draft.topology, plan);
  const { gateways } = schemesOf(plan.brief);
  const shared: string[] = [];
  const own: Record<4 | 6, string | null> = { 4: null, 6: null };
  let isThere = false;
  for (const family of [4, 6] as const) {
    const prefix = node.space[family];
    const gateway = prefix && gatewayOf(node.block, prefix, plan.brief);
    if (!prefix || !gateway) continue;
    const text = formatAddress(gateway);
    const holder = drawn.find(({ on: has }) => formatAddress(has.address) === text);
    if (holder && holder.device !== router) {
      draft.left.push(`${text}, the gateway of ${node.block.name}, is at ${holder.name} already.`);
      continue;
    }
    isThere = true;
    // Of a virtual router each has an address of its own, and the gateway is what they share (RFC 9568).
    if (gateways > 1) {
      shared.push(text);
      const has = drawn.find(({ device, on: there }) => device === router && contains(prefix, there.address));
      if (!has) own[family] = free.take(prefix);
    } else if (!holder) own[family] = formatInterfaceAddress({ address: gateway, length: prefix.length });
  }
  if (!isThere) {
    if (!node.space[4] && !node.space[6]) draft.left.push(`${node.block.name} has no prefix that can be read.`);
    return 'elsewhere';
  }
  const [key, now] = interfaceAt(draft, router, on);
  const others = [
    ...(own[4] === null ? [] : (now.v4?.addresses ?? [])),
    ...(own[6] === null ? [] : (now.v6?.addresses ?? [])),
  ];
  if (on.kind === 'port' && others.length) {
    draft.left.push(
      `${draft.name(router)} ${on.port} carries ${others[0]} already: give ${node.block.name} a VLAN in the plan.`,
    );
    return 'crowded';
  }
  if (on.kind !== 'port' && !entryOf(draft.topology.devices[router]!.interfaces, key)) {
    const added = addVirtualInterface(draft.topology.devices[router]!, router, on);
    if (added) draft.run(added.command);
  }
  const with4 = own[4] && { v4: { addresses: [...(now.v4?.addresses ?? []), own[4]] } };
  const with6 = own[6] && { v6: { ...now.v6, addresses: [...(now.v6?.addresses ?? []), own[6]] } };
  const groups = now.vrrp ?? [];
  const number = groups.length + 1;
  const isShared = shared.length > 0 && !groups.some(({ addresses }) => addresses.includes(shared[0]!));
  if (!own[4] && !own[6] && !isShared) return 'there';
  const isDone = draft.run(
    changeInterface(
      draft.topology,
      router,
      key,
      now,
      {
        ...with4,
        ...with6,
        ...(isShared && { vrrp: [...groups, { group: number, addresses: shared }] }),
      },
      on.kind !== 'port',
    ),
  );
  return isDone ? 'given' : 'elsewhere';
}

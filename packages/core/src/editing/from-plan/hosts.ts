import { portUses } from '../../engine';
import type { PlanNode } from '../../plan';
import { plural } from '../../plural';
import { entriesById } from '../../topology';
import { giveAddresses } from '../addressing';
import { cableBetween, hasFreePort } from '../cabling';
import { changeInterface, portInterface, switchedRole } from '../change';
import { putIntoVlan, setAutomatic } from '../configuring';
import type { PlanOfLab } from '../next-addresses';
import type { NewId } from '../place';
import type { Draft } from './draft';
import type { Addressing } from './wish';

/** Telephones of the same step that desks of a group are plugged into. */
export function phonesFor(
  draft: Draft,
  { brief }: PlanOfLab,
  { block }: PlanNode,
  devices: readonly string[],
  site?: string,
): string[] {
  if (!brief.groups?.find(({ id }) => id === block.group)?.needs?.includes('phones')) return [];
  return devices.filter((id) => draft.model(id).kind === 'phone' && draft.topology.devices[id]!.site === site);
}

/** New hosts of a subnet, each plugged in and its port in the VLAN. Those that find no port are taken away, which is told. */
export function hostsOf({
  draft,
  node,
  bridge,
  phones,
  ids,
  newId,
}: {
  draft: Draft;
  node: PlanNode;
  bridge: string;
  phones: readonly string[];
  ids: readonly string[];
  newId: NewId;
}): string[] {
  const plugged: string[] = [];
  for (const id of ids) {
    const phone = phones.find(
      (each) =>
        cableBetween(draft.topology, { device: id }, { device: each, port: 'd0' }) &&
        hasFreePort(draft.topology, { device: each }),
    );
    const to = phone ?? bridge;
    const link = hasFreePort(draft.topology, { device: to })
      ? cableBetween(draft.topology, { device: id }, { device: to })
      : null;
    if (!link) continue;
    draft.run({ kind: 'connect', id: newId('link'), link });
    plugged.push(id);
    const [own] = entriesById(draft.topology.links).flatMap(([, { a, b }]) =>
      [a, b].flatMap((end, side) => (end.device === bridge && [b, a][side]!.device === (phone ?? id) ? end.port : [])),
    );
    if (own !== undefined) portOfHost(draft, bridge, own, node, draft.model(id).kind === 'phone');
  }
  const out = ids.filter((id) => !plugged.includes(id));
  if (out.length) {
    draft.run({ kind: 'removeDevices', ids: out });
    draft.left.push(
      `${draft.name(bridge)} has no free port for ${plural(out.length, 'more host')} of ${node.block.name}: ${out.length === 1 ? 'it is' : 'they are'} not added.`,
    );
  }
  return plugged;
}

/** A port that a host of a subnet is plugged into is in its VLAN: of telephones in that for voice (IEEE 802.1Q, LLDP-MED). */
function portOfHost(draft: Draft, bridge: string, port: string, { block }: PlanNode, isPhone: boolean): void {
  if (block.vlan === undefined || draft.model(bridge).bridges !== 'vlan') return;
  if (!isPhone) return void draft.run(...putIntoVlan(draft.topology, bridge, [port], block.vlan, block.name));
  const now = switchedRole(draft.topology.devices[bridge]!, port);
  draft.run({
    kind: 'changePort',
    device: bridge,
    port,
    set: { role: { ...now, mode: 'access', voiceVlan: block.vlan } },
  });
}

/** Addresses of hosts: a lease and what they make of the router's advertisements, or fixed ones of the plan. */
export function address(
  draft: Draft,
  plan: PlanOfLab,
  node: PlanNode,
  hosts: readonly string[],
  addressing: Addressing,
): void {
  if (addressing === 'fixed') {
    const { commands, left } = giveAddresses(draft.topology, hosts, { kind: 'plan', plan, node });
    draft.run(...commands);
    if (left.length)
      draft.left.push(`${node.block.name} has no address left for ${left.map((id) => draft.name(id)).join(', ')}.`);
    return;
  }
  if (node.space[4]) draft.run(...setAutomatic(draft.topology, hosts).commands);
  if (!node.space[6]) return;
  const six = node.block.automatic === false ? ({ dhcp: 'stateful' } as const) : { slaac: true };
  for (const id of hosts) {
    const port = portUses(draft.topology, id).find(({ links, facts }) => links.length && facts.key !== 'd0')?.facts.key;
    if (port === undefined) continue;
    const [key, now] = portInterface(draft.topology.devices[id]!, port);
    draft.run(changeInterface(draft.topology, id, key, now, { v6: { ...now.v6, ...six } }));
  }
}

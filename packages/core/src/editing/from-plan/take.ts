import type { PlanNode } from '../../plan';
import { plural } from '../../plural';
import { type Command, type Topology, entryOf } from '../../topology';
import { namingScheme } from '../names';
import type { PlanOfLab } from '../next-addresses';
import { type NewId, type Position, addDevices } from '../place';
import { Draft, siteIn } from './draft';
import { type Outcome, GatewayRouter } from './gateways';
import { address, hostsOf, phonesFor } from './hosts';
import { givePools } from './pools';
import { Rows, belowOf } from './rows';
import { createVlan, uplink } from './uplink';
import type { PlanWish, Wanted } from './wish';

/** What became of it. */
export interface TakenFromPlan {
  commands: Command[];
  /** Sentences for what is done, and for what could not be. */
  done: string[];
  left: string[];
  /** The new devices. */
  devices: string[];
}

/**
 * Takes subnets of the plan into a drawing: their gateways at a router (as sub-interfaces of a trunk, or as interfaces of
 * VLANs where it is a switch), pools of addresses, and hosts that are cabled, in their VLAN and addressed. What stands
 * already is kept and completed. Pure.
 */
export function takeFromPlan(topology: Topology, plan: PlanOfLab, wish: PlanWish, newId: NewId): TakenFromPlan {
  const draft = new Draft(topology);
  const { tree } = plan;
  const nodes = wish.subnets.flatMap(({ node }) => tree.nodes.get(node) ?? []);
  const devices: string[] = [];
  const done: string[] = [];
  const site = siteIn(draft, nodes[0]?.block.site, newId);
  const add = (model: string, count: number, at: Position | null, where: string | undefined): string[] => {
    const added = addDevices(draft.topology, model, count, at, where, newId, namingScheme(plan.brief));
    if (!draft.run(...added.commands)) return [];
    devices.push(...added.ids);
    return added.ids;
  };
  const stand = (wanted: Wanted | null, below: string | null): string | null => {
    if (wanted === null) return null;
    if ('device' in wanted) return entryOf(draft.topology.devices, wanted.device) ? wanted.device : null;
    return add(wanted.model, 1, below === null ? null : belowOf(draft.topology, below), site)[0] ?? null;
  };
  const router = stand(wish.router, null);
  const bridge = stand(wish.switch, router) ?? (router !== null && draft.model(router).bridges ? router : null);

  const vlans = nodes.flatMap(({ block }) =>
    block.vlan === undefined ? [] : [{ vlan: block.vlan, name: block.name }],
  );
  if (bridge !== null) for (const { vlan, name } of vlans) createVlan(draft, bridge, vlan, name);
  const port =
    router === null
      ? null
      : uplink(
          draft,
          router,
          bridge,
          vlans.map(({ vlan }) => vlan),
          newId,
        );
  /** Subnets whose hosts would stand in another one, since neither has a VLAN. */
  const crowded = new Set<string>();
  if (router !== null) {
    const gateways = new GatewayRouter(draft, plan, router, port);
    const outcomes = nodes.map((node) => ({ node, outcome: gateways.give(node) }));
    const found = (...kinds: Outcome[]): PlanNode[] =>
      outcomes.flatMap(({ node, outcome }) => (kinds.includes(outcome) ? node : []));
    for (const { id } of found('crowded')) crowded.add(id);
    const given = found('given');
    if (given.length) done.push(`${gateways.name} is the gateway of ${listed(given)}`);
    const leased = wish.leases ? givePools(gateways, found('given', 'there')) : [];
    if (leased.length) done.push(`${gateways.name} gives leases for ${listed(leased)}`);
  }

  // Telephones come first: desks are plugged into them.
  const inOrder = wish.subnets.toSorted(
    (one, other) => Number(other.model === 'phone') - Number(one.model === 'phone'),
  );
  const rows = bridge === null ? null : new Rows(draft, bridge, inOrder);
  let untagged: string | null = null;
  for (const { node: id, count, model, addressing } of inOrder) {
    const node = tree.nodes.get(id);
    if (!node || count <= 0 || crowded.has(id)) continue;
    const { name, vlan } = node.block;
    if (bridge === null || !rows) {
      draft.left.push(`${name}: choose a switch that its hosts are plugged into.`);
      continue;
    }
    if (vlan === undefined && untagged !== null) {
      draft.left.push(`${name} has no VLAN in the plan: its hosts would stand in the subnet of ${untagged}.`);
      continue;
    }
    if (vlan === undefined) untagged = name;
    const where = siteIn(draft, node.block.site, newId) ?? site;
    const phones = phonesFor(draft, plan, node, devices, where);
    const ids: string[] = [];
    for (let nth = 0; nth < count; nth++) {
      const own = add(model, 1, rows.next(phones[nth], model === 'phone'), where);
      rows.after(own, phones[nth]);
      ids.push(...own);
    }
    rows.endGroup();
    const added = hostsOf({ draft, node, bridge, phones, ids, newId });
    if (!added.length) continue;
    const hosts = added.filter((host) => draft.model(host).class === 'end');
    address(draft, plan, node, hosts, addressing);
    const how = addressing === 'automatic' ? ', set to automatic' : ', with addresses of the plan';
    done.push(`${name}: ${plural(added.length, draft.model(added[0]!).name.toLowerCase())}${hosts.length ? how : ''}`);
  }
  return {
    commands: draft.commands,
    done,
    left: draft.left,
    devices: devices.filter((id) => draft.topology.devices[id]),
  };
}

const listed = (nodes: readonly PlanNode[]): string =>
  nodes.length > 3 ? plural(nodes.length, 'subnet') : nodes.map(({ block }) => block.name).join(', ');

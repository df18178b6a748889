import { type Prefix, contains, formatAddress, formatInterfaceAddress, formatPrefix, lastOf } from '../address';
import { tilesOf } from '../drawing';
import { portUses } from '../engine';
import {
  type PlanNode,
  VOICE,
  addressesIn,
  drawnAddresses,
  gatewayOf,
  isGivenOut,
  isSubnet,
  rangesIn,
  readRanges,
  schemesOf,
  subnetNeeds,
  isFor,
} from '../plan';
import { plural } from '../plural';
import {
  type Command,
  type Interface,
  type Model,
  type Settings,
  type Topology,
  applyCommand,
  entriesById,
  entryOf,
  modelOf,
} from '../topology';
import { giveAddresses } from './addressing';
import { cableBetween, hasFreePort } from './cabling';
import { changeInterface, portInterface, switchedRole } from './change';
import { makeTrunks, putIntoVlan, setAutomatic } from './configuring';
import { type VirtualPlace, addVirtualInterface, virtualInterfaceKey } from './interfaces';
import { namingScheme } from './names';
import { type PlanOfLab, NextAddresses } from './next-addresses';
import { type NewId, type Position, addDevices } from './place';

/** A device that stands in the drawing, or the model of a new one. */
export type Wanted = { device: string } | { model: string };

/** How new hosts get their addresses: from a server, or fixed ones of the plan. */
export type Addressing = 'automatic' | 'fixed';

/** What is taken from one subnet of the plan. */
export interface SubnetWish {
  /** The block of the plan. */
  node: string;
  /** So many new hosts of a model; 0 for none. */
  count: number;
  model: string;
  addressing: Addressing;
}

/** What is taken from the plan into the drawing, in one step. */
export interface PlanWish {
  subnets: readonly SubnetWish[];
  /** Where the gateways of the subnets are; null for nowhere. */
  router: Wanted | null;
  /** What hosts are plugged into; null for a router that is a switch as well. */
  switch: Wanted | null;
  /** Whether the router gives leases. */
  leases: boolean;
}

/** What became of it. */
export interface TakenFromPlan {
  commands: Command[];
  /** Sentences for what is done, and for what could not be. */
  done: string[];
  left: string[];
  /** The new devices. */
  devices: string[];
}

/** So far below one another stand router, switch and hosts, in pixels. */
const BELOW = 140;
/** Subnets are told apart by so much, in pixels. */
const BETWEEN_GROUPS = 64;
/** The room of a host with its gap, and how wide a row is at the most, in pixels. */
const HOST = 72;
const GAP = 24;
const MOST_ACROSS = 12 * HOST;

/** Subnets of the plan that can be taken into a drawing: those with hosts in them, in the order of the plan. */
export const subnetsOf = ({ tree }: PlanOfLab): PlanNode[] =>
  tree.order
    .map((id) => tree.nodes.get(id)!)
    .filter(
      (node) =>
        isSubnet(node) &&
        isGivenOut(node.block) &&
        (node.block.use ?? 'hosts') === 'hosts' &&
        (node.space[4] !== null || node.space[6] !== null),
    );

/** Devices of a drawing that gateways can stand at, and those that hosts can be plugged into; tiles of several are neither. */
export function standsFor(topology: Topology): { routers: string[]; switches: string[] } {
  const single = entriesById(topology.devices).flatMap(([id, device]) => {
    const model = modelOf(topology, device);
    return model && !device.members && (model.class === 'intermediary' || model.class === 'security')
      ? [{ id, model }]
      : [];
  });
  return {
    routers: single.flatMap(({ id, model }) => (model.forwards ? id : [])),
    switches: single.flatMap(({ id, model }) => (model.bridges ? id : [])),
  };
}

/** What is likely wanted of a subnet: a few of the hosts that its group still lacks, of the kind that its name tells. */
export function likelyWish(topology: Topology, { tree, brief }: PlanOfLab, node: PlanNode): SubnetWish {
  const need = subnetNeeds(brief).find((each) => isFor(node.block, each));
  const isRadio = need?.group?.needs?.includes('wireless') ?? false;
  const there = drawnAddresses(topology).filter(
    ({ isRouter, on }) => !isRouter && ([4, 6] as const).some((family) => isIn(node.space[family], on.address)),
  ).length;
  const wanted = isRadio
    ? (need?.accessPoints.now ?? 0)
    : (need?.group?.now ?? (isVoice(node) ? (need?.now.value ?? 1) - 1 : 0));
  return {
    node: node.id,
    count: Math.max(0, Math.min(isRadio ? 1 : 2, wanted - there)),
    model: isRadio ? 'access-point' : modelFor(node),
    addressing: hasPool(node, tree) || !SERVED.test(node.block.name) ? 'automatic' : 'fixed',
  };
}

/** Groups whose hosts are asked for by name, so that their addresses stay. */
const SERVED = /server|printer|infrastructure|management/i;
const isIn = (prefix: Prefix | null, address: Prefix | Parameters<typeof contains>[1]): boolean =>
  prefix !== null && address.family === prefix.family && contains(prefix, address);
const isVoice = ({ block }: PlanNode): boolean =>
  block.purpose?.trim().toLowerCase() === VOICE || /phone|voice/i.test(block.name);
const hasPool = (node: PlanNode, tree: PlanOfLab['tree']): boolean => {
  const [four] = [node.space[4]];
  return four !== null && rangesIn(readRanges(tree), four).some(({ range }) => range.use === 'pool');
};

/** Models of hosts by words that groups are called by; a desktop otherwise. */
const HOST_WORDS: readonly (readonly [RegExp, string])[] = [
  [/server/i, 'server'],
  [/print/i, 'printer'],
  [/camera|video/i, 'camera'],
  [/till/i, 'till'],
  [/turnstile|gate/i, 'turnstile'],
  [/sensor|weather/i, 'sensor'],
  [/winch|control/i, 'controller'],
  [/laptop/i, 'laptop'],
];
const modelFor = (node: PlanNode): string =>
  isVoice(node) ? 'phone' : (HOST_WORDS.find(([word]) => word.test(node.block.name))?.[1] ?? 'desktop');

/** Commands that are tried one after the other on a drawing that grows with them. */
class Draft {
  readonly commands: Command[] = [];
  readonly left: string[] = [];

  constructor(public topology: Topology) {}

  run(...commands: readonly Command[]): boolean {
    for (const command of commands) {
      const done = applyCommand(this.topology, command);
      if (!done.ok) {
        this.left.push(done.error);
        return false;
      }
      this.topology = done.value.document;
      this.commands.push(command);
    }
    return true;
  }

  model(id: string): Model {
    return modelOf(this.topology, this.topology.devices[id]!)!;
  }

  name(id: string): string {
    return this.topology.devices[id]!.name;
  }
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
    const outcomes = nodes.map((node) => ({ node, outcome: giveGateway(draft, plan, router, port, node) }));
    const found = (...kinds: Outcome[]): PlanNode[] =>
      outcomes.flatMap(({ node, outcome }) => (kinds.includes(outcome) ? node : []));
    for (const { id } of found('crowded')) crowded.add(id);
    const given = found('given');
    if (given.length) done.push(`${draft.name(router)} is the gateway of ${listed(given)}`);
    const leased = wish.leases
      ? found('given', 'there').filter((node) => givePool(draft, plan, router, port, node))
      : [];
    if (leased.length) done.push(`${draft.name(router)} gives leases for ${listed(leased)}`);
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

/** The site of the drawing that is called like one of the plan; it is made where there is none. */
function siteIn(draft: Draft, name: string | undefined, newId: NewId): string | undefined {
  if (name === undefined) return undefined;
  const found = entriesById(draft.topology.sites).find(([, site]) => site.name === name)?.[0];
  if (found !== undefined) return found;
  const id = newId(name);
  return draft.run({ kind: 'setSite', id, set: { name } }) ? id : undefined;
}

/** A place below a device. */
function belowOf(topology: Topology, id: string): Position {
  const tile = tilesOf(topology).get(id)!;
  return { x: tile.x, y: tile.y + BELOW };
}

/** Where hosts stand: side by side below their switch, subnet by subnet, and what is behind a telephone below it. */
class Rows {
  private readonly at: Position;

  constructor(
    private readonly draft: Draft,
    bridge: string,
    wishes: readonly SubnetWish[],
  ) {
    const tile = tilesOf(draft.topology).get(bridge)!;
    const phones = wishes.filter(({ model }) => model === 'phone');
    const across = (phones.length ? phones : wishes).reduce(
      (sum, { count, model }) => sum + count * stepOf(model === 'phone'),
      0,
    );
    this.at = { x: tile.x + tile.width / 2 - Math.min(across, MOST_ACROSS) / 2, y: tile.y + BELOW };
  }

  /** The place for the next host: below its telephone where it has one. */
  next(phone: string | undefined, isPhone: boolean): Position {
    if (phone !== undefined) return belowOf(this.draft.topology, phone);
    this.step = stepOf(isPhone);
    return { ...this.at };
  }
  private step = 0;

  /** Goes on behind a host that stands now; one below a telephone takes no room in the row. */
  after([id]: readonly string[], phone: string | undefined): void {
    if (id !== undefined && phone === undefined) this.at.x = this.draft.topology.devices[id]!.at.x + this.step;
  }

  endGroup(): void {
    this.at.x += BETWEEN_GROUPS - GAP;
  }
}

/** The name of a telephone stands beside it, since a cable leaves below. */
const stepOf = (isPhone: boolean): number => (isPhone ? 2 : 1) * HOST;

function createVlan(draft: Draft, bridge: string, vlan: number, name: string): void {
  if (draft.model(bridge).bridges === 'vlan') draft.run(...putIntoVlan(draft.topology, bridge, [], vlan, name));
}

/** The cable between a router and its switch, laid where there is none: the router's port; the switch's becomes a trunk. */
function uplink(
  draft: Draft,
  router: string,
  bridge: string | null,
  vlans: readonly number[],
  newId: NewId,
): string | null {
  if (bridge === null || bridge === router) return null;
  const between = (): { own: string; other: string } | undefined =>
    entriesById(draft.topology.links).flatMap(([, { a, b }]) =>
      a.device === router && b.device === bridge
        ? [{ own: a.port, other: b.port }]
        : b.device === router && a.device === bridge
          ? [{ own: b.port, other: a.port }]
          : [],
    )[0];
  if (!between()) {
    const link = cableBetween(draft.topology, { device: router }, { device: bridge });
    if (!link) {
      draft.left.push(
        `No cable fits between ${draft.name(router)} and ${draft.name(bridge)}: one of them has no free port.`,
      );
      return null;
    }
    draft.run({ kind: 'connect', id: newId('link'), link });
  }
  const ends = between();
  if (!ends) return null;
  if (vlans.length) {
    trunk(draft, bridge, ends.other, vlans);
    if (draft.model(router).bridges === 'vlan') {
      trunk(draft, router, ends.own, vlans);
    }
  }
  return ends.own;
}

function trunk(draft: Draft, device: string, port: string, vlans: readonly number[]): void {
  if (draft.model(device).bridges !== 'vlan') return;
  const now = switchedRole(draft.topology.devices[device]!, port);
  const carried = now.mode === 'trunk' ? (now.allowed ?? 'all') : [];
  if (carried === 'all') return;
  const allowed = [...new Set([...carried, ...vlans])].sort((a, b) => a - b);
  if (now.mode === 'trunk' && allowed.length === carried.length) return;
  draft.run(...makeTrunks(draft.topology, device, [port], allowed));
}

/** Where the gateway of a subnet is at a router; a sentence where it has no place. */
function gatewayPlace(
  draft: Draft,
  router: string,
  port: string | null,
  { block }: PlanNode,
): VirtualPlace | string | { kind: 'port'; port: string } {
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
function interfaceAt(
  draft: Draft,
  router: string,
  on: VirtualPlace | { kind: 'port'; port: string },
): [string, Interface] {
  const device = draft.topology.devices[router]!;
  if (on.kind === 'port') return portInterface(device, on.port);
  const found = entriesById(device.interfaces).find(
    ([, { on: there }]) =>
      there.kind === on.kind &&
      (on.kind === 'svi'
        ? 'vlan' in there && there.vlan === on.vlan
        : on.kind === 'sub' && there.kind === 'sub' && there.vlan === on.vlan && there.port === on.port),
  );
  return found ?? [virtualInterfaceKey(device, on), { on }];
}

/** Whether a router is the gateway of a subnet now: newly, as before, not, or not since its port carries another subnet. */
type Outcome = 'given' | 'there' | 'elsewhere' | 'crowded';

/** Puts the gateway of a subnet where it belongs, in both families. */
function giveGateway(draft: Draft, plan: PlanOfLab, router: string, port: string | null, node: PlanNode): Outcome {
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

/** A pool of leases for a subnet at a router, by what the plan sets aside; and what tells its hosts of IPv6. */
function givePool(draft: Draft, plan: PlanOfLab, router: string, port: string | null, node: PlanNode): boolean {
  let isGiven = false;
  for (const family of [4, 6] as const) {
    const prefix = node.space[family];
    // Hosts make their own IPv6 addresses of what the router tells, unless the plan says that a server gives them.
    if (!prefix || (family === 6 && node.block.automatic !== false)) continue;
    const property = family === 4 ? 'dhcpPools' : 'dhcp6Pools';
    const pools = draft.topology.devices[router]!.settings?.[property] ?? [];
    const network = formatPrefix(prefix);
    if (pools.some((pool) => pool.network === network)) continue;
    const set = { [property]: [...pools, poolOf(draft, plan, node, prefix)] };
    isGiven = draft.run({ kind: 'setSettings', device: router, set }) || isGiven;
    const on = gatewayPlace(draft, router, port, node);
    if (family === 6 && typeof on !== 'string') {
      const [key, now] = interfaceAt(draft, router, on);
      draft.run(
        changeInterface(
          draft.topology,
          router,
          key,
          now,
          { v6: { ...now.v6, ra: { ...now.v6?.ra, managed: true } } },
          true,
        ),
      );
    }
  }
  return isGiven;
}

type Pool = NonNullable<Settings['dhcpPools']>[number];

/** A pool with the ranges of the plan; without any, all of the subnet but what the plan gives to somebody. */
function poolOf(draft: Draft, { tree, brief }: PlanOfLab, node: PlanNode, prefix: Prefix): Pool {
  const ranges = rangesIn(readRanges(tree), prefix);
  const span = ({ span: { from, to } }: (typeof ranges)[number]): { from: string; to: string } => ({
    from: formatAddress(from),
    to: formatAddress(to),
  });
  const pools = ranges.filter(({ range }) => range.use === 'pool').map(span);
  const { family } = prefix;
  const fixed = [...addressesIn(tree, prefix).map(({ value }) => value), ...drawnIn(draft, prefix)];
  const gateway = gatewayOf(node.block, prefix, brief);
  const taken = [...new Set(fixed)]
    .filter((value) => value !== gateway?.value)
    .map((value) => formatAddress({ family, value }))
    .map((text) => ({ from: text, to: text }));
  const out = pools.length
    ? []
    : [...ranges.filter(({ range }) => range.use !== 'pool').map(span), ...taken].slice(0, 64);
  const dns = namesServer(draft, family);
  return {
    network: formatPrefix(prefix),
    ...(pools.length && { ranges: pools.slice(0, 64) }),
    ...(out.length && { exclusions: out }),
    // An IPv6 router is told by its advertisements (RFC 8415 has no option for it).
    ...(gateway && family === 4 && { router: formatAddress(gateway) }),
    ...(dns !== null && { dns: [dns] }),
  };
}

const drawnIn = (draft: Draft, prefix: Prefix): bigint[] =>
  drawnAddresses(draft.topology).flatMap(({ on }) =>
    isIn(prefix, on.address) && on.address.value <= lastOf(prefix).value ? on.address.value : [],
  );

/** The address of the one server of the drawing that answers for names; null where there is none, or there are several. */
function namesServer(draft: Draft, family: 4 | 6): string | null {
  const found = entriesById(draft.topology.devices).filter(([, { settings }]) => settings?.services?.dns?.enabled);
  const [only] = found;
  if (!only || found.length > 1) return null;
  const own = drawnAddresses(draft.topology).find(
    ({ device, on }) => device === only[0] && on.address.family === family,
  );
  return own ? formatAddress(own.on.address) : null;
}

/** Telephones of the same step that desks of a group are plugged into. */
function phonesFor(
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
function hostsOf({
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
function address(
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

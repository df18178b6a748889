import { type Device, type Link, KIT, canonicalJson, entriesById, modelOf, portsOf } from '../topology';
import { type VariationOperator } from './variations';

/** More ways to draw the same network otherwise: each keeps what it does. */

const ends = ['a', 'b'] as const;

/** Hosts are plugged into other ports of their switch of the same sort; what is set there goes along. */
export const portsExchanged: VariationOperator = (variation, random) => {
  const { topology } = variation;
  const links = { ...topology.links };
  const devices = { ...topology.devices };
  for (const [id, device] of entriesById(topology.devices)) {
    const model = modelOf(topology, device);
    if (model?.bridges !== 'vlan' || device.settings?.bundles) continue;
    const facts = new Map(portsOf(topology, device).map((port) => [port.key, JSON.stringify({ ...port, key: '' })]));
    const own = entriesById(links).flatMap(([link, cable]) =>
      ends.flatMap((side) => (cable[side].device === id ? [{ link, side, port: cable[side].port }] : [])),
    );
    const bySort = new Map<string, string[]>();
    for (const { port } of own) {
      const sort = facts.get(port);
      if (sort !== undefined) bySort.set(sort, [...(bySort.get(sort) ?? []), port]);
    }
    const to = new Map<string, string>();
    for (const ports of bySort.values()) {
      const by = 1 + Math.floor(random() * Math.max(1, ports.length - 1));
      for (const [at, port] of ports.entries()) to.set(port, ports[(at + by) % ports.length]!);
    }
    for (const { link, side, port } of own)
      links[link] = { ...links[link]!, [side]: { ...links[link]![side], port: to.get(port) ?? port } };
    if (device.ports)
      devices[id] = {
        ...device,
        ports: Object.fromEntries(entriesById(device.ports).map(([port, config]) => [to.get(port) ?? port, config])),
      };
  }
  return { ...variation, topology: { ...topology, devices, links } };
};

const VLAN_KEYS: ReadonlySet<string> = new Set(['vlan', 'accessVlan', 'voiceVlan', 'native', 'allowed']);

/** Every VLAN but the first has another number, everywhere. */
export const otherVlans: VariationOperator = (variation) => {
  const moved = (vlan: number): number => (vlan === 1 ? 1 : vlan + 300 > 4094 ? vlan - 300 : vlan + 300);
  const told = (value: unknown, key = ''): unknown => {
    if (typeof value === 'number') return VLAN_KEYS.has(key) ? moved(value) : value;
    if (Array.isArray(value)) return value.map((each) => told(each, key));
    if (value === null || typeof value !== 'object') return value;
    if (key === 'vlans')
      return Object.fromEntries(
        Object.entries(value).map(([id, name]) => [String(moved(Number(id))), name as unknown]),
      );
    return Object.fromEntries(Object.entries(value).map(([name, inner]) => [name, told(inner, name)]));
  };
  const { topology } = variation;
  const devices = Object.fromEntries(
    entriesById(topology.devices).map(([id, device]): [string, Device] => [
      id,
      {
        ...device,
        ...(device.ports && { ports: told(device.ports) as NonNullable<Device['ports']> }),
        ...(device.interfaces && { interfaces: told(device.interfaces) as NonNullable<Device['interfaces']> }),
        ...(device.settings && { settings: told(device.settings) as NonNullable<Device['settings']> }),
        ...(device.members && { members: told(device.members) as NonNullable<Device['members']> }),
      },
    ]),
  );
  return { ...variation, topology: { ...topology, devices } };
};

/**
 * Hosts that get their IPv4 address by themselves have it typed instead.
 *
 * @param addressOf the lease of a host's interface: its address with its length, and the router that it tells
 */
export const typedForLeased =
  (addressOf: (device: string, key: string) => { address: string; router: string | null } | null): VariationOperator =>
  (variation) => {
    const { topology } = variation;
    const devices = Object.fromEntries(
      entriesById(topology.devices).map(([id, device]): [string, Device] => {
        if (device.members || modelOf(topology, device)?.class !== 'end') return [id, device];
        let router: string | null = null;
        const interfaces = Object.fromEntries(
          entriesById(device.interfaces).map(([key, settings]) => {
            const lease = settings.v4?.dhcp ? addressOf(id, key) : null;
            if (!lease) return [key, settings];
            ({ router } = lease);
            return [key, { ...settings, v4: { addresses: [lease.address] } }];
          }),
        );
        return router === null
          ? [id, device]
          : [id, { ...device, interfaces, settings: { ...device.settings, gateway4: router } }];
      }),
    );
    return { ...variation, topology: { ...topology, devices } };
  };

/** A tile of several is drawn as single devices. */
export const tilesApart: VariationOperator = (variation) => {
  const { topology } = variation;
  const devices: Record<string, Device> = {};
  const parts = new Map<string, string>();
  const originOf = new Map(variation.originOf);
  for (const [id, device] of entriesById(topology.devices)) {
    if (!device.members) {
      devices[id] = device;
      continue;
    }
    const { members, ports, interfaces, ...rest } = device;
    originOf.delete(id);
    for (const [at, [member, own]] of entriesById(members).entries()) {
      const part = `${id}-${member}`;
      parts.set(`${id} ${member}`, part);
      const both = { ...interfaces, ...own.interfaces };
      const config = Object.fromEntries(
        [...new Set([...Object.keys(ports ?? {}), ...Object.keys(own.ports ?? {})])].map((key) => [
          key,
          { ...ports?.[key], ...own.ports?.[key] },
        ]),
      );
      devices[part] = {
        ...rest,
        name: own.name ?? `${device.name}-${at + 1}`,
        at: { x: device.at.x + 60 * at, y: device.at.y },
        ...(Object.keys(config).length && { ports: config }),
        ...(Object.keys(both).length && { interfaces: both }),
      };
    }
  }
  const end = ({ device, member, port }: Link['a']): Link['a'] =>
    member === undefined ? { device, port } : { device: parts.get(`${device} ${member}`)!, port };
  const links = Object.fromEntries(
    entriesById(topology.links).map(([id, link]) => [id, { ...link, a: end(link.a), b: end(link.b) }]),
  );
  return { topology: { ...topology, devices, links }, originOf };
};

/** Single hosts that hang on one switch, and differ in names, ports and addresses only, are drawn as one tile. */
export const tilesJoined: VariationOperator = (variation) => {
  const { topology } = variation;
  const cables = new Map<string, { id: string; side: 'a' | 'b' }[]>();
  for (const [id, link] of entriesById(topology.links))
    for (const side of ends) cables.set(link[side].device, [...(cables.get(link[side].device) ?? []), { id, side }]);
  const alike = new Map<string, string[]>();
  for (const [id, device] of entriesById(topology.devices)) {
    const [cable, ...more] = cables.get(id) ?? [];
    if (modelOf(topology, device)?.class !== 'end' || device.members || !cable || more.length) continue;
    const { name: _name, at: _at, ports: _ports, interfaces: _interfaces, ...rest } = device;
    const far = topology.links[cable.id]![cable.side === 'a' ? 'b' : 'a'];
    const key = canonicalJson([rest, far.device, far.member ?? null]);
    alike.set(key, [...(alike.get(key) ?? []), id]);
  }
  const devices = { ...topology.devices };
  const originOf = new Map(variation.originOf);
  const joined = new Map<string, { tile: string; member: string }>();
  for (const ids of [...alike.values()].filter(({ length }) => length > 1)) {
    const [tile] = ids as [string, ...string[]];
    const { ports: _ports, interfaces: _interfaces, ...rest } = topology.devices[tile]!;
    const members = Object.fromEntries(
      ids.map((id, at) => {
        const { name, ports, interfaces } = topology.devices[id]!;
        joined.set(id, { tile, member: `m${at + 1}` });
        delete devices[id];
        originOf.delete(id);
        return [`m${at + 1}`, { order: at, name, ...(ports && { ports }), ...(interfaces && { interfaces }) }];
      }),
    );
    devices[tile] = { ...rest, members };
  }
  const end = (of: Link['a']): Link['a'] => {
    const part = joined.get(of.device);
    return part ? { device: part.tile, member: part.member, port: of.port } : of;
  };
  const links = Object.fromEntries(
    entriesById(topology.links).map(([id, link]) => [id, { ...link, a: end(link.a), b: end(link.b) }]),
  );
  const anchored = <T extends { anchor?: { kind: string; id: string } }>(record: T): T => {
    const part = record.anchor?.kind === 'device' ? joined.get(record.anchor.id) : undefined;
    return part ? { ...record, anchor: { ...record.anchor!, id: part.tile } } : record;
  };
  const all = <T extends { anchor?: { kind: string; id: string } }>(map: Readonly<Record<string, T>>) =>
    Object.fromEntries(entriesById(map).map(([id, record]): [string, T] => [id, anchored(record)]));
  const { notes, comments } = topology;
  return {
    topology: {
      ...topology,
      devices,
      links,
      ...(notes && { notes: all(notes) }),
      ...(comments && { comments: all(comments) }),
    },
    originOf,
  };
};

/** One switch more, between a switch and one of its hosts. */
export const oneMoreSwitch: VariationOperator = (variation, random) => {
  const { topology } = variation;
  const hosts = entriesById(topology.links).flatMap(([id, link]) =>
    ends.flatMap((side) => {
      const [host, near] = [
        topology.devices[link[side].device]!,
        topology.devices[link[side === 'a' ? 'b' : 'a'].device]!,
      ];
      const isHost = KIT[host.model]?.class === 'end' && link[side].member === undefined;
      const role = near.ports?.[link[side === 'a' ? 'b' : 'a'].port]?.role;
      return isHost && KIT[near.model]?.bridges === 'vlan' && role?.kind !== 'routed' && link.medium === 'straight'
        ? [{ id, side, near: link[side === 'a' ? 'b' : 'a'], role }]
        : [];
    }),
  );
  const chosen = hosts[Math.floor(random() * hosts.length)];
  if (!chosen) return variation;
  const { id, side, near, role } = chosen;
  const fresh = `${id}-more`;
  const like = topology.devices[near.device]!;
  const vlan = role?.kind === 'switched' ? (role.accessVlan ?? 1) : 1;
  const port = { role: { kind: 'switched' as const, mode: 'access' as const, accessVlan: vlan } };
  const name = like.settings?.vlans?.[String(vlan)];
  const added: Device = {
    name: `${like.name}b`,
    model: 'access-switch-12',
    at: { x: like.at.x + 40, y: like.at.y + 60 },
    ...(like.site !== undefined && { site: like.site }),
    ports: { p1: { ...port, label: 'p1' }, p2: { ...port, label: 'p2' } },
    settings: { hostname: `${like.name}b`, ...(name !== undefined && { vlans: { [String(vlan)]: name } }) },
  };
  const link = topology.links[id]!;
  return {
    topology: {
      ...topology,
      devices: { ...topology.devices, [fresh]: added },
      links: {
        ...topology.links,
        [id]: { ...link, [side === 'a' ? 'b' : 'a']: { device: fresh, port: 'p1' } },
        [fresh]: { a: near, b: { device: fresh, port: 'p2' }, medium: 'crossover' },
      },
    },
    originOf: variation.originOf,
  };
};

/** Two switches, joined by a trunk, do the work of one that has four hosts or more. */
export const twoForOne: VariationOperator = (variation, random) => {
  const { topology } = variation;
  const hostsOf = (id: string): { link: string; side: 'a' | 'b'; port: string }[] =>
    entriesById(topology.links).flatMap(([link, cable]) =>
      ends.flatMap((side) => {
        const far = topology.devices[cable[side === 'a' ? 'b' : 'a'].device]!;
        return cable[side].device === id && KIT[far.model]?.class === 'end'
          ? [{ link, side, port: cable[side].port }]
          : [];
      }),
    );
  const large = entriesById(topology.devices).filter(
    ([id, { model, settings }]) => KIT[model]?.bridges === 'vlan' && !settings?.bundles && hostsOf(id).length >= 4,
  );
  const [id, like] = large[Math.floor(random() * large.length)] ?? [];
  if (id === undefined || !like) return variation;
  const fresh = `${id}-two`;
  const hosts = hostsOf(id);
  const half = hosts.slice(hosts.length >> 1);
  const taken = new Set(
    Object.values(topology.links).flatMap(({ a, b }) => [a, b].flatMap((end) => (end.device === id ? end.port : []))),
  );
  // The fastest ports are for other switches.
  const facts = portsOf(topology, like).filter(({ connector, switched }) => connector === 'copper' && switched);
  const most = Math.max(...facts.map(({ speeds }) => Math.max(...speeds)));
  const joint = facts.find(({ key, speeds }) => !taken.has(key) && Math.max(...speeds) === most)?.key;
  if (joint === undefined) return variation;
  const hasVlans = Object.keys(like.settings?.vlans ?? {}).length > 0;
  const trunk = { role: { kind: 'switched' as const, mode: 'trunk' as const }, label: joint };
  const { vlans, spanningTree } = like.settings ?? {};
  const added: Device = {
    name: `${like.name}b`,
    model: like.model,
    at: { x: like.at.x + 60, y: like.at.y },
    ...(like.site !== undefined && { site: like.site }),
    ...(like.modules && { modules: like.modules }),
    ports: {
      ...Object.fromEntries(half.flatMap(({ port }) => (like.ports?.[port] ? [[port, like.ports[port]]] : []))),
      [joint]: hasVlans ? trunk : { label: joint },
    },
    settings: {
      hostname: `${like.name}b`,
      ...(vlans && { vlans }),
      ...(spanningTree?.on === false && { spanningTree: { on: false } }),
    },
  };
  const links: Record<string, Link> = { ...topology.links };
  for (const { link, side, port } of half) links[link] = { ...links[link]!, [side]: { device: fresh, port } };
  links[fresh] = { a: { device: id, port: joint }, b: { device: fresh, port: joint }, medium: 'crossover' };
  const own = { ...like, ports: { ...like.ports, [joint]: hasVlans ? trunk : { label: joint } } };
  return {
    topology: { ...topology, devices: { ...topology.devices, [id]: own, [fresh]: added }, links },
    originOf: new Map([...variation.originOf, [fresh, variation.originOf.get(id) ?? id]]),
  };
};

/** What is told of a way to draw the same otherwise. */
export interface KeepingOperator {
  readonly kind: string;
  readonly title: string;
  readonly vary: VariationOperator;
}

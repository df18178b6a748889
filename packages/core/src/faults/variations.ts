import { KIT, type Device, type Link, type LinkEnd, type Topology } from '../topology';

/** A drawing of the same network by somebody else, with the device of the first one that each of its devices is. */
export interface Variation {
  readonly topology: Topology;
  readonly originOf: ReadonlyMap<string, string>;
}

/** Changes a drawing as somebody else could have drawn it. In: the drawing so far, and numbers from 0 to 1, seeded. */
export type VariationOperator = (variation: Variation, random: () => number) => Variation;

/** A drawing as it is, to be varied. */
export const unvaried = (topology: Topology): Variation => ({
  topology,
  originOf: new Map(Object.keys(topology.devices).map((id) => [id, id])),
});

/** Numbers from 0 to 1 that are the same for the same seed (mulberry32). */
export function seeded(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), state | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 2 ** 32;
  };
}

function shuffled<T>(list: readonly T[], random: () => number): T[] {
  const all = [...list];
  for (let at = all.length - 1; at > 0; at--) {
    const other = Math.floor(random() * (at + 1));
    [all[at], all[other]] = [all[other]!, all[at]!];
  }
  return all;
}
const some = <T>(list: readonly T[], share: number, random: () => number): T[] =>
  shuffled(list, random).slice(0, Math.max(1, Math.round(list.length * share)));

const withDevices = (variation: Variation, change: (device: Device, id: string) => Device): Variation => ({
  ...variation,
  topology: {
    ...variation.topology,
    devices: Object.fromEntries(
      Object.entries(variation.topology.devices).map(([id, device]) => [id, change(device, id)]),
    ),
  },
});

/** Every name is another one, and so are the hostnames; some have the name of another role. */
export const renamed: VariationOperator = (variation, random) => {
  const names = Object.values(variation.topology.devices).map(({ name }) => name);
  const fresh = shuffled(
    names.map((name, at) => (at % 3 ? `N${at}` : name)),
    random,
  );
  let at = 0;
  return withDevices(variation, (device) => {
    const name = fresh[at++]!;
    const { hostname, ...settings } = device.settings ?? {};
    return {
      ...device,
      name,
      ...(device.settings && { settings: { ...settings, ...(hostname !== undefined && { hostname: name }) } }),
    };
  });
};

/** Other ids, another order, other places. */
export const moved: VariationOperator = ({ topology, originOf }, random) => {
  const ids = Object.keys(topology.devices);
  const fresh = new Map(shuffled(ids, random).map((id, at) => [id, `n${at}`]));
  const end = (of: LinkEnd): LinkEnd => ({ ...of, device: fresh.get(of.device)! });
  return {
    topology: {
      ...topology,
      devices: Object.fromEntries(
        shuffled(Object.entries(topology.devices), random).map(([id, device]) => [
          fresh.get(id)!,
          { ...device, at: { x: Math.round(random() * 2000), y: Math.round(random() * 2000) } },
        ]),
      ),
      links: Object.fromEntries(
        shuffled(Object.entries(topology.links), random).map(([id, link]): [string, Link] => [
          `x-${id}`,
          { ...link, a: end(link.a), b: end(link.b) },
        ]),
      ),
    },
    originOf: new Map([...fresh].map(([id, now]) => [now, originOf.get(id)!])),
  };
};

/** The same subnets elsewhere in their block: the third byte of every 10.x address, and the third group of IPv6, changes. */
export const readdressed: VariationOperator = (variation, random) => {
  const by = 32 * (1 + Math.floor(random() * 6));
  /** Of a prefix only what it fixes changes; of an address all of the byte does. */
  const third = (text: string, last: string, length: string | undefined): number => {
    const bits = length === undefined ? 32 : Number(length);
    const fixed = bits >= 24 ? 0xff : bits <= 16 ? 0 : (0xff << (24 - bits)) & 0xff;
    const isPrefix = (Number(text) & ~fixed) === 0 && (bits > 24 || Number(last) === 0);
    return Number(text) ^ (isPrefix ? by & fixed : by);
  };
  const change = (value: unknown): unknown => {
    if (typeof value === 'string')
      return value
        .replace(
          /\b10\.(\d+)\.(\d+)\.(\d+)(?:\/(\d+))?/g,
          (_all, b: string, c: string, d: string, length: string | undefined) =>
            `10.${b}.${third(c, d, length)}.${d}${length === undefined ? '' : `/${length}`}`,
        )
        .replace(
          /\b(fd[0-9a-f]{2}|2001):([0-9a-f]+):([0-9a-f]+):/g,
          (_all, one: string, two: string, three: string) =>
            `${one}:${two}:${(parseInt(three, 16) ^ by).toString(16)}:`,
        );
    if (Array.isArray(value)) return value.map(change);
    if (value === null || typeof value !== 'object') return value;
    return Object.fromEntries(Object.entries(value).map(([key, inner]) => [key, change(inner)]));
  };
  return withDevices(variation, (device) => ({
    ...device,
    ...(device.interfaces && { interfaces: change(device.interfaces) as NonNullable<Device['interfaces']> }),
    ...(device.settings && { settings: change(device.settings) as NonNullable<Device['settings']> }),
    ...(device.members && { members: change(device.members) as NonNullable<Device['members']> }),
  }));
};

/** Larger models of the same kind. */
const LARGER: Readonly<Record<string, string>> = {
  'access-switch-12': 'access-switch-20',
  'access-switch-20': 'access-switch-44',
};
export const otherModels: VariationOperator = (variation) =>
  withDevices(variation, (device) => {
    const model = LARGER[device.model];
    return model !== undefined && KIT[model] ? { ...device, model } : device;
  });

/** One device more for every five: hosts at a free port of a switch, where there is one. */
export const withExtra: VariationOperator = (variation, random) => {
  const { topology } = variation;
  const switches = Object.keys(topology.devices).filter((id) =>
    topology.devices[id]!.model.startsWith('access-switch'),
  );
  const devices = { ...topology.devices };
  const links = { ...topology.links };
  const taken = new Set(Object.values(links).flatMap(({ a, b }) => [`${a.device} ${a.port}`, `${b.device} ${b.port}`]));
  for (let at = 0; at < Math.round(Object.keys(topology.devices).length / 5); at++) {
    const id = `extra-${at}`;
    devices[id] = { name: `EXTRA-${at}`, model: 'desktop', at: { x: 0, y: 0 } };
    const home = switches[Math.floor(random() * switches.length)];
    const port =
      home === undefined
        ? undefined
        : Array.from({ length: 12 }, (_, nth) => `p${nth + 1}`).find((key) => !taken.has(`${home} ${key}`));
    if (home === undefined || port === undefined) continue;
    taken.add(`${home} ${port}`);
    links[id] = { a: { device: home, port }, b: { device: id, port: 'e0' }, medium: 'straight' };
  }
  return { ...variation, topology: { ...topology, devices, links } };
};

/** One device of ten is forgotten, with its cables. */
export const withoutSome: VariationOperator = (variation, random) => {
  const { topology } = variation;
  const gone = new Set(some(Object.keys(topology.devices), 0.1, random));
  return {
    ...variation,
    topology: {
      ...topology,
      devices: Object.fromEntries(Object.entries(topology.devices).filter(([id]) => !gone.has(id))),
      links: Object.fromEntries(
        Object.entries(topology.links).filter(([, { a, b }]) => !gone.has(a.device) && !gone.has(b.device)),
      ),
    },
  };
};

/** One cable of ten has an end at another device of the same model, at a port of the same sort that is free there. */
export const recabled: VariationOperator = (variation, random) => {
  const { topology } = variation;
  const links = { ...topology.links };
  const taken = new Set(Object.values(links).flatMap(({ a, b }) => [`${a.device} ${a.port}`, `${b.device} ${b.port}`]));
  const sortOf = (port: string): string => port.replace(/\d+$/, '');
  for (const id of some(Object.keys(links), 0.1, random)) {
    const link = links[id]!;
    const free = (['a', 'b'] as const).flatMap((side) => {
      const { device, port, member } = link[side];
      if (member !== undefined) return [];
      const { model } = topology.devices[device]!;
      const ports = Array.from({ length: 12 }, (_, at) => `${sortOf(port)}${at}`).filter((key) => key !== port);
      const others = Object.keys(topology.devices).filter(
        (each) => each !== device && topology.devices[each]!.model === model,
      );
      return others.flatMap((other) =>
        [port, ...ports]
          .filter((key) => !taken.has(`${other} ${key}`))
          .slice(0, 1)
          .map((key) => ({ side, device: other, port: key })),
      );
    });
    const place = free[Math.floor(random() * free.length)];
    if (!place) continue;
    taken.add(`${place.device} ${place.port}`);
    links[id] = { ...link, [place.side]: { device: place.device, port: place.port } };
  }
  return { ...variation, topology: { ...topology, links } };
};

const LARGE = 'access-switch-44';
const isAccess = ({ model }: Device): boolean => model.startsWith('access-switch');
const endsAt = (topology: Topology, device: string): [id: string, side: 'a' | 'b'][] =>
  Object.entries(topology.links).flatMap(([id, { a, b }]): [string, 'a' | 'b'][] =>
    a.device === device ? [[id, 'a']] : b.device === device ? [[id, 'b']] : [],
  );
/** Ports of a large switch that nothing is plugged into, those for hosts first or those for other equipment. */
function freePorts(topology: Topology, device: string, first: 'p' | 'u'): string[] {
  const taken = new Set(endsAt(topology, device).map(([id, side]) => topology.links[id]![side].port));
  const [hosts, others] = [
    Array.from({ length: 44 }, (_, at) => `p${at + 1}`),
    Array.from({ length: 4 }, (_, at) => `u${at + 1}`),
  ];
  return (first === 'p' ? [...hosts, ...others] : [...others, ...hosts]).filter((port) => !taken.has(port));
}
/** Plugs the end of a link into another device. */
function replugged(topology: Topology, id: string, side: 'a' | 'b', device: string): Topology {
  const link = topology.links[id]!;
  const [port] = freePorts(topology, device, link[side].port.startsWith('u') ? 'u' : 'p');
  return port === undefined
    ? topology
    : { ...topology, links: { ...topology.links, [id]: { ...link, [side]: { device, port } } } };
}

/** One switch does the work of two that hang on one another, or at the same place. */
export const merged: VariationOperator = (variation, random) => {
  let { topology } = variation;
  const switches = Object.keys(topology.devices).filter((id) => isAccess(topology.devices[id]!));
  const near = (id: string): string[] =>
    endsAt(topology, id).map(([link, side]) => topology.links[link]![side === 'a' ? 'b' : 'a'].device);
  const pairs = switches.flatMap((one) =>
    switches
      .filter((other) => one < other && (near(one).includes(other) || near(one).some((at) => near(other).includes(at))))
      .map((other) => [one, other] as const),
  );
  const [stays, goes] = pairs[Math.floor(random() * pairs.length)] ?? [];
  if (stays === undefined || goes === undefined) return variation;
  const large = { ...topology.devices[stays]!, model: LARGE };
  topology = { ...topology, devices: { ...topology.devices, [stays]: large } };
  const besides = new Set(near(stays));
  for (const [id, side] of endsAt(topology, goes)) {
    const other = topology.links[id]![side === 'a' ? 'b' : 'a'].device;
    // Of two ways to one place one is left, and none to itself.
    if (other === stays || (besides.has(other) && !isHost(topology.devices[other]!))) {
      const { [id]: _gone, ...links } = topology.links;
      topology = { ...topology, links };
    } else topology = replugged(topology, id, side, stays);
  }
  const { [goes]: _merged, ...devices } = topology.devices;
  return { ...variation, topology: { ...topology, devices } };
};
const isHost = ({ model }: Device): boolean => KIT[model]?.class === 'end';

/** Two switches, joined, do the work of one that has four hosts or more. */
export const split: VariationOperator = (variation, random) => {
  let { topology } = variation;
  const hostsOf = (id: string): [string, 'a' | 'b'][] =>
    endsAt(topology, id).filter(([link, side]) =>
      isHost(topology.devices[topology.links[link]![side === 'a' ? 'b' : 'a'].device]!),
    );
  const large = Object.keys(topology.devices).filter(
    (id) => isAccess(topology.devices[id]!) && hostsOf(id).length >= 4,
  );
  const id = large[Math.floor(random() * large.length)];
  if (id === undefined) return variation;
  const fresh = `${id}-split`;
  const { settings: _own, ports: _labels, ...like } = topology.devices[id]!;
  topology = {
    ...topology,
    devices: { ...topology.devices, [fresh]: { ...like, name: `${like.name}b`, model: LARGE } },
  };
  const hosts = hostsOf(id);
  for (const [link, side] of hosts.slice(hosts.length >> 1)) topology = replugged(topology, link, side, fresh);
  const [port] = Array.from({ length: 4 }, (_, at) => `u${at + 1}`).filter(
    (key) => !endsAt(topology, id).some(([link, side]) => topology.links[link]![side].port === key),
  );
  if (port !== undefined)
    topology = {
      ...topology,
      links: {
        ...topology.links,
        [fresh]: { a: { device: id, port }, b: { device: fresh, port: 'u4' }, medium: 'crossover' },
      },
    };
  return {
    topology,
    originOf: new Map([...variation.originOf, [fresh, variation.originOf.get(id) ?? id]]),
  };
};

import { parseInterfaceAddress } from '../address';
import { findModels } from '../bench';
import { cableBetween, setAddress } from '../editing';
import { plural } from '../plural';
import { type Result, fail, ok } from '../result';
import {
  type Link,
  type LinkEnd,
  type Model,
  type Problem,
  type Topology,
  KIT,
  MEDIA,
  applyCommand,
  emptyTopology,
  entriesById,
  modelOf,
  entryOf,
  portOf,
  portsOf,
  readTopology,
} from '../topology';

/** A network as files of other software tell it. Models, kinds, sites and media are words of theirs. */
export interface ImportedNetwork {
  title?: string | undefined;
  nodes: readonly ForeignNode[];
  links: readonly ForeignLink[];
}
export interface ForeignNode {
  id: string;
  name?: string | undefined;
  model?: string | undefined;
  kind?: string | undefined;
  site?: string | undefined;
  at?: { x: number; y: number } | undefined;
  ports?: readonly string[] | undefined;
  addresses?: readonly string[] | undefined;
}
export interface ForeignLink {
  id?: string | undefined;
  a: { node: string; port?: string | undefined };
  b: { node: string; port?: string | undefined };
  medium?: string | undefined;
  cableId?: string | undefined;
  lengthM?: number | undefined;
}

/** What came of a foreign file, and what of it could not be read, in sentences. */
export interface Imported {
  topology: Topology;
  left: readonly string[];
  /** Whether the drawing that was there is part of it: the file told changes of it. */
  joined?: boolean;
}

/** Distances of devices that come without places. */
const GRID = { across: 220, down: 130 };

/**
 * Makes a drawing of a foreign network: words become models, ports and media, and what says none gets what fits. With a
 * drawing as the base, devices that have a node's name stay as they are, and what is new comes below them.
 */
export function drawingOf(
  { title, nodes, links }: ImportedNetwork,
  base: Topology = emptyTopology(),
): Result<Imported, Problem[]> {
  const topology: Topology = {
    ...base,
    sites: { ...base.sites },
    devices: { ...base.devices },
    links: { ...base.links },
    ...(base.models && { models: { ...base.models } }),
  };
  if (title) topology.title = title.slice(0, 200);
  const left: string[] = [];
  const newId = freshIds([base.sites, base.devices, base.links, base.models ?? {}].flatMap(Object.keys));
  const idOf = new Map<string, string>();
  const known = new Map(entriesById(base.devices).map(([id, { name }]) => [name, id]));
  const siteIds = new Map(entriesById(base.sites).map(([id, { name }]) => [name, id]));
  const lowest = Math.max(...Object.values(base.devices).map((device) => device.at.y + GRID.down), 0);
  const degree = new Map<string, number>();
  const there = new Set(nodes.map((node) => node.id));
  for (const { a, b } of links)
    if (there.has(a.node) && there.has(b.node))
      for (const { node } of [a, b]) degree.set(node, (degree.get(node) ?? 0) + 1);
  const unknown: string[] = [];
  const columns = Math.max(1, Math.ceil(Math.sqrt(nodes.length)));

  for (const [at, node] of nodes.entries()) {
    if (idOf.has(node.id)) {
      left.push(`"${node.id}" is there twice: the second one was left out.`);
      continue;
    }
    const name = (node.name ?? node.id).slice(0, 80);
    const drawn = known.get(name);
    const id = drawn ?? newId(node.id, 'd');
    idOf.set(node.id, id);
    if (drawn !== undefined) continue;
    const guess = modelFor(node, name);
    if (!guess) unknown.push(name);
    const ends = Math.max(degree.get(node.id) ?? 0, node.ports?.length ?? 0);
    const model = guess ?? (ends > 1 ? 'access-switch-12' : 'desktop');
    if (node.site && !siteIds.has(node.site)) {
      const site = newId(node.site, 's');
      siteIds.set(node.site, site);
      topology.sites[site] = { name: node.site.slice(0, 80) };
    }
    const place = node.at ?? { x: (at % columns) * GRID.across, y: lowest + Math.floor(at / columns) * GRID.down };
    topology.devices[id] = {
      name,
      model,
      at: { x: Math.round(place.x), y: Math.round(place.y) },
      ...(node.site && { site: siteIds.get(node.site)! }),
    };
    const own = ownModel(topology, id, portsWanted(node, links), degree.get(node.id) ?? 0);
    if (own) {
      const key = newId(`ports-of-${id}`, 'm');
      (topology.models ??= {})[key] = own;
      topology.devices[id].model = key;
    }
  }
  if (unknown.length) {
    const more = unknown.length > 5 ? ` and ${unknown.length - 5} more` : '';
    const taken =
      unknown.length === 1
        ? 'it was taken as a switch or a host by its links'
        : 'they were taken as switches and hosts by their links';
    left.push(`The kind of ${unknown.slice(0, 5).join(', ')}${more} is not said: ${taken}.`);
  }
  for (const link of links) addLink(topology, link, { idOf, newId, left, base });
  const addressed = withAddresses(topology, nodes, idOf, left);
  const read = readTopology(addressed);
  return read.ok ? ok({ topology: read.value, left }) : fail(read.error);
}

/** Ids of the form that documents want, each once. */
function freshIds(taken: readonly string[]): (wished: string, prefix: string) => string {
  const used = new Set(taken);
  return (wished, prefix) => {
    const plain = wished.replaceAll(/[^A-Za-z0-9_.:-]+/g, '-').slice(0, 56);
    const first = /^[A-Za-z0-9]/.test(plain) ? plain : `${prefix}${plain}`;
    let id = first;
    for (let at = 2; used.has(id); at++) id = `${first}-${at}`;
    used.add(id);
    return id;
  };
}

/** The model that a node's own words speak of: its model, else its kind, else the letters its name begins with. */
function modelFor({ model, kind }: ForeignNode, name: string): string | undefined {
  if (model !== undefined && entryOf(KIT, model)) return model;
  const words = [model, kind, kind?.replaceAll(/[-_]/g, ' '), /^[A-Za-z]{2,}/.exec(name)?.[0]];
  const none = emptyTopology();
  for (const word of words) {
    const [found] = word ? findModels(none, word) : [];
    if (found) return found[0];
  }
  return undefined;
}

/** The key that a port gets by its name elsewhere: without spaces and other signs that keys cannot have. */
export const portKeyOf = (port: string): string => {
  const key = port
    .trim()
    .replaceAll(/[^A-Za-z0-9_.:/-]+/g, '-')
    .slice(0, 64);
  return /^[A-Za-z0-9]/.test(key) ? key : `p${key}`.slice(0, 64);
};

const portsWanted = (node: ForeignNode, links: readonly ForeignLink[]): string[] => [
  ...new Set(
    [
      ...(node.ports ?? []),
      ...links.flatMap(({ a, b }) => [a, b].flatMap((end) => (end.node === node.id ? (end.port ?? []) : []))),
    ].map(portKeyOf),
  ),
];

/** A model with the ports that are named, and enough of them, where the one that was found has not; null where it has. */
function ownModel(topology: Topology, id: string, named: readonly string[], needed: number): Model | null {
  const device = topology.devices[id]!;
  const base = modelOf(topology, device)!;
  const known = portsOf(topology, device).filter((port) => port.connector !== 'console');
  const missing = named.filter((key) => !portOf(topology, device, key));
  if (!missing.length && known.length >= needed) return null;
  const keys = missing.length ? [...named] : known.map((port) => port.key);
  for (let at = 1; keys.length < needed; at++) if (!keys.includes(`p${at}`)) keys.push(`p${at}`);
  return {
    name: `${base.name}, ${plural(keys.length, 'port')}`.slice(0, 80),
    kind: base.kind,
    class: base.class,
    ...(base.forwards && { forwards: true }),
    ...(base.bridges && { bridges: base.bridges }),
    ports: keys.slice(0, 512).map((key) => ({
      key,
      connector: 'copper' as const,
      speeds: [100, 1000],
      pairing: base.bridges ? ('mdix' as const) : ('mdi' as const),
      auto: true,
      ...(base.bridges && { switched: true }),
    })),
  };
}

function addLink(
  topology: Topology,
  link: ForeignLink,
  {
    idOf,
    newId,
    left,
    base,
  }: {
    idOf: ReadonlyMap<string, string>;
    newId: (wished: string, prefix: string) => string;
    left: string[];
    base: Topology;
  },
): void {
  const words = `The link from "${link.a.node}" to "${link.b.node}"`;
  const [a, b] = [idOf.get(link.a.node), idOf.get(link.b.node)];
  const missing = a === undefined ? link.a.node : b === undefined ? link.b.node : null;
  if (missing !== null || a === undefined || b === undefined)
    return void left.push(`${words} was left out: there is no "${missing}".`);
  if (a === b) return void left.push(`${words} was left out: it joins a device with itself.`);
  const medium = MEDIA.find((known) => known === link.medium);
  if (link.medium && !medium) left.push(`${words} has the unknown medium "${link.medium}": it got one that fits.`);
  const end = (device: string, port: string | undefined) => ({ device, ...(port && { port: portKeyOf(port) }) });
  const [mine, theirs] = [end(a, link.a.port), end(b, link.b.port)];
  const there = Object.keys(base.links).find(
    (id) => topology.links[id] === base.links[id] && joins(base.links[id]!, mine, theirs),
  );
  const cable = there === undefined ? cableBetween(topology, mine, theirs, medium) : base.links[there]!;
  if (!cable) return void left.push(`${words} was left out: no free ports of the two fit together.`);
  topology.links[there ?? newId(link.id ?? `${a}--${b}`, 'l')] = {
    ...cable,
    ...(medium && { medium }),
    ...(link.cableId && { cableId: link.cableId.slice(0, 80) }),
    ...(link.lengthM !== undefined && link.lengthM >= 0 && { lengthM: link.lengthM }),
  };
}

type Wished = { device: string; port?: string };
/** Whether a link joins two devices, at the ports that are said. */
function joins({ a, b }: Link, first: Wished, second: Wished): boolean {
  const at = (end: LinkEnd, wished: Wished): boolean =>
    end.device === wished.device && (wished.port === undefined || wished.port === end.port);
  return (at(a, first) && at(b, second)) || (at(a, second) && at(b, first));
}

/** Addresses at the first ports that carry one; those without a prefix, or too many of them, are told. */
function withAddresses(
  topology: Topology,
  nodes: readonly ForeignNode[],
  idOf: ReadonlyMap<string, string>,
  left: string[],
): Topology {
  let draft = topology;
  for (const node of nodes) {
    const id = idOf.get(node.id)!;
    const ports = portsOf(topology, topology.devices[id]!).filter(
      (port) => !port.switched && port.connector !== 'console',
    );
    for (const [at, text] of (node.addresses ?? []).entries()) {
      const port = ports[at];
      const read = parseInterfaceAddress(text);
      if (!read.ok) left.push(`The address ${JSON.stringify(text)} of "${node.id}" was left out: ${read.error.text}`);
      else if (!port) left.push(`The address ${text} of "${node.id}" was left out: it has no port for it.`);
      else {
        const done = applyCommand(draft, setAddress(draft, id, port.key, read.value.address.family, text));
        if (done.ok) draft = done.value.document;
      }
    }
  }
  return draft;
}

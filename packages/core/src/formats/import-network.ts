import { parseInterfaceAddress } from '../address';
import { findModels } from '../bench';
import { type Cable, cableBetween, setAddress } from '../editing';
import { plural } from '../plural';
import { type Result, fail, ok } from '../result';
import {
  type Link,
  type LinkEnd,
  type Medium,
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
  /** Where in its file it stands, for what is told of it. */
  place?: string | undefined;
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
  /** What the file left out and was filled in, in sentences. */
  filled?: readonly string[];
  /** Whether the drawing that was there is part of it: the file told changes of it. */
  joined?: boolean;
}

/** Distances of devices that come without places. */
const GRID = { across: 220, down: 130 };

/**
 * Makes a drawing of a foreign network: words become models, ports and media, and what says none gets what fits. With a
 * drawing as the base, devices that have a node's name stay as they are, and what is new comes below them. `ending` ends
 * each new id, so that what two people add to one drawing at once does not meet.
 */
export function drawingOf(
  { title, nodes, links }: ImportedNetwork,
  base: Topology = emptyTopology(),
  ending: () => string = () => '',
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
  const newId = freshIds([base.sites, base.devices, base.links, base.models ?? {}].flatMap(Object.keys), ending);
  const idOf = new Map<string, string>();
  const known = new Map(entriesById(base.devices).map(([id, { name }]) => [name, id]));
  const siteIds = new Map(entriesById(base.sites).map(([id, { name }]) => [name, id]));
  const lowest = Math.max(...Object.values(base.devices).map((device) => device.at.y + GRID.down), 0);
  const wanted = portsWanted(nodes, links);
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
    const understood = modelSaid(node);
    const guess = understood ?? modelNamed(name);
    const said = node.kind ?? node.model;
    if (!guess && said === undefined) unknown.push(name);
    const { degree, ports } = wanted.get(node.id)!;
    const ends = Math.max(degree, node.ports?.length ?? 0);
    const model = guess ?? (ends > 1 ? 'access-switch-12' : 'desktop');
    if (!understood && said !== undefined)
      left.push(
        `${node.place === undefined ? '' : `${node.place}: `}“${said}” is no kind of device that is known: ${name} was taken as a ${KIT[model]!.name.toLowerCase()} by its ${guess ? 'name' : 'links'}.`,
      );
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
    const own = ownModel(topology, id, [...ports], degree);
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
  const plugged = new PluggedPorts(base.links);
  // What is said of a port holds before any cable takes the next free one.
  const openEnds = ({ a, b }: ForeignLink): number => Number(!a.port) + Number(!b.port);
  for (const link of [...links].sort((a, b) => openEnds(a) - openEnds(b)))
    addLink(topology, link, { idOf, newId, left, base, plugged });
  const addressed = withAddresses(topology, nodes, idOf, left);
  const read = readTopology(addressed);
  return read.ok ? ok({ topology: read.value, left: firstOf(left) }) : fail(read.error);
}

/** Nobody reads more of what was left out. */
const MOST_LEFT = 200;
const firstOf = (left: readonly string[]): string[] =>
  left.length > MOST_LEFT
    ? [...left.slice(0, MOST_LEFT), `${left.length - MOST_LEFT} more of this kind were left out.`]
    : [...left];

/** Ids of the form that documents want, each once, with an ending that nobody else's have where one is given. */
function freshIds(taken: readonly string[], ending: () => string): (wished: string, prefix: string) => string {
  const used = new Set(taken);
  /** The number with which to go on for an id that is wished again: so many alike do not all try all that were given. */
  const next = new Map<string, number>();
  return (wished, prefix) => {
    const plain = `${wished.replaceAll(/[^A-Za-z0-9_.:-]+/g, '-').slice(0, 48)}${ending()}`;
    const first = /^[A-Za-z0-9]/.test(plain) ? plain : `${prefix}${plain}`;
    let id = first;
    let at = next.get(first) ?? 2;
    for (; used.has(id); at++) id = `${first}-${at}`;
    next.set(first, at);
    used.add(id);
    return id;
  };
}

/** The model that a node's own words speak of: its model, else its kind. */
function modelSaid({ model, kind }: ForeignNode): string | undefined {
  if (model !== undefined && entryOf(KIT, model)) return model;
  return modelOfWords([model, kind, kind?.replaceAll(/[-_]/g, ' ')]);
}
/** The model that the letters at the beginning of a name speak of. */
const modelNamed = (name: string): string | undefined => modelOfWords([/^[A-Za-z]{2,}/.exec(name)?.[0]]);

function modelOfWords(words: readonly (string | undefined)[]): string | undefined {
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

/** How many links each node has to others that are there, and the keys of the ports that are named of it. */
function portsWanted(
  nodes: readonly ForeignNode[],
  links: readonly ForeignLink[],
): ReadonlyMap<string, { degree: number; ports: Set<string> }> {
  const wanted = new Map(nodes.map(({ id }) => [id, { degree: 0, ports: new Set<string>() }]));
  for (const { id, ports = [] } of nodes) for (const port of ports) wanted.get(id)!.ports.add(portKeyOf(port));
  for (const { a, b } of links) {
    const isJoined = wanted.has(a.node) && wanted.has(b.node);
    for (const { node, port } of [a, b]) {
      const of = wanted.get(node);
      if (!of) continue;
      if (isJoined) of.degree++;
      if (port) of.ports.add(portKeyOf(port));
    }
  }
  return wanted;
}

/** Ports that a model may have. */
const MOST_PORTS = 512;

/** A model with the ports that are named, and enough of them, where the one that was found has not; null where it has. */
function ownModel(topology: Topology, id: string, named: readonly string[], needed: number): Model | null {
  const device = topology.devices[id]!;
  const base = modelOf(topology, device)!;
  const all = portsOf(topology, device);
  const there = new Set(all.map((port) => port.key));
  const known = all.filter((port) => port.connector !== 'console');
  const isMissing = named.some((key) => !there.has(key));
  if (!isMissing && known.length >= needed) return null;
  const keys = new Set(isMissing ? named : known.map((port) => port.key));
  for (let at = 1; keys.size < Math.min(needed, MOST_PORTS); at++) keys.add(`p${at}`);
  return {
    name: `${base.name}, ${plural(Math.min(keys.size, MOST_PORTS), 'port')}`.slice(0, 80),
    kind: base.kind,
    class: base.class,
    ...(base.forwards && { forwards: true }),
    ...(base.bridges && { bridges: base.bridges }),
    ports: [...keys].slice(0, MOST_PORTS).map((key) => ({
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
    plugged,
  }: {
    idOf: ReadonlyMap<string, string>;
    newId: (wished: string, prefix: string) => string;
    left: string[];
    base: Topology;
    plugged: PluggedPorts;
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
  const there = plugged
    .between(a, b)
    .find((id) => topology.links[id] === base.links[id] && joins(base.links[id]!, mine, theirs));
  const cable = there === undefined ? plugged.cable(topology, mine, theirs, medium) : base.links[there]!;
  if (!cable) return void left.push(`${words} was left out: no free ports of the two fit together.`);
  const id = there ?? newId(link.id ?? `${a}--${b}`, 'l');
  const made: Link = {
    ...cable,
    ...(medium && { medium }),
    ...(link.cableId && { cableId: link.cableId.slice(0, 80) }),
    ...(link.lengthM !== undefined && link.lengthM >= 0 && { lengthM: link.lengthM }),
  };
  topology.links[id] = made;
  plugged.add(id, made);
}

/** Which ports are taken: one link of each, by device, however many there are. */
class PluggedPorts {
  private readonly links = new Map<string, Map<string, [string, Link]>>();
  private readonly old = new Map<string, string[]>();
  /** Pairs of devices of which no two free ports fit any more: nothing is unplugged here. */
  private readonly full = new Set<string>();

  constructor(links: Topology['links']) {
    for (const [id, link] of Object.entries(links)) {
      this.add(id, link);
      const pair = pairOf(link.a.device, link.b.device);
      this.old.set(pair, [...(this.old.get(pair) ?? []), id]);
    }
  }

  add(id: string, link: Link): void {
    for (const { device, member = '', port } of [link.a, link.b]) {
      const ports = this.links.get(device) ?? new Map<string, [string, Link]>();
      this.links.set(device, ports.set(`${member} ${port}`, [id, link]));
    }
  }

  /** Ids of links that were there before between two devices. */
  between(a: string, b: string): readonly string[] {
    return this.old.get(pairOf(a, b)) ?? [];
  }

  /** A cable at free ports, looked for among the links of the two devices only. */
  cable(topology: Topology, mine: Wished, theirs: Wished, medium: Medium | undefined): Cable | null {
    const pair = pairOf(mine.device, theirs.device);
    const isAnyPort = mine.port === undefined && theirs.port === undefined;
    if (isAnyPort && this.full.has(pair)) return null;
    const near = [mine.device, theirs.device].flatMap((device) => [...(this.links.get(device)?.values() ?? [])]);
    const found = cableBetween({ ...topology, links: Object.fromEntries(near) }, mine, theirs, medium);
    if (isAnyPort && !found) this.full.add(pair);
    return found;
  }
}
const pairOf = (a: string, b: string): string => JSON.stringify([a, b].sort());

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

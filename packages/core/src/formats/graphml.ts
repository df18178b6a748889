import { SaxesParser } from 'saxes';
import { plural } from '../plural';
import { fail, type Result } from '../result';
import { type Problem, type Topology, entriesById } from '../topology';
import { MAX_FILE_BYTES } from './document';
import { type ForeignLink, type ForeignNode, type Imported, drawingOf } from './import-network';
import { xmlText } from './xml';

/** GraphML (graphml.graphdrawing.org): nodes and edges with data by keys. Names, ports, sites and addresses are data. */
const NAMESPACE = 'http://graphml.graphdrawing.org/xmlns';
const NODE_KEYS = {
  name: 'string',
  model: 'string',
  site: 'string',
  x: 'double',
  y: 'double',
  addresses: 'string',
} as const;
const EDGE_KEYS = {
  a_port: 'string',
  b_port: 'string',
  medium: 'string',
  cable_id: 'string',
  length_m: 'double',
} as const;
/** No file of nodes and edges is nested nearly so deep. */
const MAX_DEPTH = 32;

export function writeGraphml(topology: Topology): string {
  const keys = (sort: 'node' | 'edge', of: Readonly<Record<string, string>>): string[] =>
    Object.entries(of).map(
      ([name, type]) => `  <key id="${sort}-${name}" for="${sort}" attr.name="${name}" attr.type="${type}"/>`,
    );
  const data = (sort: 'node' | 'edge', of: Readonly<Record<string, string | number | undefined>>): string =>
    Object.entries(of)
      .map(([name, value]) =>
        value === undefined || value === '' ? '' : `<data key="${sort}-${name}">${xmlText(String(value))}</data>`,
      )
      .join('');
  const nodes = entriesById(topology.devices).map(([id, { name, model, site, at, interfaces }]) => {
    const addresses = entriesById(interfaces).flatMap(([, { v4, v6 }]) => [
      ...(v4?.addresses ?? []),
      ...(v6?.addresses ?? []),
    ]);
    const properties = {
      name,
      model,
      site: site && topology.sites[site]!.name,
      x: at.x,
      y: at.y,
      addresses: addresses.join(' '),
    };
    return `    <node id="${xmlText(id)}">${data('node', properties)}</node>`;
  });
  const edges = entriesById(topology.links).map(([id, { a, b, medium, cableId, lengthM }]) => {
    const properties = { a_port: a.port, b_port: b.port, medium, cable_id: cableId, length_m: lengthM };
    return `    <edge id="${xmlText(id)}" source="${xmlText(a.device)}" target="${xmlText(b.device)}">${data('edge', properties)}</edge>`;
  });
  return `${[
    '<?xml version="1.0" encoding="UTF-8"?>',
    `<graphml xmlns="${NAMESPACE}">`,
    ...keys('node', NODE_KEYS),
    ...keys('edge', EDGE_KEYS),
    `  <graph id="${xmlText(topology.title ?? 'drawing')}" edgedefault="undirected">`,
    ...nodes,
    ...edges,
    '  </graph>',
    '</graphml>',
  ].join('\n')}\n`;
}

interface Element {
  readonly attributes: Readonly<Record<string, string>>;
  readonly data: Map<string, string>;
}

/** Reads nodes and edges with what their data tell by everyday names; what else is in the file is told as left out. */
export function readGraphml(text: string): Result<Imported, Problem[]> {
  if (new TextEncoder().encode(text).length > MAX_FILE_BYTES)
    return fail([{ place: '', text: `The file is larger than ${MAX_FILE_BYTES / 1e6} MB: so much is not taken.` }]);
  const read = elementsOf(text);
  if (!read.ok) return read;
  const { nodes, edges, title, left } = read.value;
  const made = drawingOf({ title, nodes: nodes.map(nodeOf), links: edges.map(linkOf) });
  return made.ok ? { ok: true, value: { ...made.value, left: [...left, ...made.value.left] } } : made;
}

interface Elements {
  nodes: Element[];
  edges: Element[];
  title: string | undefined;
  left: string[];
}

function elementsOf(text: string): Result<Elements, Problem[]> {
  const parser = new SaxesParser({ xmlns: true, position: true });
  const found: Elements = { nodes: [], edges: [], title: undefined, left: [] };
  const names = new Map<string, string>();
  const strange = new Map<string, number>();
  const open: string[] = [];
  let element: Element | null = null;
  let key: string | null = null;
  let value = '';
  let problem: Problem | null = null;
  const refuse = (why: string): void => {
    problem ??= { place: `line ${parser.line}`, text: why };
  };
  parser.on('error', (error) => refuse(`This is no XML: ${error.message.replace(/^\d+:\d+: /, '')}`));
  // What a document type declares could make a small file a huge one, or one that reads other files.
  parser.on('doctype', () => refuse('A document type with entities is not taken: remove the DOCTYPE line.'));
  parser.on('opentag', (tag) => {
    if (open.push(tag.local) > MAX_DEPTH) refuse(`The file is nested deeper than ${MAX_DEPTH} levels.`);
    const attributes = Object.fromEntries(
      Object.values(tag.attributes).map((attribute) => [attribute.name, attribute.value]),
    );
    if (tag.uri !== '' && tag.uri !== NAMESPACE)
      return void strange.set(tag.prefix, (strange.get(tag.prefix) ?? 0) + 1);
    switch (tag.local) {
      case 'key':
        names.set(attributes.id ?? '', (attributes['attr.name'] ?? attributes.id ?? '').toLowerCase());
        break;
      case 'graph':
        found.title ??= attributes.id;
        break;
      case 'node':
      case 'edge':
        element = { attributes, data: new Map() };
        (tag.local === 'node' ? found.nodes : found.edges).push(element);
        break;
      case 'data':
        [key, value] = [names.get(attributes.key ?? '') ?? attributes.key ?? '', ''];
        break;
      case 'hyperedge':
      case 'port':
        strange.set(tag.local, (strange.get(tag.local) ?? 0) + 1);
    }
  });
  const read = (part: string): void => void (value += part);
  parser.on('text', read);
  parser.on('cdata', read);
  parser.on('closetag', (tag) => {
    open.pop();
    if (tag.local !== 'data' || key === null) return;
    if (value.trim()) element?.data.set(key, value);
    key = null;
  });
  for (let at = 0; at < text.length && !problem; at += CHUNK) parser.write(text.slice(at, at + CHUNK));
  if (!problem) parser.close();
  if (problem) return fail([problem]);
  if (!found.nodes.length) return fail([{ place: '', text: 'The file holds no nodes.' }]);
  for (const [what, count] of strange)
    found.left.push(
      `${plural(count, `element "${what}"`, `elements "${what}"`)} ${count === 1 ? 'was' : 'were'} left out.`,
    );
  return { ok: true, value: found };
}
/** So many characters are read before it is asked whether something was wrong: what nests without end costs with its square. */
const CHUNK = 4_096;

const first = ({ data }: Element, ...keys: readonly string[]): string | undefined => {
  const key = keys.find((key) => data.has(key));
  return key === undefined ? undefined : data.get(key)!;
};
const number = (text: string | undefined): number | undefined => {
  const read = text === undefined ? NaN : Number(text);
  return Number.isFinite(read) && Math.abs(read) <= 1e6 ? read : undefined;
};

function nodeOf(element: Element): ForeignNode {
  const [x, y] = [number(first(element, 'x')), number(first(element, 'y'))];
  return {
    id: element.attributes.id ?? '',
    name: first(element, 'name', 'label'),
    model: first(element, 'model'),
    kind: first(element, 'kind', 'type', 'role'),
    site: first(element, 'site', 'location'),
    at: x === undefined || y === undefined ? undefined : { x, y },
    addresses: first(element, 'addresses', 'address', 'ip')
      ?.split(/[\s,;]+/)
      .filter(Boolean),
  };
}

function linkOf(element: Element): ForeignLink {
  const { id, source = '', target = '', sourceport, targetport } = element.attributes;
  return {
    id,
    a: { node: source, port: first(element, 'a_port', 'source_port') ?? sourceport },
    b: { node: target, port: first(element, 'b_port', 'target_port') ?? targetport },
    medium: first(element, 'medium'),
    cableId: first(element, 'cable_id', 'label'),
    lengthM: number(first(element, 'length_m')),
  };
}

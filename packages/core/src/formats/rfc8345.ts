import { fail, type Result } from '../result';
import {
  type Device,
  type Link,
  type LinkEnd,
  type Problem,
  type Topology,
  entriesById,
  portsOf,
  readTopology,
} from '../topology';
import { MAX_FILE_BYTES, parseJson } from './document';
import { type ForeignLink, type ForeignNode, type Imported, drawingOf } from './import-network';

/**
 * The network topology of RFC 8345 in JSON (RFC 7951). What the RFC has no words for stands in an augmentation of the
 * module `sobrin-topology`, so that a drawing comes back to the letter. Links of the RFC go one way (section 4.4.5):
 * each of a drawing is two.
 */
const NETWORKS = 'ietf-network:networks';
const LINKS = 'ietf-network-topology:link';
const POINTS = 'ietf-network-topology:termination-point';
const OURS = { drawing: 'sobrin-topology:drawing', device: 'sobrin-topology:device', link: 'sobrin-topology:link' };
const L3_NODE = 'ietf-l3-unicast-topology:l3-node-attributes';
const L2_NODE = 'ietf-l2-topology:l2-node-attributes';
const BACK = ':back';

type Tree = Readonly<Record<string, unknown>>;
const isTree = (value: unknown): value is Tree => value !== null && typeof value === 'object' && !Array.isArray(value);
const treesOf = (value: unknown): Tree[] => (Array.isArray(value) ? value.filter(isTree) : []);
const textOf = (value: unknown): string | undefined => (typeof value === 'string' ? value : undefined);

export function writeRfc8345(topology: Topology): string {
  const { devices, links, ...rest } = topology;
  const network = {
    'network-id': 'drawing',
    'network-types': { 'sobrin-topology:drawing': {} },
    node: entriesById(devices).map(([id, device]) => ({
      'node-id': id,
      [POINTS]: pointsOf(topology, device).map((point) => ({ 'tp-id': point })),
      [OURS.device]: device,
    })),
    [LINKS]: entriesById(links).flatMap(([id, { a, b, ...link }]) => [
      {
        'link-id': id,
        source: { 'source-node': a.device, 'source-tp': pointOf(a) },
        destination: { 'dest-node': b.device, 'dest-tp': pointOf(b) },
        [OURS.link]: link,
      },
      {
        'link-id': `${id}${BACK}`,
        source: { 'source-node': b.device, 'source-tp': pointOf(b) },
        destination: { 'dest-node': a.device, 'dest-tp': pointOf(a) },
      },
    ]),
    [OURS.drawing]: rest,
  };
  return `${JSON.stringify({ [NETWORKS]: { network: [network] } }, null, 2)}\n`;
}

/** A port of a device, or of one of the like hosts of a tile. No port key begins with an "@". */
const pointOf = ({ member, port }: Omit<LinkEnd, 'device'>): string =>
  member === undefined ? port : `@${member}/${port}`;
function endOf(device: string, point: string): LinkEnd {
  const [, member, port] = /^@([^/]*)\/(.*)$/s.exec(point) ?? [];
  return member === undefined ? { device, port: point } : { device, member, port: port! };
}
const pointsOf = (topology: Topology, device: Device): string[] => {
  const ports = portsOf(topology, device).map((port) => port.key);
  if (!device.members) return ports;
  return entriesById(device.members).flatMap(([member]) => ports.map((port) => pointOf({ member, port })));
};

/** Reads a drawing of ours to the letter, and of foreign ones the first network with nodes. */
export function readRfc8345(text: string): Result<Imported, Problem[]> {
  const json = parseJson(text, MAX_FILE_BYTES);
  if (!json.ok) return json;
  const root = isTree(json.value) ? json.value[NETWORKS] : undefined;
  const networks = treesOf(isTree(root) ? root.network : undefined);
  const network =
    networks.find((network) => OURS.drawing in network) ?? networks.find((network) => treesOf(network.node).length > 0);
  if (!network) return fail([{ place: NETWORKS, text: 'The file holds no network with nodes, as RFC 8345 has them.' }]);
  return isTree(network[OURS.drawing]) ? readOurs(network) : readForeign(network, networks.length);
}

function readOurs(network: Tree): Result<Imported, Problem[]> {
  const devices = Object.fromEntries(treesOf(network.node).map((node) => [String(node['node-id']), node[OURS.device]]));
  const links = Object.fromEntries(
    treesOf(network[LINKS]).flatMap((link) => {
      if (!isTree(link[OURS.link])) return [];
      const { a, b } = endsOf(link);
      return [
        [
          String(link['link-id']),
          { ...(link[OURS.link] as Partial<Link>), a: endOf(a.node, a.port ?? ''), b: endOf(b.node, b.port ?? '') },
        ],
      ];
    }),
  );
  const read = readTopology({ ...(network[OURS.drawing] as Tree), devices, links });
  return read.ok ? { ok: true, value: { topology: read.value, left: [] } } : read;
}

function endsOf(link: Tree): Pick<ForeignLink, 'a' | 'b'> {
  const [source, target] = [link.source, link.destination].map((end) => (isTree(end) ? end : {})) as [Tree, Tree];
  return {
    a: { node: String(source['source-node']), port: textOf(source['source-tp']) },
    b: { node: String(target['dest-node']), port: textOf(target['dest-tp']) },
  };
}

function readForeign(network: Tree, count: number): Result<Imported, Problem[]> {
  const nodes = treesOf(network.node).map((node): ForeignNode => {
    const named = [node[L3_NODE], node[L2_NODE]].find(isTree);
    return {
      id: String(node['node-id']),
      name: textOf(named?.name),
      ports: treesOf(node[POINTS]).map((point) => String(point['tp-id'])),
    };
  });
  // The two ways of one link are one cable.
  const seen = new Set<string>();
  const links = treesOf(network[LINKS]).flatMap((link): ForeignLink[] => {
    const ends = endsOf(link);
    const key = [ends.a, ends.b]
      .map(({ node, port }) => JSON.stringify([node, port]))
      .sort()
      .join(' ');
    const known = seen.has(key) && ends.a.port !== undefined && ends.b.port !== undefined;
    seen.add(key);
    return known ? [] : [{ id: textOf(link['link-id']), ...ends }];
  });
  const read = drawingOf({ title: textOf(network['network-id']), nodes, links });
  if (!read.ok || count === 1) return read;
  return {
    ok: true,
    value: {
      ...read.value,
      left: [`The file holds ${count} networks: the first one with nodes was read.`, ...read.value.left],
    },
  };
}

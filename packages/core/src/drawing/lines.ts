import { type Link, type LinkEnd, type Medium, type Topology, modelOf } from '../topology';
import { type Box, boxAround } from './boxes';
import { CHIP, type Edges, type Socket, type Spot, socketKey } from './edges';
import { unchanged } from './memo';
import { type Side, type Tile, portAddressText, shortAddress } from './tiles';

/** One end of a link at its tile: where its port chip is, and what is written there. */
export interface LineEnd extends Socket {
  readonly device: string;
  readonly port: string;
  /** Short on the drawing; empty where nothing is to be written. */
  readonly text: string;
  /** In full, where the link is looked at. */
  readonly full: string;
}

/** A link as it is drawn: a polyline from the far side of one chip to that of the other. */
export interface LinkLine {
  readonly id: string;
  readonly medium: Medium;
  /** The end of a serial link that gives the clock. */
  readonly clock: 'a' | 'b' | null;
  readonly a: LineEnd;
  readonly b: LineEnd;
  readonly points: readonly Spot[];
  readonly lengthM: number | undefined;
  /** How thick it is beside the others, as a factor. */
  readonly scale: number;
  /** Whether its bends are corners. */
  readonly square: boolean;
  /** The word in its middle, and its tone; neither where there is no word. */
  readonly word: string;
  readonly tint: number | null;
  /** The box of all its points. */
  readonly box: Box;
}

/** The lines of all links between tiles; a line stays the same object as long as nothing of it changes. */
export class Lines {
  private before: { topology: Topology | null; lines: ReadonlyMap<string, LinkLine> } = {
    topology: null,
    lines: new Map(),
  };

  /** The lines in the order of `links`. */
  of(
    topology: Topology,
    links: readonly (readonly [string, Link])[],
    { tiles, sockets, touched }: ReturnType<Edges['of']>,
  ): ReadonlyMap<string, LinkLine> {
    const { before } = this;
    const make = (id: string, link: Link): LinkLine | null => {
      const [a, b] = [sockets.get(socketKey(id, 'a')), sockets.get(socketKey(id, 'b'))];
      if (!a || !b) return null;
      const made = lineOf(topology, id, link, a, b, carriedBy(topology, link, tiles));
      const old = before.lines.get(id);
      return old && sameLine(old, made) ? old : made;
    };
    const sameTexts = before.topology?.endTexts === topology.endTexts;
    const isStale = (id: string): boolean => !sameTexts || touched.has(id) || !before.lines.has(id);
    const sameLinks = before.topology?.links === topology.links;
    const lines = new Map(sameLinks ? before.lines : []);
    for (const [id, link] of sameLinks && sameTexts
      ? [...touched].map((id) => [id, topology.links[id]!] as const)
      : links) {
      const line = isStale(id) ? make(id, link) : before.lines.get(id)!;
      if (line) lines.set(id, line);
    }
    this.before = { topology, lines };
    return lines;
  }
}

function sameLine(old: LinkLine, made: LinkLine): boolean {
  const fields = { ...made, a: old.a, b: old.b, points: old.points, box: old.box };
  return (
    unchanged(old, fields) === old &&
    unchanged(old.a, made.a) === old.a &&
    unchanged(old.b, made.b) === old.b &&
    old.points.length === made.points.length &&
    made.points.every((point, at) => unchanged(old.points[at], point) !== point)
  );
}

/** How far both ends of a link are being carried together: its bends go along. */
function carriedBy(topology: Topology, link: Link, tiles: ReadonlyMap<string, Tile>): Spot {
  if (!link.bends) return { x: 0, y: 0 };
  const [a, b] = [link.a, link.b].map(({ device }) => {
    const [tile, { at }] = [tiles.get(device)!, topology.devices[device]!];
    return { x: tile.x - at.x, y: tile.y - at.y };
  }) as [Spot, Spot];
  return a.x === b.x && a.y === b.y ? a : { x: 0, y: 0 };
}

const SCALES = { thin: 0.75, thick: 1.5 } as const;

function lineOf(topology: Topology, id: string, link: Link, a: Socket, b: Socket, by: Spot): LinkLine {
  const bends = (link.bends ?? []).map(({ x, y }) => ({ x: x + by.x, y: y + by.y }));
  const points = [outside(a), ...bends, outside(b)];
  const gives = (end: LinkEnd): boolean => topology.devices[end.device]?.ports?.[end.port]?.clockEnd === true;
  return {
    id,
    medium: link.medium,
    lengthM: link.lengthM,
    scale: link.thickness === undefined ? 1 : SCALES[link.thickness],
    square: link.corners === 'square',
    word: link.label?.trim() ?? '',
    tint: (link.label?.trim() && link.tint) || null,
    clock: gives(link.a) ? 'a' : gives(link.b) ? 'b' : null,
    a: lineEnd(topology, link, link.a, a),
    b: lineEnd(topology, link, link.b, b),
    points,
    box: boxAround(points.map((point) => ({ ...point, width: 0, height: 0 })))!,
  };
}

function lineEnd(topology: Topology, link: Link, { device, port }: LinkEnd, socket: Socket): LineEnd {
  const found = topology.devices[device]!;
  const name = found.ports?.[port]?.label ?? port;
  const address = portAddressText(topology, device, port);
  const wanted = link.endTexts ?? topology.endTexts ?? 'both';
  // A host has one port: its address stands under the tile already.
  const isHost = modelOf(topology, found)?.class === 'end';
  const parts = [
    wanted === 'both' || wanted === 'ports' ? name : '',
    address !== null && (wanted === 'addresses' || (wanted === 'both' && !isHost)) ? shortAddress(address) : '',
  ];
  return {
    ...socket,
    device,
    port,
    text: link.medium === 'wireless' ? '' : parts.filter(Boolean).join(' '),
    full: address === null ? name : `${name} ${address}`,
  };
}

const OUT: Record<Side, Spot> = {
  top: { x: 0, y: -1 },
  bottom: { x: 0, y: 1 },
  left: { x: -1, y: 0 },
  right: { x: 1, y: 0 },
};
const outside = ({ x, y, side }: Socket): Spot => ({
  x: x + (OUT[side].x * CHIP) / 2,
  y: y + (OUT[side].y * CHIP) / 2,
});

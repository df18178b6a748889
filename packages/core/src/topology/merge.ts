import { type MergeRules, bothAdded } from '../changes';
import { entriesById } from '../records';
import { type Topology } from './schema';
import { readTopology } from './validate';

/** What says where a thing stands on the drawing: the later of two holds, and nobody need be asked. */
const LAYOUT: ReadonlySet<string> = new Set(['at', 'area', 'bends', 'width', 'height', 'order', 'layer', 'pinned']);

/** How two drawings that were made of the same one are put together. */
export const DRAWING_MERGE: MergeRules<Topology> = {
  broken: (drawing) => {
    const read = readTopology(drawing);
    return read.ok ? [] : read.error.map(({ place }) => place.split(' › '));
  },
  // A position, or how far a text was moved, is one value: not x of one and y of the other.
  whole: (path) =>
    path[2] === 'at' || path[2] === 'area' ? path.slice(0, 3) : path[2] === 'labelOffsets' ? path.slice(0, 4) : path,
  settle: ([map, , property], base, mine, theirs) => {
    if (property !== undefined && (LAYOUT.has(property) || property === 'labelOffsets'))
      return { value: mine, later: true };
    // Two answers in one thread.
    const both = map === 'comments' && property === 'entries' ? bothAdded(base, mine, theirs) : null;
    return both && { value: both };
  },
};

/** Nearer than half a tile, in pixels, one device hides another. */
const COVERED = 20;

/** What a drawing has twice and should have once, as sentences by what is meant: names of devices, ports with two cables, places. */
export function doubled({ devices, links }: Topology): ReadonlyMap<string, string> {
  const names = new Map<string, number>();
  for (const [, { name }] of entriesById(devices)) names.set(name, (names.get(name) ?? 0) + 1);
  const all = entriesById(devices);
  const covered = all.flatMap(([id, { at, name }], index) =>
    all.slice(index + 1).flatMap(([other, { at: there, name: otherName }]) => {
      const isCovered = Math.abs(at.x - there.x) < COVERED && Math.abs(at.y - there.y) < COVERED;
      return isCovered
        ? [[`place ${id} ${other}`, `${name} and ${otherName} stand in one place: move one.`] as const]
        : [];
    }),
  );
  const ports = new Map<string, { words: string; count: number }>();
  for (const [, { a, b }] of entriesById(links))
    for (const { device, member, port } of [a, b]) {
      const key = JSON.stringify([device, member ?? null, port]);
      const known = ports.get(key);
      if (known) known.count++;
      else ports.set(key, { words: `${devices[device]?.name ?? device} ${port}`, count: 1 });
    }
  return new Map([
    ...[...names]
      .filter(([, count]) => count > 1)
      .map(([name]) => [`name ${name}`, `Two devices are called ${name}.`] as const),
    ...covered,
    ...[...ports]
      .filter(([, { count }]) => count > 1)
      .map(([key, { words }]) => [`port ${key}`, `Two cables are in ${words}.`] as const),
  ]);
}

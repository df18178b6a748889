import { sameValue } from '../changes';
import { MEDIUM_NAMES } from '../engine';
import { type Interface, type Link, type Topology, entriesById, modelOf } from '../topology';

/** One thing that two drawings do not have alike. `name` is how people know it, `details` what differs, in words. */
export interface DrawingChange {
  readonly what: 'added' | 'removed' | 'changed';
  readonly sort: 'device' | 'link' | 'site' | 'note' | 'comment' | 'picture' | 'model' | 'drawing';
  readonly id: string;
  readonly name: string;
  readonly details: readonly string[];
}

type Tree = Readonly<Record<string, unknown>>;
const SORTS = [
  ['sites', 'site'],
  ['devices', 'device'],
  ['links', 'link'],
  ['notes', 'note'],
  ['comments', 'comment'],
  ['pictures', 'picture'],
  ['models', 'model'],
] as const;
const MAPS: ReadonlySet<string> = new Set(SORTS.map(([map]) => map));

/** What became of one drawing in another: things by their ids, sites and devices first. */
export function drawingChanges(before: Topology, after: Topology): DrawingChange[] {
  const found: DrawingChange[] = [];
  const drawing = changedKeys(before as Tree, after as Tree).filter((key) => !MAPS.has(key));
  if (drawing.length)
    found.push({
      what: 'changed',
      sort: 'drawing',
      id: '',
      name: 'the drawing',
      details: drawing.map((key) => detail(key, (before as Tree)[key], (after as Tree)[key])),
    });
  for (const [map, sort] of SORTS) {
    const [old, now] = [before[map], after[map]] as [
      Record<string, Tree> | undefined,
      Record<string, Tree> | undefined,
    ];
    for (const [id, thing] of entriesById(now)) {
      const was = old && Object.hasOwn(old, id) ? old[id]! : undefined;
      if (!was) found.push({ what: 'added', sort, id, name: nameOf(after, sort, id), details: [] });
      else if (!sameValue(was, thing))
        found.push({
          what: 'changed',
          sort,
          id,
          name: nameOf(after, sort, id),
          details: detailsOf(sort, id, was, thing, before, after),
        });
    }
    for (const [id] of entriesById(old))
      if (!now || !Object.hasOwn(now, id))
        found.push({ what: 'removed', sort, id, name: nameOf(before, sort, id), details: [] });
  }
  return found;
}

const changedKeys = (a: Tree, b: Tree): string[] =>
  [...new Set([...Object.keys(a), ...Object.keys(b)])].filter((key) => !sameValue(a[key], b[key]));

function nameOf(topology: Topology, sort: DrawingChange['sort'], id: string): string {
  switch (sort) {
    case 'device':
      return topology.devices[id]!.name || id;
    case 'link': {
      const { a, b } = topology.links[id]!;
      return `${endWords(topology, a)} – ${endWords(topology, b)}`;
    }
    case 'site':
      return topology.sites[id]!.name || id;
    case 'note':
      return short(topology.notes![id]!.text.split('\n')[0]!);
    case 'comment':
      return short(topology.comments![id]!.entries[0]?.text ?? id);
    case 'picture':
      return topology.pictures![id]!.name || id;
    case 'model':
      return topology.models![id]!.name || id;
    case 'drawing':
      return 'the drawing';
  }
}

function detailsOf(
  sort: DrawingChange['sort'],
  id: string,
  was: Tree,
  now: Tree,
  before: Topology,
  after: Topology,
): string[] {
  return changedKeys(was, now).flatMap((key): string[] => {
    if (key === 'at' || key === 'area') return ['moved'];
    if (key === 'bends') return ['bent otherwise'];
    const own =
      sort === 'device'
        ? deviceDetails(key, id, before, after)
        : sort === 'link'
          ? linkDetails(key, id, before, after)
          : null;
    return own ?? [detail(key, was[key], now[key])];
  });
}

function deviceDetails(key: string, id: string, before: Topology, after: Topology): string[] | null {
  const [old, device] = [before.devices[id]!, after.devices[id]!];
  const site = ({ sites, devices }: Topology): string | undefined => sites[devices[id]!.site ?? '']?.name;
  switch (key) {
    case 'site':
      return [changed('site', site(before), site(after))];
    case 'model':
      return [changed('model', modelOf(before, old)?.name, modelOf(after, device)?.name)];
    case 'interfaces':
      return interfaceDetails(old.interfaces ?? {}, device.interfaces ?? {});
    case 'settings': {
      const [was, now]: Tree[] = [old.settings ?? {}, device.settings ?? {}];
      return changedKeys(was!, now!).map((key) => detail(key, was![key], now![key]));
    }
    default:
      return null;
  }
}

function linkDetails(key: string, id: string, before: Topology, after: Topology): string[] | null {
  const [old, link] = [before.links[id]!, after.links[id]!];
  if (key === 'medium') return [changed('medium', MEDIUM_NAMES[old.medium], MEDIUM_NAMES[link.medium])];
  return key === 'a' || key === 'b' ? [changed('end', endWords(before, old[key]), endWords(after, link[key]))] : null;
}

const endWords = (topology: Topology, { device, port }: Link['a']): string =>
  `${topology.devices[device]?.name ?? device} ${port}`;

function interfaceDetails(
  old: Readonly<Record<string, Interface>>,
  now: Readonly<Record<string, Interface>>,
): string[] {
  const words = (interfaceConfig: Interface | undefined): string | undefined =>
    interfaceConfig && [...(interfaceConfig.v4?.addresses ?? []), ...(interfaceConfig.v6?.addresses ?? [])].join(', ');
  return changedKeys(old, now).map((key) => {
    const [before, after] = [words(old[key]), words(now[key])];
    return before === after ? `${key} set otherwise` : changed(key, before, after);
  });
}

const detail = (key: string, old: unknown, now: unknown): string => {
  const word = WORDS[key] ?? key.replaceAll(/(?<=[a-z])(?=[A-Z0-9])/g, ' ').toLowerCase();
  const isPlain = (value: unknown): boolean => value === undefined || value === null || typeof value !== 'object';
  if (!isPlain(old) || !isPlain(now))
    return `${word} ${old === undefined ? 'added' : now === undefined ? 'removed' : 'changed'}`;
  return changed(word, old, now);
};
const WORDS: Readonly<Record<string, string>> = {
  lengthM: 'length in m',
  cableId: 'cable ID',
  powered: 'power',
  gateway4: 'gateway',
  gateway6: 'IPv6 gateway',
  endTexts: 'texts at ends',
};
const changed = (word: string, old: unknown, now: unknown): string => `${word}: ${shown(old)} → ${shown(now)}`;
const shown = (value: unknown): string =>
  value === undefined || value === ''
    ? 'none'
    : value === true
      ? 'yes'
      : value === false
        ? 'no'
        : short(typeof value === 'string' ? value : JSON.stringify(value));
const short = (text: string): string => (text.length > 60 ? `${text.slice(0, 59)}…` : text);

/** How many things of each sort were added, removed and changed: "3 devices and 2 links added, 1 device changed". */
export function changeWords(changes: readonly DrawingChange[]): string {
  const parts = (['added', 'changed', 'removed'] as const).flatMap((what) => {
    const counts = new Map<string, number>();
    for (const change of changes)
      if (change.what === what && change.sort !== 'drawing')
        counts.set(change.sort, (counts.get(change.sort) ?? 0) + 1);
    const words = [...counts].map(([sort, count]) => `${count} ${sort}${count === 1 ? '' : 's'}`);
    return words.length
      ? [`${words.length > 1 ? `${words.slice(0, -1).join(', ')} and ${words.at(-1)}` : words[0]} ${what}`]
      : [];
  });
  if (parts.length) return parts.join(', ');
  return changes.length ? 'the drawing’s own words changed' : 'no difference';
}

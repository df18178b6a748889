import { type DrawingChange, drawingChanges } from '../editing';
import { splitInstanceId } from '../engine';
import { type Device, type Link, type Site, type Topology, entriesById, entryOf } from '../topology';
import { withoutLayout } from './layout';
import { type RoleMatch } from './matching/match';

/** A thing that a student's drawing has and the reference has not, the other way round, or that both have otherwise. */
export interface ReferenceDifference {
  readonly what: 'more' | 'missing' | 'other';
  readonly sort: 'device' | 'link' | 'site';
  /** How it is called in the student's drawing; what is missing as in the reference. */
  readonly name: string;
  /** From the reference to the drawing. */
  readonly details: readonly string[];
  /** Its id in the student's drawing, and in the reference; absent where it is not there. */
  readonly drawn?: string;
  readonly reference?: string;
}

/** Before the ids of what the reference has not. */
const OWN = 'drawn ';
const ownId = (id: string): string => (id.startsWith(OWN) ? id.slice(OWN.length) : id);

const WHAT = { added: 'more', removed: 'missing', changed: 'other' } as const;

/**
 * How a student's drawing differs from the reference, as whoever plays a role is called and stands where it likes: devices
 * are paired by who plays which role, links by the devices at their ends, sites by most of their devices. A tile of several
 * is compared with the single devices that play its members as if they were there.
 */
export function referenceDifferences(
  reference: Topology,
  drawing: Topology,
  matching: readonly RoleMatch[],
): ReferenceDifference[] {
  const roles = new Map<string, string>();
  const [inTiles, tiles] = [new Set<string>(), new Set<string>()];
  for (const { role, device } of matching) {
    if (device === null) continue;
    const [asked, playing] = [splitInstanceId(role), splitInstanceId(device)];
    if (asked.member === undefined && playing.member === undefined) roles.set(playing.device, asked.device);
    else {
      tiles.add(asked.device);
      inTiles.add(playing.device);
    }
  }
  const sites = sitesBy(roles, reference, drawing);
  const links = linksBy(roles, reference, drawing);
  const idOf = (map: ReadonlyMap<string, string>, id: string): string => map.get(id) ?? OWN + id;
  const renamed = <T>(
    things: Readonly<Record<string, T>>,
    map: ReadonlyMap<string, string>,
    change: (thing: T, id: string) => T,
  ): Record<string, T> =>
    Object.fromEntries(entriesById(things).map(([id, thing]) => [idOf(map, id), change(thing, idOf(map, id))]));
  const bare = withoutLayout(drawing);
  const given = withoutLayout(reference);
  const device = ({ site, ...rest }: Device, id: string): Device => ({
    ...rest,
    ...(site !== undefined && { site: idOf(sites, site) }),
    // Names are free.
    name: entryOf(given.devices, id)?.name ?? rest.name,
  });
  const end = ({ device, ...rest }: Link['a']): Link['a'] => ({ ...rest, device: idOf(roles, device) });
  const link = ({ a, b, ...rest }: Link, id: string): Link => {
    const [one, other] = [end(a), end(b)];
    const isTurned = entryOf(given.links, id)?.a.device === other.device;
    return { ...rest, a: isTurned ? other : one, b: isTurned ? one : other };
  };
  const site =
    (given: Topology['sites']) =>
    (drawn: Site, id: string): Site => ({
      ...drawn,
      name: entryOf(given, id)?.name ?? drawn.name,
      ...(drawn.parent !== undefined && { parent: idOf(sites, drawn.parent) }),
    });
  const asDrawn: Topology = {
    ...bare,
    devices: renamed(bare.devices, roles, device),
    links: renamed(bare.links, links, link),
    sites: renamed(bare.sites, sites, site(given.sites)),
  };
  const back = {
    device: inverse(roles),
    link: inverse(links),
    site: inverse(sites),
  };
  const isOfTile = ({ sort, id, what }: DrawingChange): boolean => {
    const ends = (topology: Topology, key: string): boolean => {
      const found = entryOf(topology.links, key);
      return (
        found !== undefined && [found.a, found.b].some((at) => tiles.has(at.device) || inTiles.has(ownId(at.device)))
      );
    };
    if (sort === 'device') return what === 'removed' ? tiles.has(id) : inTiles.has(ownId(id));
    return sort === 'link' && ends(what === 'removed' ? given : asDrawn, id);
  };
  return drawingChanges(given, asDrawn).flatMap((change): ReferenceDifference[] => {
    const { what, sort, id, name, details } = change;
    if ((sort !== 'device' && sort !== 'link' && sort !== 'site') || isOfTile(change)) return [];
    const drawn = what === 'removed' ? undefined : (back[sort].get(id) ?? ownId(id));
    const own =
      sort === 'device'
        ? entryOf(drawing.devices, drawn ?? '')?.name
        : sort === 'site'
          ? entryOf(drawing.sites, drawn ?? '')?.name
          : undefined;
    return [
      {
        what: WHAT[what],
        sort,
        name: own || name,
        details,
        ...(drawn !== undefined && { drawn }),
        ...(what !== 'added' && { reference: id }),
      },
    ];
  });
}

const inverse = (map: ReadonlyMap<string, string>): Map<string, string> =>
  new Map([...map].map(([one, other]) => [other, one]));

/** The sites of a drawing by those of the reference in which most of their devices' roles stand; each once. */
function sitesBy(roles: ReadonlyMap<string, string>, reference: Topology, drawing: Topology): Map<string, string> {
  const votes = new Map<string, number>();
  for (const [drawn, role] of roles) {
    const [own, wanted] = [drawing.devices[drawn]?.site, reference.devices[role]?.site];
    if (own === undefined || wanted === undefined) continue;
    const key = JSON.stringify([own, wanted]);
    votes.set(key, (votes.get(key) ?? 0) + 1);
  }
  const found = new Map<string, string>();
  for (const [key] of [...votes].sort(([one, a], [other, b]) => b - a || (one < other ? -1 : 1))) {
    const [own, wanted] = JSON.parse(key) as [string, string];
    if (!found.has(own) && ![...found.values()].includes(wanted)) found.set(own, wanted);
  }
  return found;
}

/** The links of a drawing by those of the reference between the same roles; of several the one at the same ports first. */
function linksBy(roles: ReadonlyMap<string, string>, reference: Topology, drawing: Topology): Map<string, string> {
  const endsOf = (ends: readonly string[]): string => JSON.stringify([...ends].sort());
  const wanted = new Map<string, string[]>();
  for (const [id, { a, b }] of entriesById(reference.links)) {
    const key = endsOf([a.device, b.device]);
    wanted.set(key, [...(wanted.get(key) ?? []), id]);
  }
  const found = new Map<string, string>();
  const take = (isSame: (drawn: Link, wanted: Link) => boolean): void => {
    for (const [id, link] of entriesById(drawing.links)) {
      const [one, other] = [roles.get(link.a.device), roles.get(link.b.device)];
      if (found.has(id) || one === undefined || other === undefined) continue;
      const free = wanted.get(endsOf([one, other])) ?? [];
      const fit = free.find((each) => isSame(link, reference.links[each]!));
      if (fit === undefined) continue;
      found.set(id, fit);
      free.splice(free.indexOf(fit), 1);
    }
  };
  const portsOf = ({ a, b }: Link): string => [a.port, b.port].sort().join(' ');
  take((drawn, asked) => portsOf(drawn) === portsOf(asked) && drawn.medium === asked.medium);
  take((drawn, asked) => portsOf(drawn) === portsOf(asked));
  take(() => true);
  return found;
}

import { type Change } from './change';
import { sortOf, thingsOf } from './things';
import { configuredOf } from './configured';
import { type Translation } from './translation';

/** What is missing together because one thing is: a module with the links that went into it, all links of a device. */
export function comingTogether(changes: readonly Change[], { drawn }: Translation): Change[] {
  const links = changes.filter(({ sort, what }) => sort === 'links all' && what === 'missing');
  const modules = changes.flatMap((change): Change[] => {
    const [place] = change.places;
    if (change.sort !== 'modules' || change.what !== 'missing' || place?.device === undefined) return [];
    const bay = (JSON.parse(change.thing) as string[]).at(-1)!;
    const own = changes.filter(
      ({ places, what }) =>
        what === 'missing' && places.some(({ device, port }) => device === place.device && port?.startsWith(`${bay}/`)),
    );
    return own.length ? [bundled(change, own, change.text.replace(/\.$/, ', and all that belongs into it.'))] : [];
  });
  const linked = new Set(Object.values(drawn.topology.links).flatMap(({ a, b }) => [a.device, b.device]));
  const at = new Map<string, Change[]>();
  for (const link of links)
    for (const device of new Set(link.places.flatMap((place) => place.device ?? [])))
      at.set(device, [...(at.get(device) ?? []), link]);
  const bare = [...at].flatMap(([id, [first, ...rest]]): Change[] => {
    const { deviceId, name } = drawn.instances.get(id)!;
    if (!first || !rest.length || linked.has(deviceId)) return [];
    return [{ ...bundled(first, rest, `${name} is connected to nothing.`), at: name, field: 'its links' }];
  });
  return [...modules, ...bare];
}
const bundled = (first: Change, others: readonly Change[], text: string): Change => ({
  ...first,
  thing: [first, ...others].map(({ thing }) => thing).join(' & '),
  commands: [first, ...others].flatMap(({ commands }) => commands),
  text,
  repair: [first, ...others].flatMap(({ repair }) => repair),
  leftOut: true,
});

/** Sorts of things of which one among several is forgotten rather than left out. */
const NEVER_FORGOTTEN: ReadonlySet<string> = new Set([
  'devices',
  'interfaces',
  'settings vlans',
  'settings dhcpPools',
  'settings dhcp6Pools',
  'settings filters',
  'settings nat',
]);

/**
 * What is missing is left out, and gives nothing back; but what is forgotten at one or some of several that have theirs is
 * a mistake: this router's route, this host's gateway.
 */
export function withForgotten(changes: readonly Change[], translation: Translation): Change[] {
  const missing = new Map<string, number>();
  for (const { sort, what } of changes) if (what === 'missing') missing.set(sort, (missing.get(sort) ?? 0) + 1);
  const there = countThings(translation);
  return changes.map((change) => {
    const { sort, leftOut, what } = change;
    if (!leftOut || what !== 'missing' || NEVER_FORGOTTEN.has(sort)) return change;
    const has = there.get(sort) ?? 0;
    return has >= 2 && has >= missing.get(sort)! * 2 ? { ...change, leftOut: false } : change;
  });
}
function countThings({ drawn }: Translation): ReadonlyMap<string, number> {
  const count = new Map<string, number>();
  const add = (sort: string): void => void count.set(sort, (count.get(sort) ?? 0) + 1);
  for (const instance of drawn.instances.values())
    for (const [, [thing]] of thingsOf(configuredOf(instance))) add(sortOf(thing));
  for (const _link of Object.values(drawn.topology.links)) add('links all');
  return count;
}

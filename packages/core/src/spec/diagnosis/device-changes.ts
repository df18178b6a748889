import { isTree, sameValue } from '../../changes';
import { type Instance } from '../../engine';
import { type Change, editing } from './change';
import { editsOf, pathOf, sortOf, thingsOf } from './things';
import { misplaced } from './misplaced';
import { configuredOf } from './configured';
import { type Translation } from './translation';
import { type Thing, atWords, fieldWords, sentenceFor, valueWords } from './words';

/** What is set on a device otherwise than its role asks, thing by thing. */
export function ofDevice(translation: Translation, asked: Instance, own: Instance): Change[] {
  const [has, wants] = [configuredOf(own), translation.configured(asked.id)];
  const [found, wanted] = [thingsOf(has), thingsOf(wants)];
  const changes: Change[] = [];
  for (const id of new Set([...wanted.keys(), ...found.keys()])) {
    const [thing] = wanted.get(id) ?? found.get(id)!;
    const [now, then] = [found.get(id)?.[1], wanted.get(id)?.[1]];
    if (sameValue(now, then) || isFree(thing, now, then)) continue;
    // An interface that is not there is one thing, and so is one too many.
    if (thing[0] === 'interfaces' && (!has.interfaces[thing[1]!] || !wants.interfaces[thing[1]!])) {
      if (thing[2] !== 'on') continue;
      const key = thing[1]!;
      changes.push(ofThing(own, ['interfaces', key], has.interfaces[key], wants.interfaces[key], asked.id));
    } else changes.push(ofThing(own, thing, now, then, asked.id));
  }
  return misplaced(changes, own, has, wants);
}

/** What students may have otherwise: names of things, labels in their own words, and who may sign in. */
function isFree([map, key, property]: Thing, found: unknown, wanted: unknown): boolean {
  if (map === 'ports' && property === 'label') return found !== undefined;
  if (map === 'settings' && key === 'vlans') return found !== undefined && wanted !== undefined;
  return map === 'settings' && key === 'management' && property === 'users';
}

function ofThing(own: Instance, thing: Thing, found: unknown, wanted: unknown, role: string): Change {
  const [map, key] = thing;
  const [at, field] = [atWords(own.name, thing), fieldWords(thing)];
  const what = whatOf(thing, found, wanted);
  const port = map === 'ports' || map === 'interfaces' ? key : undefined;
  return {
    thing: JSON.stringify(pathOf(own, thing)),
    sort: sortOf(thing),
    what,
    source: 'reference',
    commands: [editing(...editsOf(own, thing, wanted))],
    places: [{ device: own.id, ...(port !== undefined && { port }) }],
    text: sentenceFor(own.name, thing, found, wanted),
    at,
    field,
    repair: [repairWords(own.name, thing, wanted)],
    alike: alikeOf(thing, found, wanted),
    fields: 1,
    opens: opensBy(thing, what, found, wanted),
    leftOut: what === 'missing',
    role,
    isTold: isTold(thing),
    members: 1,
  };
}
/** What is done about it, in a few words. */
function repairWords(device: string, thing: Thing, wanted: unknown): string {
  const at = atWords(device, thing);
  if (thing[2] === 'enabled') return `${at} switched ${wanted === false ? 'off' : 'on'}`;
  const field = fieldWords(thing).replace(/^the /, '');
  return wanted === undefined ? `${at}: no ${field}` : `${at}: ${field} ${valueWords(thing, wanted) ?? ''}`.trim();
}
/** Whether nothing of a thing is a name that somebody gave: numbers, addresses, what is on or off. */
const isTold = ([map, key, property]: Thing): boolean =>
  map === 'ports'
    ? ['role', 'enabled', 'speed', 'clockEnd'].includes(property!)
    : map === 'interfaces'
      ? ['v4', 'v6', 'enabled', 'on', 'natSide', 'relays', 'ospf', 'ospf6'].includes(property ?? '')
      : map === 'powered' || ['gateway4', 'gateway6', 'forwarding', 'routes'].includes(key!);
/** What stands otherwise than it does by default is wrong, not too much. */
function whatOf(thing: Thing, found: unknown, wanted: unknown): Change['what'] {
  if (found === undefined) return 'missing';
  const hasDefault =
    thing.at(-1) === 'enabled' || thing[0] === 'powered' || thing[1] === 'forwarding' || thing[2] === 'role';
  return wanted !== undefined || hasDefault ? 'other' : 'extra';
}

/** The same mistake, wherever it is made: what became of what; a length that is wrong is the same at every address. */
function alikeOf(thing: Thing, found: unknown, wanted: unknown): string | null {
  const [map, , property] = thing;
  const sort = [map, thing.length > 2 ? property : thing[1]];
  if (map === 'interfaces' && (property === 'v4' || property === 'v6')) {
    const [now, then] = [found, wanted].map(
      (layer) => (layer as { addresses?: string[] } | undefined)?.addresses ?? [],
    );
    const parts = (text = ''): string[] => text.split('/');
    const isLength =
      now!.length === then!.length &&
      now!.every((text, at) => parts(text)[0] === parts(then![at])[0]) &&
      now!.length > 0;
    if (isLength)
      return JSON.stringify([...sort, now!.map((text) => parts(text)[1]), then!.map((text) => parts(text)[1])]);
    const isAutomatic = !now!.length || !then!.length;
    return isAutomatic ? JSON.stringify([...sort, now!.length, then!.length, wanted === undefined]) : null;
  }
  if (map === 'settings' && thing[1] === 'filters') return null;
  return JSON.stringify([...sort.map((word) => word?.replace(/6$/, '')), ...differing(found, wanted)]);
}
/** What of two values differs, so that what they have in common does not tell mistakes apart. */
function differing(found: unknown, wanted: unknown): unknown[] {
  if (!isTree(found) || !isTree(wanted)) return [found ?? null, wanted ?? null];
  const keys = [...new Set([...Object.keys(found), ...Object.keys(wanted)])].sort();
  return keys
    .filter((key) => !sameValue(found[key], wanted[key]))
    .map((key) => [key, found[key] ?? null, wanted[key] ?? null]);
}

/** Taking a filter away or something out of it, a guard off, all VLANs instead of some, a shorter prefix. */
function opensBy([map, key, property]: Thing, what: Change['what'], found: unknown, wanted: unknown): boolean {
  const name = map === 'settings' ? key! : (property ?? '');
  if (/^filter/.test(name) || name === 'firewall' || name === 'security' || name === 'stp') return what === 'extra';
  if (name === 'role') {
    const allowed = (value: unknown): unknown => (value as { allowed?: unknown } | undefined)?.allowed;
    return allowed(found) !== undefined && allowed(found) !== 'all' && (allowed(wanted) ?? 'all') === 'all';
  }
  return false;
}

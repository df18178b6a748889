import { type Edit, sameValue } from '../../changes';
import { type Instance } from '../../engine';
import { entryOf, filterWords } from '../../topology';
import { Corresponding } from '../corresponding';
import { type RoleMatch } from '../matching/match';
import { extraDevices, missingDevices } from './by-devices';
import { ofLinks } from './by-links';
import { type Change, editing } from './change';
import { type Configured, type Translation, configuredOf } from './translation';
import { type Thing, atWords, fieldWords, sentenceFor, valueWords } from './words';

/** What a drawing has otherwise than the reference in its own words: device by device, then links, then what is missing. */
export function byReference(translation: Translation, matching: readonly RoleMatch[]): Change[] {
  const { reference, drawn, players } = translation;
  const changes: Change[] = [];
  const playing = new Corresponding(reference, drawn, matching);
  for (const [role, device] of players) {
    const [asked, own] = [reference.instances.get(role)!, drawn.instances.get(device)!];
    changes.push(...ofDevice(translation, asked, own), ...siteOf(playing, asked, own));
  }
  changes.push(...ofLinks(translation), ...missingDevices(translation, playing), ...extraDevices(translation));
  changes.push(...ofDrawing(translation));
  const whole = [...changes, ...comingTogether(changes, translation)];
  const once = new Map(whole.map((change) => [JSON.stringify([change.thing, change.commands]), change] as const));
  return withForgotten([...once.values()], translation);
}

/** The things of a device that are told apart, with their values. */
function thingsOf({
  powered,
  modules,
  ports,
  interfaces,
  settings,
}: Configured): Map<string, readonly [Thing, unknown]> {
  const all = new Map<string, readonly [Thing, unknown]>();
  const put = (thing: Thing, value: unknown): void => {
    if (value !== undefined) all.set(JSON.stringify(thing), [thing, value]);
  };
  put(['powered'], powered);
  for (const [bay, module] of Object.entries(modules ?? {})) put(['modules', bay], module);
  for (const [port, { speed, duplex, ...rest }] of Object.entries(ports)) {
    if (speed !== undefined || duplex !== undefined)
      put(['ports', port, 'speed'], { ...(speed !== undefined && { speed }), ...(duplex !== undefined && { duplex }) });
    for (const [property, value] of Object.entries(rest))
      if (property !== 'mac' && property !== 'fields') put(['ports', port, property], value);
  }
  for (const [key, settings] of Object.entries(interfaces))
    for (const [property, value] of Object.entries(settings))
      if (property !== 'description') put(['interfaces', key, property], value);
  for (const [key, value] of Object.entries(settings)) {
    if (key === 'routes') {
      const count = new Map<string, number>();
      for (const { prefix, ...way } of value as { prefix: string }[]) {
        const nth = (count.get(prefix) ?? 0) + 1;
        count.set(prefix, nth);
        put(['settings', key, nth === 1 ? prefix : `${prefix} (${nth})`], way);
      }
    } else if (key === 'dhcpPools' || key === 'dhcp6Pools')
      for (const { network, ...pool } of value as { network: string }[]) put(['settings', key, network], pool);
    else if (MAPS.has(key))
      for (const [id, inner] of Object.entries(value as object)) put(['settings', key, id], inner);
    else put(['settings', key], value);
  }
  return all;
}
const MAPS: ReadonlySet<string> = new Set([
  'vlans',
  'bundles',
  'filters',
  'services',
  'ospf',
  'ospf6',
  'rip',
  'management',
  'spanningTree',
  'telephony',
  'forwarding',
]);

function ofDevice(translation: Translation, asked: Instance, own: Instance): Change[] {
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
  return otherSide(inPlace(changes, own, has, wants), own);
}

/** What students may have otherwise: names of things, labels in their own words, and who may sign in. */
function isFree([map, key, property]: Thing, found: unknown, wanted: unknown): boolean {
  if (map === 'ports' && property === 'label') return found !== undefined;
  if (map === 'settings' && key === 'vlans') return found !== undefined && wanted !== undefined;
  return map === 'settings' && key === 'management' && property === 'users';
}

/** What a thing is set to where it lies: on the tile, or on the member that has it for itself. */
function pathOf({ deviceId, member, device }: Instance, thing: Thing): string[] {
  const [map, key = ''] = thing;
  const own = member === null ? undefined : (device.members?.[member] as Tree | undefined)?.[map!];
  const isOwn = (map === 'ports' || map === 'interfaces') && entryOf(own as Tree | undefined, key) !== undefined;
  return ['devices', deviceId, ...(isOwn ? ['members', member!] : []), ...thing];
}
type Tree = Readonly<Record<string, unknown>>;

function editsOf(own: Instance, thing: Thing, wanted: unknown): Edit[] {
  const [map, key, property] = thing;
  const at = (path: Thing, value: unknown): Edit => ({
    path: pathOf(own, path),
    ...(value !== undefined && { value }),
  });
  if (map === 'ports' && property === 'speed') {
    const { speed, duplex } = (wanted ?? {}) as Record<string, unknown>;
    return [at(['ports', key!, 'speed'], speed), at(['ports', key!, 'duplex'], duplex)];
  }
  if (map === 'settings' && LISTS.has(key!)) {
    const name = key === 'routes' ? 'prefix' : 'network';
    const list = (own.settings as Record<string, unknown>)[key!] as Tree[] | undefined;
    const count = new Map<string, number>();
    const rest = (list ?? []).filter((entry) => {
      const id = String(entry[name]);
      const nth = (count.get(id) ?? 0) + 1;
      count.set(id, nth);
      return (nth === 1 ? id : `${id} (${nth})`) !== property;
    });
    const entry = wanted === undefined ? [] : [{ [name]: property!.replace(/ \(\d+\)$/, ''), ...(wanted as Tree) }];
    const value = [...rest, ...entry];
    return [at(['settings', key!], value.length ? value : undefined)];
  }
  return [at(thing, wanted)];
}
const LISTS: ReadonlySet<string> = new Set(['routes', 'dhcpPools', 'dhcp6Pools']);

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
    repair: [
      `${at}: ${field} ${wanted === undefined ? 'as it is by default' : (valueWords(thing, wanted) ?? 'there')}`,
    ],
    alike: alikeOf(thing, found, wanted),
    fields: 1,
    opens: opensBy(thing, what, found, wanted),
    leftOut: what === 'missing',
    role,
    isTold: isTold(thing),
    members: 1,
  };
}
/** Whether nothing of a thing is a name that somebody gave: numbers, addresses, what is on or off. */
const isTold = ([map, key, property]: Thing): boolean =>
  map === 'ports'
    ? ['role', 'enabled', 'speed', 'clockEnd'].includes(property!)
    : map === 'interfaces'
      ? ['v4', 'v6', 'enabled', 'on', 'natSide', 'relays', 'ospf', 'ospf6'].includes(property ?? '')
      : map === 'powered' || ['gateway4', 'gateway6', 'forwarding', 'routes'].includes(key!);
/** A thing of a device without what differs from one to the next: its port, prefix or number. */
const sortOf = (thing: Thing): string =>
  [thing[0], ...(thing[0] === 'settings' ? [thing[1]] : thing.slice(2))].join(' ');
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
  const isTree = (value: unknown): value is Tree =>
    value !== null && typeof value === 'object' && !Array.isArray(value);
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

/** Of what is missing and what is too much of one sort at one device, one stands in the place of the other: it is wrong. */
function inPlace(changes: readonly Change[], own: Instance, has: Configured, wants: Configured): Change[] {
  const result = [...changes];
  for (const list of ['routes', 'dhcpPools', 'dhcp6Pools', 'interfaces', 'bundles'] as const) {
    const of = (what: Change['what']): Change[] =>
      result.filter((change) => change.what === what && thingIn(change, list) !== null);
    const [missing, extra] = [of('missing'), of('extra')];
    for (const [at, lack] of missing.entries()) {
      const over = extra[at];
      if (!over) break;
      const [asked, found] = [thingIn(lack, list)!, thingIn(over, list)!];
      const commands =
        list === 'routes' || list === 'dhcpPools' || list === 'dhcp6Pools'
          ? [editing(...replaced(own, list, found, asked, has, wants))]
          : [...over.commands, ...lack.commands];
      result.splice(result.indexOf(over), 1);
      result[result.indexOf(lack)] = {
        ...lack,
        thing: over.thing,
        what: 'other',
        commands,
        places: [...over.places, ...lack.places],
        text:
          list === 'interfaces'
            ? `${own.name} has the interface ${found}, which should be ${asked}.`
            : `${own.name} has ${fieldWords(['settings', list, found])}, which should be for ${asked}.`,
        at: over.at,
        field: over.field,
        repair: [`${own.name}: ${asked} instead of ${found}`],
        alike: JSON.stringify([list, found, asked]),
        fields: list === 'interfaces' ? 2 : 1,
        leftOut: false,
      };
    }
  }
  return result;
}
function thingIn({ thing }: Change, list: string): string | null {
  const path = JSON.parse(thing) as string[];
  const at = path.indexOf(list);
  if (at < 0) return null;
  return list === 'interfaces'
    ? path.length === at + 2
      ? path[at + 1]!
      : null
    : path.length > at + 1
      ? path[at + 1]!
      : null;
}
function replaced(
  own: Instance,
  list: 'routes' | 'dhcpPools' | 'dhcp6Pools',
  found: string,
  asked: string,
  has: Configured,
  wants: Configured,
): Edit[] {
  const name = list === 'routes' ? 'prefix' : 'network';
  const bare = (id: string): string => id.replace(/ \(\d+\)$/, '');
  const entries = (has.settings[list] ?? []) as readonly Tree[];
  const wanted = ((wants.settings[list] ?? []) as readonly Tree[]).find((entry) => entry[name] === bare(asked));
  const value = entries.map((entry) => (entry[name] === bare(found) && wanted ? wanted : entry));
  return [{ path: pathOf(own, ['settings', list]), value }];
}

/** A filter, or a side of a translation, that stands at the wrong one of two places is one mistake. */
function otherSide(changes: readonly Change[], own: Instance): Change[] {
  const result = [...changes];
  const filterAt = ({ thing, commands: [command] }: Change): { key: string; property: string; id: unknown } | null => {
    const path = JSON.parse(thing) as string[];
    const property = path.at(-1)!;
    if (!/^filter(?:In|Out)[46]$/.test(property) || command?.kind !== 'edits') return null;
    const key = path.at(-2)!;
    const now = own.interfaces.find(([each]) => each === key)?.[1] as Tree | undefined;
    return { key, property, id: command.edits[0]!.value ?? now?.[property] };
  };
  for (const over of changes.filter(({ what }) => what === 'extra')) {
    const there = filterAt(over);
    if (!there) continue;
    const lack = changes.find((change) => {
      const asked = change.what === 'missing' ? filterAt(change) : null;
      return asked !== null && asked.id === there.id && asked.property.at(-1) === there.property.at(-1);
    });
    if (!lack) continue;
    const asked = filterAt(lack)!;
    const says = ({ key, property }: { key: string; property: string }): string =>
      `what ${property.includes('In') ? 'comes in' : 'goes out'} at ${key}`;
    result.push({
      ...lack,
      thing: `${over.thing} & ${lack.thing}`,
      what: 'other',
      commands: [...over.commands, ...lack.commands],
      places: [...over.places, ...lack.places],
      text: `${own.name} asks its ${filterWords(String(there.id))} for ${says(there)}, and should for ${says(asked)}.`,
      at: own.name,
      field: `where it asks its ${filterWords(String(there.id))}`,
      repair: [`${own.name}: ${filterWords(String(there.id))} for ${says(asked)}`],
      alike: null,
      opens: false,
      leftOut: false,
    });
  }
  return result;
}

/** Title, author and legend, which nobody can know for somebody else: that they are there. */
const ofDrawing = ({ reference, drawn }: Translation): Change[] =>
  (['title', 'author', 'legend'] as const).flatMap((property): Change[] => {
    const [asked, own] = [reference.topology[property], drawn.topology[property]];
    if (!asked?.trim() || own?.trim()) return [];
    return [
      {
        thing: JSON.stringify([property]),
        sort: property,
        what: 'missing',
        source: 'reference',
        commands: [{ kind: 'setDocument', set: { [property]: asked } }],
        places: [],
        text: `The drawing has no ${property}.`,
        isTold: true,
        at: 'the drawing',
        field: property,
        repair: [`a ${property}`],
        alike: null,
        fields: 1,
        opens: false,
        leftOut: true,
        members: 1,
      },
    ];
  });

/** What is missing together because one thing is: a module with the links that went into it, all links of a device. */
function comingTogether(changes: readonly Change[], { drawn }: Translation): Change[] {
  const links = changes.filter(({ sort, what }) => sort === 'links all' && what === 'missing');
  const isAt = ({ places }: Change, device: string): boolean => places.some((place) => place.device === device);
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
  const bare = [...drawn.instances.values()].flatMap(({ id, deviceId, name }): Change[] => {
    const own = links.filter((link) => isAt(link, id));
    const isLinked = Object.values(drawn.topology.links).some(
      ({ a, b }) => a.device === deviceId || b.device === deviceId,
    );
    const [first, ...rest] = own;
    if (!first || !rest.length || isLinked) return [];
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

function siteOf(playing: Corresponding, asked: Instance, own: Instance): Change[] {
  const [wanted, now] = [asked.device.site, own.device.site];
  const site = wanted === undefined ? undefined : playing.site(wanted);
  if (site === null || site === now || site === undefined) return [];
  return [
    {
      thing: JSON.stringify(['devices', own.deviceId, 'site']),
      sort: 'site',
      what: now === undefined ? 'missing' : 'other',
      source: 'reference',
      commands: [editing({ path: ['devices', own.deviceId, 'site'], value: site })],
      places: [{ device: own.id }],
      text: `${own.name} stands at the wrong site.`,
      isTold: true,
      at: own.name,
      field: 'its site',
      repair: [`${own.name} at its site`],
      alike: null,
      fields: 1,
      opens: false,
      leftOut: false,
      members: 1,
    },
  ];
}

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
function withForgotten(changes: readonly Change[], translation: Translation): Change[] {
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

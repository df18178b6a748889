import { type Edit } from '../../changes';
import { type Instance } from '../../engine';
import { filterWords } from '../../topology';
import { type Change, editing } from './change';
import { pathOf } from './things';
import { type Configured } from './configured';
import { fieldWords } from './words';

type Tree = Readonly<Record<string, unknown>>;

/** Changes of one device, where what stands in the wrong place is one mistake and not two. */
export const misplaced = (changes: readonly Change[], own: Instance, has: Configured, wants: Configured): Change[] =>
  otherSide(inPlace(changes, own, has, wants), own);

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

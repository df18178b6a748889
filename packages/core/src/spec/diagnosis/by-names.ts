import { type Instance, type NetworkModel } from '../../engine';
import { hostName } from '../host-name';
import { type RoleMatch, matchRoles } from '../matching/match';
import { type Change, editing } from './change';

/** Where names are prescribed: who would play a role by all but its name. */
export interface ByNames {
  /** The roles as names have them, and those that nobody is called by as links have them. */
  readonly matching: readonly RoleMatch[];
  /** Names that should be others: each alone, or two that are exchanged. */
  readonly changes: readonly Change[];
}

/** Devices that have the wrong name, in a lab in which nothing plays a role but what is called as it is. */
export function byNames(reference: NetworkModel, drawn: NetworkModel, matching: readonly RoleMatch[]): ByNames {
  const named = new Map(matching.map(({ role, device }) => [role, device]));
  const linked = new Map(matchRoles(reference, drawn).roles.map(({ role, device }) => [role, device]));
  const roleOf = new Map(matching.flatMap(({ role, device }) => (device === null ? [] : [[device, role] as const])));
  const changes: Change[] = [];
  const assumed = new Map<string, string>();
  for (const [role, device] of linked) {
    if (device === null || named.get(role) === device) continue;
    const asked = reference.instances.get(role)!;
    const own = drawn.instances.get(device)!;
    const other = named.get(role) ?? null;
    const theirs = roleOf.get(device);
    if (other === null && theirs === undefined) {
      assumed.set(role, device);
      changes.push(renamed([[own, asked]]));
    } else if (other !== null && theirs !== undefined && role < theirs && linked.get(theirs) === other)
      changes.push(
        renamed([
          [own, asked],
          [drawn.instances.get(other)!, reference.instances.get(theirs)!],
        ]),
      );
  }
  return {
    changes,
    matching: matching.map((match): RoleMatch => {
      const device = assumed.get(match.role);
      return device === undefined ? match : { ...match, device };
    }),
  };
}

/** Devices that get the names of the roles that they play by all else; those of one tile that have them already stay. */
function renamed(pairs: readonly (readonly [own: Instance, asked: Instance])[]): Change {
  const wrong = pairs.filter(([own, asked]) => hostName(own.name) !== hostName(asked.name));
  const pathOf = ({ deviceId, member }: Instance): string[] => [
    'devices',
    deviceId,
    ...(member === null ? [] : ['members', member]),
    'name',
  ];
  const [[first, asked]] = pairs as [readonly [Instance, Instance], ...(readonly [Instance, Instance])[]];
  const names = pairs.map(([own]) => own.name || 'a device without a name');
  return {
    thing: pairs.map(([own]) => JSON.stringify(pathOf(own))).join(' & '),
    sort: 'name',
    what: 'other',
    source: 'reference',
    commands: wrong.map(([own, role]) => editing({ path: pathOf(own), value: role.name })),
    places: pairs.map(([own]) => ({ device: own.id })),
    text:
      pairs.length > 1
        ? `${names.join(' and ')} have one another’s names, and devices are known by their names.`
        : `${names[0]!} should be called ${asked.name}: devices are known by their names.`,
    theirText:
      pairs.length > 1
        ? `${names.join(' and ')} have one another’s names.`
        : `${names[0]!} does not have the name that the lab gives it.`,
    at: names.join(' and '),
    field: 'the name',
    repair: wrong.map(([own, role]) => `${own.name || first.id} is called ${role.name}`),
    // However many have names of their own, it is one mistake.
    alike: pairs.length > 1 ? null : 'name',
    fields: wrong.length,
    opens: false,
    leftOut: false,
    members: 1,
    plays: pairs.map(([own, role]) => [role.id, own.id] as const),
    role: pairs.map(([, role]) => role.id).join('~'),
  };
}

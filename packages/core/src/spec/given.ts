import { type NetworkModel, analyse } from '../engine';
import { emptyPlan } from '../plan';
import { contextOf } from './context';
import { Corresponding } from './corresponding';
import { type KeyedItem, evaluate } from './evaluate';
import { type JudgingLab } from './judging';
import { type RoleMatch, matchRoles } from './matching/match';
import { withOutside } from './outside';
import { type Requirement } from './schema';

/** What a lab's starter has, and whether it fulfils a fact already, as the devices of a drawing play the roles. */
export interface Given {
  /** The devices of the starter. */
  readonly devices: ReadonlySet<string>;
  by(
    student: NetworkModel,
    matching: readonly RoleMatch[],
  ): { readonly playing: Corresponding; fulfils(requirement: Requirement, item: KeyedItem): boolean };
}

/**
 * What a lab's starter fulfils already, so that nobody earns it by leaving the starter alone; null where a lab has none.
 * The starter is judged with its devices in the roles that they play in the student's drawing: what was built in place of
 * a device of the starter, or beside it, is the student's own. A drawing that shares no device with the starter was made
 * from nothing: what it has in common with the starter is given all the same.
 */
export function givenBy(lab: JudgingLab, reference: NetworkModel): Given | null {
  if (!lab.starter) return null;
  const drawn = analyse(lab.starter, reference.options);
  const byItself = matchRoles(reference, drawn, {}, lab.policy.names === 'exact').roles;
  const outside = withOutside(reference, drawn, byItself);
  const starter = outside.remarks.length ? analyse(outside.topology, reference.options) : drawn;
  const devices = new Set(starter.instances.keys());
  const by: Given['by'] = (student, matching) => {
    const isOf = (device: string): boolean => starter.instances.has(device);
    const grewFromIt = [...student.instances.keys()].some(isOf);
    const roles = grewFromIt
      ? matching.map((match) => ({
          ...match,
          device: match.device !== null && isOf(match.device) ? match.device : null,
          ...(match.with && { with: match.with.filter(isOf) }),
        }))
      : byItself;
    const playing = new Corresponding(reference, starter, roles);
    const { context } = contextOf(lab, reference, starter, playing, { plan: emptyPlan() }, devices);
    const known = new Map<Requirement, ReadonlyMap<string, KeyedItem>>();
    const itemsOf = (requirement: Requirement): ReadonlyMap<string, KeyedItem> => {
      let found = known.get(requirement);
      if (!found) {
        const items = evaluate(requirement.rule, context) ?? [];
        known.set(requirement, (found = new Map(items.map((item) => [item.key, item]))));
      }
      return found;
    };
    return {
      playing,
      fulfils: (requirement, item) => {
        if (requirement.given === 'counts' || item.met !== true) return false;
        const there = itemsOf(requirement).get(item.key);
        return there?.met === true && there.by === item.by;
      },
    };
  };
  return { devices, by };
}

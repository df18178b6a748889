import { byName } from '../collation';
import { analyse } from '../engine';
import { type Problem, type Topology, entryOf } from '../topology';
import { type Rule, leavesIn } from './combining';
import { kindsIn, ruleProblems, wordsOf } from './evaluate';
import { type Names, type Part, REF_WORDS } from './rule';
import { ALL_GROUPS, ruleKind } from './rules';
import { choicesIn } from './rules/questions';
import { type LabFile, type Requirement, type Spec } from './schema';

/** The sentence of a requirement in pieces, for reading and for choosing other words. */
export const requirementWords = (requirement: Requirement, names: Names): Part[] =>
  requirement.wording ? [requirement.wording] : wordsOf(requirement.rule, names);

/** Every ref a rule may use, with its words, for choosing. */
export function refsOf(spec: Spec, reference: Topology): { ref: string; text: string }[] {
  return [
    ...Object.entries(REF_WORDS).map(([ref, text]) => ({ ref, text })),
    ...inOrder(Object.entries(spec.groups).map(([ref, { title }]) => ({ ref, text: title }))),
    ...inOrder(Object.entries(reference.devices).map(([ref, { name }]) => ({ ref, text: name }))),
  ];
}

const inOrder = <T extends { text: string }>(list: T[]): T[] => list.sort((one, other) => byName(one.text, other.text));

/** Whether a rule, or one inside of it, is about what a drawing does not show: answers, or what a person sees. */
export const asksPersons = (rule: Rule): boolean =>
  kindsIn(rule).some((kind) => ['questions', 'signOff'].includes(ruleKind(kind)?.family ?? ''));

/** A spec without what no drawing shows: a reference answers no questions, and nobody signs it off. */
export const withoutPersons = (spec: Spec): Spec => ({
  ...spec,
  sections: spec.sections.map((section) => ({
    ...section,
    requirements: section.requirements.filter(({ rule }) => !asksPersons(rule)),
  })),
});

/** What is wrong in a spec beyond its shape: doubled ids, and rules that point at nothing. */
export function specProblems({
  spec,
  reference,
  brief,
  tasks,
}: Pick<LabFile, 'spec' | 'reference' | 'brief'> & Partial<Pick<LabFile, 'tasks'>>): Problem[] {
  const model = analyse(reference);
  const refs = new Set([...refsOf(spec, reference).map((ref) => ref.ref), ...model.instances.keys()]);
  const known = {
    refs,
    sites: reference.sites,
    groups: new Set([ALL_GROUPS, ...(brief.groups ?? []).map((group) => group.id)]),
    ...(tasks && { tasks: new Set(tasks.map(({ id }) => id)) }),
  };
  const seen = new Set<string>();
  const selections = Object.entries(spec.groups).flatMap(([id, { roles, select }]): Problem[] => {
    if (!select) return [];
    const place = `groups › ${id} › select`;
    return [
      ...(roles.length ? [{ place, text: 'A group has devices of its own, or a selection, not both.' }] : []),
      ...(select.behind !== undefined && (!refs.has(select.behind) || leadsTo(spec, select.behind, id))
        ? [{ place: `${place} › behind`, text: `"${select.behind}" is no other group and no device of the reference.` }]
        : []),
      ...(select.group !== undefined && !known.groups.has(select.group)
        ? [{ place: `${place} › group`, text: `The brief has no group "${select.group}".` }]
        : []),
    ];
  });
  const groups = Object.entries(spec.groups).flatMap(([id, group]) =>
    group.roles
      .filter((role) => !refs.has(role) || role in spec.groups)
      .map((role) => ({ place: `groups › ${id} › roles`, text: `"${role}" is no device of the reference.` })),
  );
  const rest = spec.sections.flatMap((section, at) =>
    section.requirements.flatMap((requirement, index): Problem[] => {
      const place = `sections › ${at} › requirements › ${index}`;
      const twice = seen.has(requirement.id)
        ? [{ place: `${place} › id`, text: `The id "${requirement.id}" is there twice.` }]
        : [];
      seen.add(requirement.id);
      return [
        ...twice,
        ...(requirement.deduction && requirement.bonus
          ? [{ place: `${place} › deduction`, text: `${requirement.id} is a bonus and a deduction at once.` }]
          : []),
        ...baseProblems(spec, requirement, `${place} › standsOn`),
        ...ruleProblems(requirement.rule, known).map((problem) => ({
          place: `${place} › rule › ${problem.place}`,
          text: problem.text,
        })),
      ];
    }),
  );
  return [...selections, ...groups, ...sectionProblems(spec), ...choiceProblems(spec), ...rest];
}

/** Whether a group is chosen by another one, directly or by way of others. */
function leadsTo(spec: Spec, from: string, to: string): boolean {
  const seen = new Set<string>();
  for (
    let at: string | undefined = from;
    at !== undefined && !seen.has(at);
    at = entryOf(spec.groups, at)?.select?.behind
  ) {
    if (at === to) return true;
    seen.add(at);
  }
  return false;
}

/** What a section stands on must be there, and not be in it alone. */
function sectionProblems({ sections }: Spec): Problem[] {
  const ids = new Set(sections.flatMap(({ requirements }) => requirements.map(({ id }) => id)));
  return sections.flatMap(({ title, standsOn = [] }, at) =>
    standsOn.flatMap((base, nth): Problem[] =>
      ids.has(base)
        ? []
        : [
            {
              place: `sections › ${at} › standsOn › ${nth}`,
              text: `There is no requirement "${base}" that ${title} could stand on.`,
            },
          ],
    ),
  );
}

/** Under one task students find one list of choices. */
function choiceProblems({ sections }: Spec): Problem[] {
  const first = new Map<string, string>();
  return sections.flatMap(({ requirements }, at) =>
    requirements.flatMap(({ id, rule }, nth) =>
      leavesIn(rule).flatMap((leaf): Problem[] => {
        const choices = choicesIn(leaf)?.join(' | ');
        if (choices === undefined) return [];
        const known = first.get(leaf.task as string);
        if (known === undefined) first.set(leaf.task as string, choices);
        return known === undefined || known === choices
          ? []
          : [
              {
                place: `sections › ${at} › requirements › ${nth} › rule › choices`,
                text: `${id} offers other choices under its task than a requirement before: ${known}.`,
              },
            ];
      }),
    ),
  );
}

/** The choices that students find under tasks, by the tasks' ids: what may be chosen, never what is right. */
export const choicesOf = ({ sections }: Spec): Record<string, string[]> =>
  Object.fromEntries(
    sections.flatMap(({ requirements }) =>
      requirements.flatMap(({ rule }) =>
        leavesIn(rule).flatMap((leaf): [string, string[]][] => {
          const choices = choicesIn(leaf);
          return choices ? [[leaf.task as string, choices]] : [];
        }),
      ),
    ),
  );

/** What a requirement stands on must be there, and not stand on it in turn. */
function baseProblems(spec: Spec, { id, standsOn = [] }: Requirement, place: string): Problem[] {
  const all = new Map(spec.sections.flatMap((section) => section.requirements.map((each) => [each.id, each] as const)));
  const leadsBack = (base: string, seen: ReadonlySet<string>): boolean =>
    base === id ||
    (!seen.has(base) && (all.get(base)?.standsOn ?? []).some((next) => leadsBack(next, new Set([...seen, base]))));
  return standsOn.flatMap((base, at): Problem[] => {
    if (!all.has(base))
      return [{ place: `${place} › ${at}`, text: `There is no requirement "${base}" that ${id} could stand on.` }];
    return leadsBack(base, new Set())
      ? [{ place: `${place} › ${at}`, text: `${id} and ${base} stand on one another: neither could ever count.` }]
      : [];
  });
}

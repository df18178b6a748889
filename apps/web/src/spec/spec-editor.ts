import { type Result, fail, ok } from '@sobrin/core';
import { type Requirement, type Rule, type Section, type Spec, readPart } from '@sobrin/core/spec';

// Changes of a spec. Pure: the spec as it is and the wish go in, the next spec comes out.

const withSection = (spec: Spec, id: string, change: (section: Section) => Section): Spec => ({
  ...spec,
  sections: spec.sections.map((section) => (section.id === id ? change(section) : section)),
});

export const setSection = (spec: Spec, next: Section): Spec => withSection(spec, next.id, () => next);

export const setRequirement = (spec: Spec, section: string, next: Requirement): Spec =>
  withSection(spec, section, (section) => ({
    ...section,
    requirements: section.requirements.map((each) => (each.id === next.id ? next : each)),
  }));

export const removeRequirement = (spec: Spec, section: string, id: string): Spec =>
  withSection(spec, section, (section) => ({
    ...section,
    requirements: section.requirements.filter((each) => each.id !== id),
  }));

/** The next free id of a section: its number, a dot, and the first number nobody has. */
export function freshId(spec: Spec, section: string): string {
  const taken = new Set(spec.sections.flatMap((section) => section.requirements.map((each) => each.id)));
  const number = spec.sections.findIndex((other) => other.id === section) + 1;
  for (let at = 1; ; at++) if (!taken.has(`${number}.${at}`)) return `${number}.${at}`;
}

/** Adds a requirement at the end of a section; worth a point where nothing else is said. */
export function addRequirement(
  spec: Spec,
  section: string,
  rule: Rule,
  worth: Pick<Partial<Requirement>, 'points' | 'bonus'> = {},
): { spec: Spec; id: string } {
  const id = freshId(spec, section);
  return {
    id,
    spec: withSection(spec, section, (section) => ({
      ...section,
      requirements: [...section.requirements, { id, points: 1, credit: 'share', rule, ...worth }],
    })),
  };
}

/** A copy right after the original, under a fresh id. */
export function copyRequirement(spec: Spec, section: string, id: string): Spec {
  const copy = freshId(spec, section);
  return withSection(spec, section, (section) => ({
    ...section,
    requirements: section.requirements.flatMap((each) => (each.id === id ? [each, { ...each, id: copy }] : [each])),
  }));
}

/** Moves a requirement before another one, also of another section; to the end where `before` is null. */
export function moveRequirement(spec: Spec, id: string, toSection: string, before: string | null): Spec {
  const moved = spec.sections.flatMap((section) => section.requirements).find((requirement) => requirement.id === id);
  if (!moved || before === id) return spec;
  const without = spec.sections.map((section) => ({
    ...section,
    requirements: section.requirements.filter((each) => each.id !== id),
  }));
  return {
    ...spec,
    sections: without.map((section) => {
      if (section.id !== toSection) return section;
      const at =
        before === null ? section.requirements.length : section.requirements.findIndex((each) => each.id === before);
      return {
        ...section,
        requirements: [...section.requirements.slice(0, at), moved, ...section.requirements.slice(at)],
      };
    }),
  };
}

const changedAll = (
  spec: Spec,
  ids: ReadonlySet<string>,
  change: (requirement: Requirement) => readonly Requirement[],
): Spec => ({
  ...spec,
  sections: spec.sections.map((section) => ({
    ...section,
    requirements: section.requirements.flatMap((each) => (ids.has(each.id) ? change(each) : [each])),
  })),
});
export const setPointsOfAll = (spec: Spec, ids: ReadonlySet<string>, points: number): Spec =>
  changedAll(spec, ids, (requirement) => [{ ...requirement, points }]);
export const removeAll = (spec: Spec, ids: ReadonlySet<string>): Spec => changedAll(spec, ids, () => []);
/** To the end of a section, in the order in which they stand. */
export const moveAll = (spec: Spec, ids: ReadonlySet<string>, section: string): Spec =>
  chosenOf(spec, ids).reduce((now, { id }) => moveRequirement(now, id, section, null), spec);

const chosenOf = (spec: Spec, ids: ReadonlySet<string>): Requirement[] =>
  spec.sections.flatMap(({ requirements }) => requirements.filter(({ id }) => ids.has(id)));

const COPIED = 'sobrin-requirements';
/** Requirements with the groups they speak of, as a text that another spec takes. */
export function copiedText(spec: Spec, ids: ReadonlySet<string>): string {
  const requirements = chosenOf(spec, ids);
  const only: Spec = { groups: spec.groups, sections: [{ id: 's', title: 'Copied', requirements }] };
  const groups = Object.fromEntries(Object.entries(spec.groups).filter(([id]) => usersOfGroup(only, id).length));
  return JSON.stringify({ format: COPIED, groups, requirements }, null, 2);
}

/**
 * Puts requirements that were copied at the end of the last section, under fresh ids. Groups of the same name are the same;
 * others come along. Fails with a sentence on a text that is something else.
 */
export function pastedInto(spec: Spec, text: string): Result<{ spec: Spec; ids: string[] }, string> {
  const nothing = 'What is in the clipboard are no requirements: choose some in a spec and copy them.';
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    return fail(nothing);
  }
  const given = value as { format?: unknown; groups?: unknown; requirements?: unknown } | null;
  if (typeof given !== 'object' || given?.format !== COPIED) return fail(nothing);
  const read = readPart('spec', {
    groups: given.groups,
    sections: [{ id: 's', title: 'Copied', requirements: given.requirements }],
  });
  if (!read.ok) return fail(`The requirements in the clipboard are not as Sobrin writes them: ${read.error[0]!.text}`);
  const last = spec.sections.at(-1);
  let next = last ? spec : addSection(spec, 'Copied');
  const section = next.sections.at(-1)!.id;
  const groups = new Map<string, string>();
  for (const [id, group] of Object.entries(read.value.groups)) {
    const same = Object.entries(next.groups).find(([, { title }]) => title === group.title)?.[0];
    const own = same ?? (Object.hasOwn(next.groups, id) ? freshGroupId(next) : id);
    groups.set(id, own);
    if (same === undefined) next = setGroup(next, own, group);
  }
  const ids: string[] = [];
  const renamed = new Map<string, string>();
  for (const requirement of read.value.sections[0]!.requirements) {
    const { standsOn, ...rest } = requirement;
    const { spec: added, id } = addRequirement(next, section, withRefs(requirement.rule, groups) as Rule);
    // It stands on what came along with it.
    const on = (standsOn ?? []).flatMap((each) => renamed.get(each) ?? []);
    next = setRequirement(added, section, {
      ...rest,
      id,
      rule: withRefs(requirement.rule, groups) as Rule,
      ...(on.length && { standsOn: on }),
    });
    renamed.set(requirement.id, id);
    ids.push(id);
  }
  return ok({ spec: next, ids });
}

/** A rule that speaks of groups by other ids. */
function withRefs(value: unknown, ids: ReadonlyMap<string, string>): unknown {
  if (typeof value === 'string') return ids.get(value) ?? value;
  if (Array.isArray(value)) return value.map((each) => withRefs(each, ids));
  if (value === null || typeof value !== 'object') return value;
  return Object.fromEntries(
    Object.entries(value).map(([key, part]) => [key, key === 'kind' ? (part as unknown) : withRefs(part, ids)]),
  );
}

export function moveSection(spec: Spec, id: string, by: number): Spec {
  const sections = [...spec.sections];
  const at = sections.findIndex((section) => section.id === id);
  const [moved] = sections.splice(at, 1);
  sections.splice(Math.max(0, Math.min(sections.length, at + by)), 0, moved!);
  return { ...spec, sections };
}

export function addSection(spec: Spec, title: string): Spec {
  const taken = new Set(spec.sections.map((section) => section.id));
  let at = spec.sections.length + 1;
  while (taken.has(`s${at}`)) at++;
  return { ...spec, sections: [...spec.sections, { id: `s${at}`, title, requirements: [] }] };
}
export const renameSection = (spec: Spec, id: string, title: string): Spec =>
  withSection(spec, id, (section) => ({ ...section, title }));
export const removeSection = (spec: Spec, id: string): Spec => ({
  ...spec,
  sections: spec.sections.filter((section) => section.id !== id),
});

export function setGroup(spec: Spec, id: string, group: Spec['groups'][string] | null): Spec {
  const { [id]: _old, ...others } = spec.groups;
  return { ...spec, groups: group ? { ...spec.groups, [id]: group } : others };
}
export function freshGroupId(spec: Spec): string {
  for (let at = 1; ; at++) if (!(`group${at}` in spec.groups)) return `group${at}`;
}

/** The requirements whose rules speak of a group, and the groups that are chosen by it. */
export function usersOfGroup(spec: Spec, id: string): string[] {
  const speaks = (value: unknown): boolean =>
    typeof value === 'string'
      ? value === id
      : value !== null &&
        typeof value === 'object' &&
        Object.entries(value).some(([key, part]) => key !== 'kind' && speaks(part));
  const groups = Object.values(spec.groups).filter(({ select }) => select?.behind === id);
  return [
    ...spec.sections
      .flatMap((section) => section.requirements)
      .filter((requirement) => speaks(requirement.rule))
      .map((requirement) => requirement.id),
    ...groups.map(({ title }) => title),
  ];
}

export const pointsOf = (section: Section): number =>
  section.requirements.reduce(
    (sum, requirement) => sum + (requirement.bonus || requirement.deduction ? 0 : requirement.points),
    0,
  );

import { type Requirement, type Rule, type Section, type Spec } from '@sobrin/core/spec';

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

/** Adds a requirement at the end of a section. */
export function addRequirement(spec: Spec, section: string, rule: Rule): { spec: Spec; id: string } {
  const id = freshId(spec, section);
  return {
    id,
    spec: withSection(spec, section, (section) => ({
      ...section,
      requirements: [...section.requirements, { id, points: 1, credit: 'share', rule }],
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

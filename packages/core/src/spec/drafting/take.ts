import { FAMILY_TITLES } from '../rule';
import { leavesIn } from '../combining';
import { refsIn } from '../evaluate';
import { ruleKind } from '../rules';
import { type Requirement, type Section, type Spec } from '../schema';
import { type Draft, type Proposal } from './draft';

/**
 * A spec with some of a draft's proposals at the end of their sections, and the groups that they speak of.
 *
 * @param total the points of all that is taken together; without it each is worth one point, or two where it notices much
 */
export function withProposals(spec: Spec, draft: Draft, chosen: readonly Proposal[], total?: number): Spec {
  const weights = chosen.map(({ notices }) => 1 + Math.min(3, Math.floor(notices.length / 6)));
  const points = total === undefined ? weights.map((weight) => Math.min(weight, 2)) : spread(weights, total);
  const used = new Set(chosen.flatMap(({ rule }) => refsIn(rule)));
  const groups = Object.fromEntries(Object.entries(draft.groups).filter(([id]) => used.has(id)));
  let sections: readonly Section[] = spec.sections;
  for (const [at, { family, rule, credit }] of chosen.entries()) {
    const title = FAMILY_TITLES[family];
    let section = sections.find((each) => familyOf(each) === family) ?? sections.find((each) => each.title === title);
    if (!section) {
      section = { id: freeId(sections), title, requirements: [] };
      sections = [...sections, section];
    }
    const number = sections.indexOf(section) + 1;
    const requirement: Requirement = { id: freeNumber(sections, number), points: points[at]!, credit, rule };
    sections = sections.map((each) =>
      each.id === section.id ? { ...each, requirements: [...each.requirements, requirement] } : each,
    );
  }
  return { groups: { ...spec.groups, ...groups }, sections: [...sections] };
}

/** The family of most rules of a section; undefined for an empty one. */
function familyOf({ requirements }: Section): string | undefined {
  const count = new Map<string, number>();
  for (const { rule } of requirements)
    for (const { kind } of leavesIn(rule)) {
      const family = ruleKind(kind)?.family;
      if (family !== undefined) count.set(family, (count.get(family) ?? 0) + 1);
    }
  return [...count].sort(([, a], [, b]) => b - a)[0]?.[0];
}

/**
 * Points in proportion to weights that come to a total: whole ones where there is one for each, else halves, and at least
 * one of these each as far as they go. What is left over goes to those that lack most.
 */
export function spread(weights: readonly number[], total: number): number[] {
  if (!weights.length) return [];
  const unit = total >= weights.length ? 1 : 0.5;
  const units = Math.round(total / unit);
  const least = units >= weights.length ? 1 : 0;
  const rest = units - least * weights.length;
  const sum = weights.reduce((all, weight) => all + weight, 0);
  const exact = weights.map((weight) => (rest * weight) / sum);
  const given = exact.map((share) => Math.floor(share));
  let over = rest - given.reduce((all, each) => all + each, 0);
  const byLack = exact
    .map((share, at) => ({ at, lack: share - Math.floor(share) }))
    .sort((a, b) => b.lack - a.lack || a.at - b.at);
  for (const { at } of byLack) if (over-- > 0) given[at]!++;
  return given.map((each) => (each + least) * unit);
}

const freeId = (sections: readonly Section[]): string => {
  const taken = new Set(sections.map(({ id }) => id));
  for (let at = sections.length + 1; ; at++) if (!taken.has(`s${at}`)) return `s${at}`;
};
/** The next number within a section that no requirement has. */
function freeNumber(sections: readonly Section[], section: number): string {
  const taken = new Set(sections.flatMap(({ requirements }) => requirements.map(({ id }) => id)));
  for (let at = 1; ; at++) if (!taken.has(`${section}.${at}`)) return `${section}.${at}`;
}

import { analyse, optionsOf } from '../../engine';
import { emptyPlan } from '../../plan';
import { type Topology, canonicalJson, emptyTopology } from '../../topology';
import { type Rule, leavesIn } from '../combining';
import { contextOf, namesOf } from '../context';
import { Corresponding } from '../corresponding';
import { wordsOf } from '../evaluate';
import { FAMILIES, type RuleFamily, capital, sentenceOf } from '../rule';
import { ruleKind } from '../rules';
import { type Requirement, type Spec } from '../schema';
import { type Told, toldOf } from '../told';
import { type Candidate } from './candidate';
import { candidatesOf } from './candidates';
import { Groups, hostGroups } from './groups';
import { Sample, type DraftedLab, type Planted, plantedIn } from './planted';

/** A sentence that a draft proposes. */
export interface Proposal {
  readonly id: string;
  readonly family: RuleFamily;
  readonly rule: Rule;
  readonly credit: 'all' | 'share';
  readonly sentence: string;
  /** Where it comes from, in words. */
  readonly why: string;
  /** Why it is not ticked; absent where it is. */
  readonly leftOut?: string;
  /** The planted faults that it notices, by their place in the draft's list. */
  readonly notices: readonly number[];
}

/** What a spec might ask, and which of the mistakes that were tried each sentence would notice. */
export interface Draft {
  /** The groups that proposals speak of and the spec does not have. */
  readonly groups: Spec['groups'];
  readonly faults: readonly Pick<Planted, 'kind' | 'text'>[];
  /** The faults that the spec as it stands notices. */
  readonly noticed: readonly number[];
  /** By section, in the order in which a spec is read; within it those that newly notice most first. */
  readonly proposals: readonly Proposal[];
}

/**
 * Drafts a spec from reference, brief and plan. Proposed is what the reference fulfils and an empty drawing does not, and
 * what the spec does not ask already; each with the planted faults that it notices. Those are ticked that newly notice
 * something and that students are told, or that any network needs.
 *
 * @param onStep told how many of how many faults have been tried
 * @param planted the mistakes that are tried: some of each sort where nothing is said
 */
export function draftOf(
  lab: DraftedLab,
  onStep: (done: number, of: number) => void = () => undefined,
  planted: readonly Planted[] = plantedIn(lab),
): Draft {
  const reference = analyse(lab.reference, optionsOf(lab.policy));
  const { context } = contextOf(lab, reference, reference, Corresponding.ownRoles(reference), { plan: lab.plan });
  // Rules speak of groups as they are made.
  const all = { ...lab.spec.groups };
  const groups = new Groups(lab, reference, context, (id, group) => void (all[id] = group));
  const drafted: DraftedLab = { ...lab, spec: { ...lab.spec, groups: all } };
  const over = (drawing: Topology, plan = lab.plan): Sample => new Sample(drafted, reference, drawing, plan);
  const [whole, empty, unlinked] = [
    over(lab.reference),
    over(emptyTopology(), emptyPlan()),
    over({ ...lab.reference, links: {} }, emptyPlan()),
  ];
  const hosts = hostGroups(lab, reference, context, groups);
  const holds = (rule: Rule): boolean => whole.earns(rule) === 1;
  const candidates = eachOnce(candidatesOf(drafted, reference, context, groups, hosts, holds));
  const standing = lab.spec.sections.flatMap(({ requirements }) => requirements.map(({ rule }) => rule));
  const known = new Set(standing.map(canonicalJson));
  const fits = candidates.filter(
    ({ rule }) =>
      !known.has(canonicalJson(rule)) &&
      holds(rule) &&
      empty.earns(rule) !== 1 &&
      // What tiles that lie about fulfil says nothing of a network.
      (!OF_NETWORKS.has(familyOf(rule)) || unlinked.earns(rule) !== 1),
  );
  const noticed = new Set<number>();
  const notices = fits.map(() => new Set<number>());
  for (const [at, { drawing, plan }] of planted.entries()) {
    const there = over(drawing, plan);
    if (standing.some((rule) => isNoticed(there.earns(rule)))) noticed.add(at);
    for (const [nth, { rule }] of fits.entries())
      // No known mistake moves anything: where things stand is not laid out anew for each.
      if (rule.kind !== 'legible' && isNoticed(there.earns(rule))) notices[nth]!.add(at);
    onStep(at + 1, planted.length);
  }
  return {
    groups: groups.made,
    faults: planted.map(({ kind, text }) => ({ kind, text })),
    noticed: [...noticed],
    proposals: ranked(drafted, fits, notices, noticed, planted),
  };
}

const OF_NETWORKS: ReadonlySet<RuleFamily> = new Set(['cabling', 'connectivity', 'operation']);
const familyOf = (rule: Rule): RuleFamily => ruleKind(leavesIn(rule)[0]!.kind)!.family;

/** What does not apply notices nothing: its points leave the mark. */
const isNoticed = (share: number | null): boolean => share !== null && share < 1;

const eachOnce = (candidates: readonly Candidate[]): Candidate[] =>
  [
    ...new Map(candidates.map((candidate) => [canonicalJson(candidate.rule), candidate] as const).reverse()).values(),
  ].reverse();

/**
 * Section by section whichever newly notices most goes first, each sort of mistake weighing the same however often it was
 * planted. A section has sentences of its own for what another one notices as well: what is wrong is told by all of them.
 * The list of problems comes last, for what nothing else says.
 */
function ranked(
  lab: DraftedLab,
  fits: readonly Candidate[],
  notices: readonly ReadonlySet<number>[],
  before: ReadonlySet<number>,
  planted: readonly Planted[],
): Proposal[] {
  const perKind = new Map<string, number>();
  for (const { kind } of planted) perKind.set(kind, (perKind.get(kind) ?? 0) + 1);
  const weightOf = (fault: number): number => 1 / perKind.get(planted[fault]!.kind)!;
  const names = namesOf({ ...lab, tasks: lab.tasks ?? [] });
  const sentences = fits.map(({ rule }) => capital(sentenceOf(wordsOf(rule, names))));
  const told = toldIn(lab, fits);
  const isTold = (at: number): boolean =>
    fits[at]!.asked !== undefined || !['itself', 'nowhere'].includes(told[at]!.by);
  const isAsked = (at: number): boolean => fits[at]!.asked !== undefined || told[at]!.by !== 'nowhere';
  /** Said in so many words, or what a section begins with: it stands, whatever else notices the same. */
  const stands = (at: number): boolean => fits[at]!.basic === true || fits[at]!.asked !== undefined;
  /** Whether the spec as it stands notices all that it would. */
  const isCovered = (at: number): boolean =>
    notices[at]!.size > 0 && [...notices[at]!].every((fault) => before.has(fault));
  const isLast = (at: number): boolean => fits[at]!.rule.kind === 'noProblems';
  const everywhere = new Set(before);
  const proposals: Proposal[] = [];
  /** Puts in order those of a section that are told or go without saying, then the others. */
  const order = (members: readonly number[], seen: Set<number>): void => {
    const left = new Set(members);
    const taken: number[] = [];
    const gain = (at: number): number =>
      [...notices[at]!].reduce((sum, fault) => (seen.has(fault) ? sum : sum + weightOf(fault)), 0);
    for (;;) {
      const next = [...left]
        .map((at) => ({ at, gain: gain(at), asked: isAsked(at) }))
        .filter(({ gain }) => gain > 0)
        .sort(
          (a, b) =>
            Number(b.asked) - Number(a.asked) ||
            Number(stands(b.at)) - Number(stands(a.at)) ||
            b.gain - a.gain ||
            a.at - b.at,
        )[0];
      if (!next) break;
      left.delete(next.at);
      taken.push(next.at);
      for (const fault of notices[next.at]!) {
        seen.add(fault);
        everywhere.add(fault);
      }
    }
    const implying = (at: number): number | undefined =>
      notices[at]!.size
        ? taken.find((other) => [...notices[at]!].every((fault) => notices[other]!.has(fault)))
        : undefined;
    // What students are told earns points, also where no mistake that was tried shows it.
    const untried = [...left].filter((at) =>
      notices[at]!.size ? stands(at) && !isCovered(at) : (stands(at) || isTold(at)) && !isLast(at),
    );
    for (const at of untried) left.delete(at);
    for (const at of [...taken, ...untried, ...left]) {
      const other = implying(at);
      const leftOut = left.has(at)
        ? other === undefined
          ? isCovered(at)
            ? 'the spec notices all of it already'
            : 'nothing that was tried is newly noticed by it'
          : `it says no more than “${sentences[other]!}”`
        : isAsked(at)
          ? undefined
          : whyNot(told[at]!);
      const { rule, asked, basic } = fits[at]!;
      proposals.push({
        id: `p${at}`,
        family: familyOf(rule),
        rule,
        credit: isWhole(rule) ? 'all' : 'share',
        sentence: sentences[at]!,
        why:
          asked ?? (basic && told[at]!.by === 'itself' ? 'it is what the reference is made of' : whereTold(told[at]!)),
        ...(leftOut !== undefined && { leftOut }),
        notices: [...notices[at]!],
      });
    }
  };
  const all = [...fits.keys()];
  for (const family of FAMILIES)
    order(
      all.filter((at) => familyOf(fits[at]!.rule) === family && !isLast(at)),
      new Set(before),
    );
  order(all.filter(isLast), everywhere);
  return FAMILIES.flatMap((family) => proposals.filter((proposal) => proposal.family === family));
}

/** A count is right or not, and so is a separation: half of it keeps nobody out. */
const isWhole = ({ kind }: Rule): boolean =>
  ['deviceCount', 'networkCount', 'apart', 'noProblems', 'kitOnly'].includes(kind);

const whereTold = (told: Told): string => {
  switch (told.by) {
    case 'task':
      return `told in task ${told.task + 1}`;
    case 'brief':
      return 'told in the brief';
    case 'handout':
      return 'told in the handout';
    case 'together':
      return 'told in several places together';
    case 'itself':
      return 'any network that works does it';
    case 'nowhere':
      return 'so in the reference';
  }
};
const whyNot = (told: Told): string =>
  `students are told it nowhere${told.by === 'nowhere' ? `: ${told.lacks.join(', ')}` : ''}`;

/** A task that has students make a plan of their own. */
export const MAKES_A_PLAN =
  /\b(?:lay|draw|make|write|hand in|size|divide|work out)\b[^.]*\bplan\b|\bplan\b[^.]*\b(?:hand(?:ed)? in|divide|size)\b/i;

/** Where students would be told what each candidate asks. */
function toldIn(lab: DraftedLab, fits: readonly Candidate[]): Told[] {
  const tasks = lab.tasks ?? [];
  const requirements = fits.map(({ rule }, at): Requirement => ({ id: `p${at}`, points: 1, rule }));
  const { of } = toldOf({
    reference: lab.reference,
    brief: lab.brief,
    tasks,
    spec: { groups: lab.spec.groups, sections: [{ id: 'draft', title: 'Draft', requirements }] },
  });
  const makesAPlan = tasks.findIndex(({ text }) => MAKES_A_PLAN.test(text));
  // Nobody is asked for a plan who is given one.
  const ofPlans: Told =
    makesAPlan < 0 ? { by: 'nowhere', lacks: ['a plan to make'] } : { by: 'task', task: makesAPlan };
  return requirements.map(({ id, rule }) => (familyOf(rule) === 'plan' ? ofPlans : of.get(id)!));
}

import { seeded } from '../../faults';
import { type Plan } from '../../plan';
import { applyBatch } from '../../topology';
import { type PreparedLab, judgeByRequirements, prepareLab } from '../check';
import { type Draft, type Proposal, draftOf } from '../drafting';
import { type JudgingLab } from '../judging';
import { judge } from '../judge';
import { type HalfLab, halvesOf } from './halves';
import { type DrilledFault, Sentry } from './outcomes';
import { NOT_PLANTED, type Plant, plantsIn } from './planting';
import { type CheapFull, type DrilledVariation, Fairness, cheapestFull, variationsOf } from './variations';

/** A lab that is drilled, with the plan that its reference goes with. */
export type DrilledLab = JudgingLab & { readonly plan: Plan };

/** Two mistakes of which each is noticed and both together are not. */
export interface HiddenPair {
  readonly texts: readonly [string, string];
}

/** What a spec notices and what it would miss, where it would be unfair, and what parts of a lab earn. */
export interface Drill {
  readonly seed: number;
  /** The points of the reference, and the full mark. */
  readonly points: number;
  readonly of: number;
  readonly faults: readonly DrilledFault[];
  readonly pairs: { readonly tried: number; readonly hidden: readonly HiddenPair[] };
  /** What needs more than drawing and plan. */
  readonly notPlanted: readonly string[];
  readonly variations: readonly DrilledVariation[];
  readonly halves: readonly HalfLab[];
  readonly cheapest: CheapFull | null;
  /** Sentences that would notice what is missed, those that notice most first. */
  readonly proposals: readonly (Pick<Proposal, 'id' | 'sentence' | 'family' | 'rule' | 'credit' | 'leftOut'> & {
    /** The faults that it would newly notice, by their place in the list. */
    readonly notices: readonly number[];
  })[];
  /** The groups that proposals speak of and the spec does not have. */
  readonly groups: Draft['groups'];
  readonly score: Score;
}

/** Of each kind of mistake the share that is noticed, and of all kinds the mean of that, from 0 to 1. */
export interface Score {
  readonly all: number;
  readonly kinds: readonly {
    readonly operator: string;
    readonly title: string;
    readonly noticed: number;
    readonly missed: number;
    readonly harmless: number;
  }[];
}

/** How much is tried. */
export interface DrillBounds {
  readonly seed?: number;
  /** Faults, and drawings of each way of variation; what is there is tried where that is less. */
  readonly faults?: number;
  readonly variations?: number;
  readonly pairs?: number;
  /** Whether what nothing notices is also looked at while each part is off. */
  readonly failures?: boolean;
  /** Told how many of how many drawings were tried; false ends the drill there. */
  readonly onStep?: (done: number, of: number) => boolean | undefined;
}

/**
 * Plants known mistakes in the reference and in the plan of a lab, one at each place that symmetry tells apart, and draws the
 * same network otherwise. Pure: the same for the same lab and seed.
 */
export function drill(
  lab: DrilledLab,
  { seed = 1, faults = 500, variations = 6, pairs = 40, failures = true, onStep = () => undefined }: DrillBounds = {},
): Drill {
  const prepared = prepareLab(lab);
  const { plan } = lab;
  const whole = judgeByRequirements(prepared, { drawing: lab.reference, plan });
  const plants = plantsIn(prepared.reference, lab, faults);
  const ways = [...variationsOf(prepared, seed, variations)];
  const chosen = pairsOf(plants, pairs, seed);
  const of = plants.length + ways.length + chosen.length;
  let [done, isOver] = [0, false];
  const step = (): void => {
    if (onStep(++done, of) === false) isOver = true;
  };
  const sentry = new Sentry(prepared, plan, failures);
  const found: DrilledFault[] = [];
  for (const plant of plants) {
    if (isOver) break;
    found.push(priced(prepared, sentry.judge(plant), plant, whole.points));
    step();
  }
  const hidden: HiddenPair[] = [];
  for (const [a, b] of chosen) {
    if (isOver) break;
    if (found[a]?.outcome === 'noticed' && found[b]?.outcome === 'noticed') {
      const both = together(plants[a]!, plants[b]!, prepared);
      if (both && sentry.judge(both).outcome !== 'noticed') hidden.push({ texts: [plants[a]!.text, plants[b]!.text] });
    }
    step();
  }
  const fairness = new Fairness(prepared, whole, plan);
  const varied: DrilledVariation[] = [];
  for (const way of ways) {
    if (isOver) break;
    varied.push(fairness.judge(way));
    step();
  }
  const { proposals, groups } = proposalsFor(lab, plants, found);
  return {
    seed,
    points: whole.points,
    of: whole.of,
    faults: found.map((fault, at) => ({
      ...fault,
      proposal: proposals.find(({ notices }) => notices.includes(at))?.id ?? null,
    })),
    pairs: { tried: chosen.length, hidden },
    notPlanted: NOT_PLANTED,
    variations: varied,
    halves: halvesOf(prepared, plan),
    cheapest: cheapestFull(prepared, whole, plan, seed, 12),
    proposals,
    groups,
    score: scoreOf(found),
  };
}

/** What a mistake costs where the lab counts it once is what it costs then. */
function priced({ lab, ...prepared }: PreparedLab, fault: DrilledFault, plant: Plant, whole: number): DrilledFault {
  if (lab.policy.followThrough !== 'on' || fault.outcome !== 'noticed') return fault;
  const { points } = judge({ lab, ...prepared }, { drawing: plant.drawing, plan: plant.plan });
  return { ...fault, costOnce: Math.max(0, Math.round((whole - points) * 100) / 100) };
}

function pairsOf(plants: readonly Plant[], most: number, seed: number): (readonly [number, number])[] {
  const random = seeded(seed + 7);
  const pick = (): number => Math.floor(random() * plants.length);
  return plants.length < 2
    ? []
    : Array.from({ length: most }, (): readonly [number, number] => [pick(), pick()]).filter(([a, b]) => a !== b);
}

/** Both mistakes in one drawing; null where they do not go together. */
function together(one: Plant, other: Plant, { reference }: PreparedLab): Plant | null {
  if (!one.commands || !other.commands) return null;
  const done = applyBatch(reference.topology, 'both', [...one.commands, ...other.commands]);
  return done.ok ? { ...one, drawing: done.value.document } : null;
}

/** Sentences of a draft that would notice what the spec misses. */
function proposalsFor(
  lab: DrilledLab,
  plants: readonly Plant[],
  found: readonly DrilledFault[],
): Pick<Drill, 'proposals' | 'groups'> {
  const missed = found.flatMap(({ outcome }, at) => (outcome === 'missed' ? at : []));
  if (!missed.length) return { proposals: [], groups: {} };
  const draft = draftOf(
    lab,
    undefined,
    missed.map((at) => ({
      kind: plants[at]!.operator,
      text: plants[at]!.text,
      drawing: plants[at]!.drawing,
      plan: plants[at]!.plan,
    })),
  );
  const proposals = draft.proposals
    .filter(({ notices }) => notices.length)
    .map(({ id, sentence, family, rule, credit, leftOut, notices }) => ({
      id,
      sentence,
      family,
      rule,
      credit,
      ...(leftOut !== undefined && { leftOut }),
      notices: notices.map((nth) => missed[nth]!),
    }))
    .sort(
      (a, b) =>
        Number(a.leftOut !== undefined) - Number(b.leftOut !== undefined) || b.notices.length - a.notices.length,
    );
  return { proposals, groups: draft.groups };
}

/** Each kind of mistake counts once, and places up to symmetry. */
export function scoreOf(found: readonly Pick<DrilledFault, 'operator' | 'title' | 'outcome'>[]): Score {
  const kinds = new Map<string, Score['kinds'][number]>();
  for (const { operator, title, outcome } of found) {
    const kind = kinds.get(operator) ?? { operator, title, noticed: 0, missed: 0, harmless: 0 };
    kinds.set(operator, { ...kind, [outcome]: kind[outcome] + 1 });
  }
  const harmful = [...kinds.values()].filter(({ noticed, missed }) => noticed + missed > 0);
  const sum = harmful.reduce((all, { noticed, missed }) => all + noticed / (noticed + missed), 0);
  return { all: harmful.length ? sum / harmful.length : 1, kinds: [...kinds.values()] };
}

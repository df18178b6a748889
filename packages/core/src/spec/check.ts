import { type NetworkModel, analyse, optionsOf } from '../engine';
import { type Plan, emptyPlan } from '../plan';
import { type Topology, documentHash, emptyTopology } from '../topology';
import { CORE_VERSION } from '../version';
import { proposedAsLost } from './chance';
import { positive } from './combining';
import { type Handed, contextOf } from './context';
import { Corresponding, type Read } from './corresponding';
import { departuresOf } from './departures';
import { type Judged, type KeyedItem, evaluate, kindsIn, wordsOf } from './evaluate';
import { type JudgingLab, specHash } from './judging';
import { type Pins, type RoleMatch, matchRoles } from './matching/match';
import { type Remark, withOutside } from './outside';
import { type Given, givenBy } from './given';
import { foreignModels, leftOpen } from './own-models';
import { type CheckResult, type ItemResult, type RequirementResult } from './result';
import { type CheckContext, type Place, capital, placeOf, sentenceOf } from './rule';
import { ruleKind } from './rules';
import { type Requirement } from './schema';
import { tooLarge } from './size';
import { scoreOf, summed, total } from './score';
import { standing } from './standing';
import { type Telling } from './telling';

/** What is judged: a drawing, with what is handed in beside it. */
export interface Submitted {
  readonly drawing: Topology;
  readonly plan?: Plan | undefined;
  /** What was written under the tasks, by their ids. */
  readonly answers?: Readonly<Record<string, string>>;
}

/** A lab with all that is worked out from it alone: once for many submissions. */
export interface PreparedLab {
  readonly lab: JudgingLab;
  readonly hash: string;
  readonly reference: NetworkModel;
  readonly given: Given | null;
  /** Whether it asks for what is written under tasks: where it does not, that changes no result. */
  readonly asks: boolean;
}

export function prepareLab(lab: JudgingLab): PreparedLab {
  const reference = analyse(lab.reference, optionsOf(lab.policy));
  return {
    lab,
    hash: specHash(lab),
    reference,
    given: givenBy(lab, reference),
    asks: lab.spec.sections.some((section) =>
      section.requirements.some(({ rule }) => kindsIn(rule).some((kind) => ruleKind(kind)?.family === 'questions')),
    ),
  };
}

/**
 * Judges what was handed in, without looking for the mistakes behind it. Pure: same lab, submission and pins, same result.
 *
 * @param pins who plays which role where a person has said so; of roles and devices that there are
 */
export function judgeByRequirements(
  prepared: PreparedLab,
  { drawing, plan = emptyPlan(), ...rest }: Submitted,
  pins: Pins = {},
): CheckResult {
  const { lab, hash, reference, given, asks } = prepared;
  const answers = asks ? (rest.answers ?? {}) : {};
  const why = tooLarge(drawing);
  return {
    coreVersion: CORE_VERSION,
    specHash: hash,
    submissionHash: submissionHash(drawing, plan, answers),
    ...(Object.keys(pins).length && { pins }),
    ...(why === null
      ? judged(lab, reference, given, analyse(drawing, reference.options), { plan, answers }, pins)
      : notJudged(lab, reference, analyse(emptyTopology(), reference.options), why)),
  };
}

/** What a changed drawing earns, and each requirement of it. */
export interface Earned {
  /** The points before they are rounded. */
  readonly sum: number;
  readonly points: number;
  readonly of: number;
  readonly requirements: readonly RequirementResult[];
}

/**
 * Judges a drawing whose roles are known: as `judge` does, without looking who plays which. For drawings that differ in a
 * little from one that was judged.
 */
export function judgeAgain(
  { lab, reference, given, asks }: PreparedLab,
  drawn: NetworkModel,
  { plan = emptyPlan(), ...rest }: Omit<Submitted, 'drawing'>,
  matching: readonly RoleMatch[],
): Earned {
  const roles = [...matching];
  const { topology, remarks } = withOutside(reference, drawn, roles);
  const student = remarks.length ? analyse(topology, drawn.options) : drawn;
  const handed = { plan, answers: asks ? (rest.answers ?? {}) : {} };
  const { sum, points, of, requirements } = judgedAs(lab, reference, given, student, handed, roles);
  return { sum, points, of, requirements };
}

/** A drawing that is not judged: each requirement waits for a person, and says why. */
function notJudged(lab: JudgingLab, reference: NetworkModel, nothing: NetworkModel, why: string): Outcome {
  const {
    sum: _none,
    judgements: _empty,
    ...empty
  } = judgedAs(lab, reference, null, nothing, { plan: emptyPlan() }, matchRoles(reference, nothing).roles);
  const text = `The drawing is not judged. ${why}`;
  return {
    ...empty,
    points: 0,
    sections: empty.sections.map((section) => ({ ...section, points: 0 })),
    requirements: empty.requirements.map((result) => ({
      ...result,
      points: 0,
      verdict: 'unjudged',
      items: [{ key: 'size', code: 'UNCERTAIN', text, met: null, places: [] }],
    })),
    remarks: [{ text, places: [] }],
  };
}

type Outcome = Omit<CheckResult, 'coreVersion' | 'specHash' | 'submissionHash' | 'pins'>;

function judged(
  lab: JudgingLab,
  reference: NetworkModel,
  given: Given | null,
  drawn: NetworkModel,
  handed: Handed,
  pins: Pins,
): Outcome {
  const { roles, alternatives, rivals } = matchRoles(reference, drawn, pins, lab.policy.names === 'exact');
  const { topology, remarks } = withOutside(reference, drawn, roles);
  const student = remarks.length ? analyse(topology, drawn.options) : drawn;
  // Of arrangements of the same devices that are as good the one with most points counts.
  const first = judgedAs(lab, reference, given, student, handed, roles);
  const judgedBy = (changes: ReadonlyMap<string, string | null>, from: Arranged = first): Arranged =>
    judgedAs(lab, reference, given, student, handed, withChanges(from.matching, changes), from);
  const isWhole = first.requirements.every(({ verdict }) => verdict === 'met' || verdict === 'notApplying');
  // Larger drawings are judged fewer times over, so that none holds up the others: counted in devices, never in time.
  const most = Math.floor(MOST_JUDGED / Math.max(1, student.instances.size));
  const best = (isWhole ? [] : alternatives.slice(0, most))
    .map((changes) => judgedBy(changes))
    .reduce((most, next) => (next.sum > most.sum ? next : most), first);
  // Two answers to one question are worth the lesser of them.
  const least = rivals
    .slice(0, most)
    .map((changes) => judgedBy(changes, best))
    .reduce((lowest, next) => (next.sum < lowest.sum ? next : lowest), best);
  const { sum: _exact, judgements: _theirs, ...outcome } = least;
  const told = [...remarks, ...departuresOf(lab, drawn), ...mostDoesNotApply(outcome)];
  return {
    ...outcome,
    ...(told.length && { remarks: told }),
    ...(best !== first && { arranged: 'best' as const }),
    ...(least !== best && { arranged: 'least' as const }),
  };
}

/** Where much of a spec does not apply, a mark of what is left says little: a person is asked to look. */
function mostDoesNotApply({ requirements }: Outcome): Remark[] {
  const worth = (list: readonly RequirementResult[]): number =>
    total(
      list.filter(({ bonus, deduction }) => !bonus && !deduction),
      ({ of }) => of,
    );
  // What came with the starter never applied to anybody.
  const asked = requirements.filter(({ given }) => !given);
  const [without, all] = [worth(asked.filter(({ verdict }) => verdict === 'notApplying')), worth(asked)];
  return without * 5 > all
    ? [{ text: `${without} of ${all} points do not apply to this drawing: a person should look at it.`, places: [] }]
    : [];
}

/** Devices of all the arrangements together that are judged beside the first one. */
const MOST_JUDGED = 4000;

const withChanges = (roles: readonly RoleMatch[], changes: ReadonlyMap<string, string | null>): RoleMatch[] =>
  roles.map((match) => (changes.has(match.role) ? { ...match, device: changes.get(match.role)! } : match));

/** A requirement as one arrangement of the roles fulfils it, before it is compared with the others. */
interface Judgement {
  readonly requirement: Requirement;
  readonly sentence: string;
  readonly theirSentence: string;
  readonly hints: Requirement['hints'];
  readonly judged: Judged;
  /** What is told of each fact. */
  readonly told: readonly ItemResult[];
  /** What was looked up for it, of the drawing and of the starter. */
  readonly read: readonly [Read, Read | null];
}

/** An outcome with what it was made of, and `sum`: the points before they are rounded. */
interface Arranged extends Outcome {
  readonly sum: number;
  readonly judgements: readonly Judgement[];
}

/** @param other another arrangement of the same drawing: what asks for nothing that differs from it is taken over */
function judgedAs(
  lab: JudgingLab,
  reference: NetworkModel,
  given: Given | null,
  student: NetworkModel,
  handed: Handed,
  matching: RoleMatch[],
  other?: Arranged,
): Arranged {
  const playing = new Corresponding(reference, student, matching);
  const made = contextOf(lab, reference, student, playing, handed, given?.devices);
  const foreign = foreignModels(reference, student);
  const starter = given?.by(student, matching);
  const judgement = (requirement: Requirement): Omit<Judgement, 'read'> => {
    const judged =
      evaluate(requirement.rule, made.context)?.map((item) => {
        const told = proposedAsLost(foreign.size ? leftOpen(item, foreign) : item);
        return starter?.fulfils(requirement, told)
          ? { ...told, given: true as const, text: `${told.text} That came with the starter.` }
          : told;
      }) ?? null;
    return { requirement, judged, ...wordsFor(requirement, judged, made) };
  };
  const judgements = requirementsOf(lab).map((requirement, at): Judgement => {
    const known = other?.judgements[at];
    if (known && playing.agrees(known.read[0]) && (!known.read[1] || starter?.playing.agrees(known.read[1])))
      return known;
    const { value, read } = playing.reading(() =>
      starter ? starter.playing.reading(() => judgement(requirement)) : { value: judgement(requirement), read: null },
    );
    return { ...value.value, read: [read, value.read] };
  });
  const seen = lab.policy.missing === 'everywhere' ? new Map<string, string>() : missingIn(judgements);
  const sectionOf = new Map(
    lab.spec.sections.flatMap(({ id, requirements }) => requirements.map((each) => [each, id])),
  );
  const requirements = standing(
    lab.spec,
    judgements.map((judgement) => resultOf(judgement, sectionOf.get(judgement.requirement)!, seen)),
  );
  return { ...summed(lab, requirements), matching, forStudents: true, judgements };
}

const requirementsOf = ({ spec }: JudgingLab): Requirement[] =>
  spec.sections.flatMap(({ requirements }) => requirements);

/** What was handed in, as a hash: SHA-256 in hex. */
export const submissionHash = (
  drawing: Topology,
  plan: Plan = emptyPlan(),
  answers: Readonly<Record<string, string>> = {},
): string =>
  Object.keys(answers).length
    ? documentHash({ drawing, plan, answers })
    : documentHash(isEmptyPlan(plan) ? drawing : { drawing, plan });

const isEmptyPlan = (plan: Plan): boolean =>
  Object.keys(plan.blocks).length + Object.keys(plan.addresses ?? {}).length === 0;

/** By what is missing, a link between two roles or a label at a port, the requirement that asks for that itself. */
function missingIn(all: readonly Judgement[]): ReadonlyMap<string, string> {
  const found = new Map<string, string>();
  for (const { requirement, judged } of all) {
    if (requirement.points <= 0) continue;
    const kinds = new Set(positive(requirement.rule).map(({ kind }) => kind));
    for (const item of judged ?? []) {
      if (item.met !== false || item.see !== undefined) continue;
      if (kinds.has('linked') && item.about) found.set(linkOf(item.about.roles), requirement.id);
      if (kinds.has('portsLabelled'))
        for (const place of item.places) if (place.port !== undefined) found.set(labelAt(place), requirement.id);
    }
  }
  return found;
}
/** Whichever of the two is named first. */
const linkOf = (roles: readonly string[]): string => `linked ${[...roles].sort().join('~')}`;
const labelAt = ({ device = '', port = '' }: Place): string => `labelled ${device} ${port}`;
/** What an item that sees another one misses. */
const missedBy = ({ see, about, places }: KeyedItem): string =>
  see === 'labelled' ? labelAt(places[0] ?? {}) : linkOf(about?.roles ?? []);

/** Words for a requirement and for its facts, for those who teach and for students. */
function wordsFor(
  requirement: Requirement,
  judged: Judged,
  { context, telling, theirWording }: ReturnType<typeof contextOf>,
): Pick<Judgement, 'sentence' | 'theirSentence' | 'hints' | 'told'> {
  const written = requirement.wording ?? sentenceOf(wordsOf(requirement.rule, context));
  const sentence = requirement.wording ?? capital(telling.full(written));
  const theirSentence = requirement.wording === undefined ? telling.theirs(written) : theirWording(written);
  return {
    sentence,
    theirSentence,
    hints:
      requirement.hints &&
      Object.fromEntries(Object.entries(requirement.hints).map(([strength, text]) => [strength, theirWording(text)])),
    told: judged?.map((item) => toldItem(item, context, telling, theirSentence)) ?? [],
  };
}

function resultOf(
  { requirement, sentence, theirSentence, hints, judged, told }: Judgement,
  section: string,
  missing: ReadonlyMap<string, string>,
): RequirementResult {
  const seen = (item: KeyedItem): { see?: string } => {
    // What is taken off where it is found says nothing of links that are missing.
    const see = requirement.deduction ? undefined : item.see && missing.get(missedBy(item));
    return see === undefined || see === requirement.id ? {} : { see };
  };
  const items = judged?.map((item, at) => ({ ...told[at]!, ...seen(item) })) ?? null;
  return {
    id: requirement.id,
    section,
    sentence,
    ...(theirSentence !== sentence && { theirSentence }),
    of: requirement.points,
    bonus: !requirement.deduction && (requirement.bonus ?? false),
    ...(requirement.deduction && { deduction: true }),
    ...(hints && { hints }),
    ...scoreOf(requirement, items),
    items: items ?? [],
  };
}

function toldItem(item: KeyedItem, context: CheckContext, telling: Telling, theirSentence: string): ItemResult {
  const { key, code, text: marked, met, places, weight, given, proposed, grounded, values, packet } = item;
  const [text, theirText] = [telling.full(marked), telling.theirs(marked, theirSentence)];
  return {
    key,
    code,
    text,
    ...(theirText !== text && { theirText }),
    met,
    places,
    ...(weight !== undefined && { weight }),
    ...(values && { values }),
    ...(!grounded && { grounded: false as const }),
    ...(given && { given }),
    ...(proposed && { proposed }),
    ...(met !== true && { dependsOn: readBy(item, context), ...(packet && { packet }) }),
  };
}

const MOST_READ = 64;
/** What an item read: its places first, then the devices of its roles, then what else it says it read; each once. */
function readBy({ places, about, reads = [] }: KeyedItem, context: CheckContext): Place[] {
  const playing = (about?.roles ?? []).flatMap((role) => context.devices(role).map((device) => placeOf(device)));
  const found = new Map<string, Place>();
  for (const place of [...places, ...playing, ...reads]) {
    if (found.size >= MOST_READ) break;
    const { port: _any, ...whole } = place;
    const key = JSON.stringify(Object.keys(whole).length ? whole : place);
    if (!found.has(key)) found.set(key, whole);
  }
  return [...found.values()];
}

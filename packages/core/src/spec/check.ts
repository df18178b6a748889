import { type NetworkModel, analyse, optionsOf } from '../engine';
import { type Plan, emptyPlan } from '../plan';
import { type Topology, documentHash, emptyTopology } from '../topology';
import { CORE_VERSION } from '../version';
import { proposedAsLost } from './chance';
import { positive } from './combining';
import { type Handed, contextOf } from './context';
import { departuresOf } from './departures';
import { type Judged, type KeyedItem, evaluate, kindsIn, share, wordsOf } from './evaluate';
import { type JudgingLab, specHash } from './judging';
import { type RoleMatch, matchRoles } from './matching/match';
import { type Remark, withOutside } from './outside';
import { type Given, givenBy } from './given';
import { foreignModels, leftOpen } from './own-models';
import { type CheckResult, type ItemResult, type RequirementResult } from './result';
import { capital, sentenceOf } from './rule';
import { ruleKind } from './rules';
import { type Requirement } from './schema';
import { tooLarge } from './size';
import { hurdles, standing } from './standing';
import { type Telling } from './telling';

/** Checks a drawing and a plan against a lab. Pure: same lab and submission, same result. */
export const checkSubmission = (
  lab: JudgingLab,
  drawing: Topology,
  plan?: Plan,
  answers?: Handed['answers'],
): CheckResult => checkerOf(lab)(drawing, plan, answers);

/** The same for many submissions: what is worked out from the lab alone is so once. */
export function checkerOf(
  lab: JudgingLab,
): (drawing: Topology, plan?: Plan, answers?: Handed['answers']) => CheckResult {
  const options = optionsOf(lab.policy);
  const reference = analyse(lab.reference, options);
  const hash = specHash(lab);
  const given = givenBy(lab, reference);
  const asks = lab.spec.sections.some((section) =>
    section.requirements.some(({ rule }) => kindsIn(rule).some((kind) => ruleKind(kind)?.family === 'questions')),
  );
  return (drawing, plan = emptyPlan(), written = {}) => {
    // Where nothing asks for them, answers change no result.
    const answers = asks ? written : {};
    const why = tooLarge(drawing);
    return {
      coreVersion: CORE_VERSION,
      specHash: hash,
      submissionHash: submissionHash(drawing, plan, answers),
      ...(why === null
        ? judged(lab, reference, given, analyse(drawing, options), { plan, answers })
        : notJudged(lab, reference, analyse(emptyTopology(), options), why)),
    };
  };
}

/** A drawing that is not judged: each requirement waits for a person, and says why. */
function notJudged(lab: JudgingLab, reference: NetworkModel, nothing: NetworkModel, why: string): Outcome {
  const { sum: _none, ...empty } = judgedAs(
    lab,
    reference,
    null,
    nothing,
    { plan: emptyPlan() },
    matchRoles(reference, nothing).roles,
  );
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

type Outcome = Omit<CheckResult, 'coreVersion' | 'specHash' | 'submissionHash'>;

function judged(
  lab: JudgingLab,
  reference: NetworkModel,
  given: Given | null,
  drawn: NetworkModel,
  handed: Handed,
): Outcome {
  const { roles, alternatives, rivals } = matchRoles(reference, drawn);
  const { topology, remarks } = withOutside(reference, drawn, roles);
  const student = remarks.length ? analyse(topology, drawn.options) : drawn;
  const judgedBy = (changes?: ReadonlyMap<string, string | null>): Outcome & { sum: number } =>
    judgedAs(lab, reference, given, student, handed, changes ? withChanges(roles, changes) : roles);
  // Of arrangements of the same devices that are as good the one with most points counts.
  const first = judgedBy();
  const isWhole = first.requirements.every(({ verdict }) => verdict === 'met' || verdict === 'notApplying');
  // Larger drawings are judged fewer times over, so that none holds up the others: counted in devices, never in time.
  const most = Math.floor(MOST_JUDGED / Math.max(1, student.instances.size));
  const best = (isWhole ? [] : alternatives.slice(0, most))
    .map(judgedBy)
    .reduce((most, next) => (next.sum > most.sum ? next : most), first);
  // Two answers to one question are worth the lesser of them.
  const least = rivals
    .slice(0, most)
    .map((changes) => judgedAs(lab, reference, given, student, handed, withChanges(best.matching, changes)))
    .reduce((lowest, next) => (next.sum < lowest.sum ? next : lowest), best);
  const { sum: _exact, ...outcome } = least;
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

/** @returns also `sum`: the points before they are rounded */
function judgedAs(
  lab: JudgingLab,
  reference: NetworkModel,
  given: Given | null,
  student: NetworkModel,
  handed: Handed,
  matching: RoleMatch[],
): Outcome & { sum: number } {
  const made = contextOf(lab, reference, student, matching, handed, given?.devices);
  const all = lab.spec.sections.flatMap((section) =>
    section.requirements.map((requirement) => ({ section, requirement })),
  );
  const foreign = foreignModels(reference, student);
  const isGiven = given?.by(student, matching);
  const judgedRules = all.map(({ requirement }) => {
    const items = evaluate(requirement.rule, made.context);
    return (
      items?.map((item) => {
        const told = proposedAsLost(foreign.size ? leftOpen(item, foreign) : item);
        return isGiven?.(requirement, told)
          ? { ...told, given: true as const, text: `${told.text} That came with the starter.` }
          : told;
      }) ?? null
    );
  });
  const seen = missingLinks(all.map(({ requirement }, at) => ({ requirement, items: judgedRules[at]! })));
  const requirements = standing(
    lab.spec,
    all.map(({ section, requirement }, at) => judge(requirement, section.id, judgedRules[at]!, made, seen)),
  );
  const sections = lab.spec.sections.map(({ id, title }) => {
    const own = requirements.filter((requirement) => requirement.section === id);
    return {
      id,
      title,
      // Deductions take no more than there is.
      points: Math.max(
        0,
        total(own, (result) => result.points),
      ),
      of: total(own, (result) =>
        result.bonus || result.deduction || result.verdict === 'notApplying' ? 0 : result.of,
      ),
    };
  });
  const rounding = lab.policy.rounding ?? 0.5;
  const [sum, of] = [total(sections, (section) => section.points), total(sections, (section) => section.of)];
  return {
    // A full mark is for a full answer only, and that one is not cut by a step that does not divide it.
    points: sum >= of ? sum : Math.round(Math.floor(sum / rounding + 1e-9) * rounding * 100) / 100,
    sum,
    of,
    sections,
    requirements,
    ...hurdles(lab.spec, sections, requirements),
    matching,
    forStudents: true,
  };
}

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

/** Sums in hundredths, so that halves and quarters add up exactly. */
const total = <T>(list: readonly T[], points: (item: T) => number): number =>
  list.reduce((sum, nullable) => sum + Math.round(points(nullable) * 100), 0) / 100;

/** By the two roles of a link that is missing, the requirement that asks for the link itself. */
function missingLinks(all: readonly { requirement: Requirement; items: Judged }[]): ReadonlyMap<string, string> {
  const found = new Map<string, string>();
  for (const { requirement, items } of all)
    if (positive(requirement.rule).some((rule) => rule.kind === 'linked') && requirement.points > 0)
      for (const item of items ?? [])
        if (item.met === false && item.see === undefined && item.about)
          found.set(item.about.roles.join('~'), requirement.id);
  return found;
}

function judge(
  requirement: Requirement,
  section: string,
  judgedRule: Judged,
  { context, telling, theirWording }: ReturnType<typeof contextOf>,
  missing: ReadonlyMap<string, string>,
): RequirementResult {
  const written = requirement.wording ?? sentenceOf(wordsOf(requirement.rule, context));
  const sentence = requirement.wording ?? capital(telling.full(written));
  const theirSentence = requirement.wording === undefined ? telling.theirs(written) : theirWording(written);
  const seeing = (item: KeyedItem): string | undefined => {
    const see = item.see && item.about && missing.get(item.about.roles.join('~'));
    return see === requirement.id ? undefined : see;
  };
  const items = judgedRule ?? [];
  const counted = items.filter((item) => seeing(item) === undefined && !item.given);
  // All of it came with the starter and stands: nothing is left to earn.
  const allGiven = items.length > 0 && items.every((item) => item.given);
  const won = share(counted);
  const part = requirement.credit === 'share' ? won : won === 1 ? 1 : 0;
  // Rounded down: a full mark is for a full answer only.
  const points = part === 1 ? requirement.points : Math.floor(requirement.points * part * 100 + 1e-7) / 100;
  if (requirement.deduction) return deducted(requirement, section, { sentence, theirSentence }, items, telling);
  const open =
    counted.some((item) => item.met === null) &&
    !(requirement.credit !== 'share' && counted.some((item) => item.met === false));
  return {
    id: requirement.id,
    section,
    sentence,
    ...(theirSentence !== sentence && { theirSentence }),
    points,
    of: requirement.points,
    bonus: requirement.bonus ?? false,
    ...(allGiven && { given: true as const }),
    verdict:
      judgedRule === null || allGiven
        ? 'notApplying'
        : won === 1
          ? 'met'
          : open
            ? 'unjudged'
            : points > 0
              ? 'partly'
              : 'lost',
    items: items.map((item) => toldItem(item, telling, theirSentence, seeing(item))),
  };
}

function toldItem(
  { key, code, text: marked, met, places, weight, given, proposed }: KeyedItem,
  telling: Telling,
  theirSentence: string,
  see?: string,
): ItemResult {
  const [text, theirText] = [telling.full(marked), telling.theirs(marked, theirSentence)];
  return {
    key,
    code,
    text,
    ...(theirText !== text && { theirText }),
    met,
    places,
    ...(weight !== undefined && { weight }),
    ...(see !== undefined && { see }),
    ...(given && { given }),
    ...(proposed && { proposed }),
  };
}

/** What takes points off: only what is found, never what is missing. */
function deducted(
  requirement: Requirement,
  section: string,
  { sentence, theirSentence }: { sentence: string; theirSentence: string },
  items: readonly KeyedItem[],
  telling: Telling,
): RequirementResult {
  const found = items.filter((item) => item.grounded && item.met === false);
  const open = items.some((item) => item.met === null);
  const part =
    requirement.credit === 'share'
      ? 1 - share(items.map((item) => ({ ...item, met: !found.includes(item) })))
      : found.length
        ? 1
        : 0;
  const points = Math.floor(requirement.points * part * 100 + 1e-7) / 100;
  return {
    id: requirement.id,
    section,
    sentence,
    ...(theirSentence !== sentence && { theirSentence }),
    points: points ? -points : 0,
    of: requirement.points,
    bonus: false,
    deduction: true,
    verdict: found.length ? (part < 1 ? 'partly' : 'lost') : open ? 'unjudged' : 'met',
    items: items.map((item) => toldItem(item, telling, theirSentence)),
  };
}

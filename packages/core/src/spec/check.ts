import { byName } from '../collation';
import { type NetworkModel, analyse, optionsOf } from '../engine';
import { type Plan, emptyPlan } from '../plan';
import { type Problem, type Topology, KIT, canonicalJson, documentHash, entryOf } from '../topology';
import { CORE_VERSION } from '../version';
import { contextOf } from './context';
import { positive } from './combining';
import { type Judged, type KeyedItem, evaluate, ruleProblems, share, wordsOf } from './evaluate';
import { type JudgingLab, specHash } from './judging';
import { type RoleMatch, matchRoles } from './matching/match';
import { type Item, type ItemCode, type Names, type Part, REF_WORDS, capital, sentenceOf } from './rule';
import { type Remark, withOutside } from './outside';
import { ALL_GROUPS } from './rules';
import { type LabFile, type Requirement, type Spec } from './schema';
import { type Telling } from './telling';

/**
 * How a requirement was judged: `unjudged` where the engine cannot say for certain and a person decides, `notApplying` where
 * its condition does not hold, so that its points are in neither the mark nor the total.
 */
export type Verdict = 'met' | 'partly' | 'lost' | 'unjudged' | 'notApplying';
export interface ItemResult extends Pick<Item, 'text' | 'met' | 'places' | 'weight'> {
  /** The same for the same fact in any submission: place in the rule, roles and family; absent from older results. */
  key?: string;
  code?: ItemCode;
  /** The requirement under which what is missing counts: here it costs nothing more. */
  see?: string;
  /** The text for the student, where it is another: without names of the reference and values that the sentence lacks. */
  theirText?: string;
}
export interface RequirementResult {
  id: string;
  section: string;
  sentence: string;
  /** The same for the student, where it is another: without names of the reference. */
  theirSentence?: string;
  points: number;
  of: number;
  bonus: boolean;
  /** Whether its points are taken off; they are 0 or less then, and in no total. */
  deduction?: boolean;
  /** Requirements on which it stands and that are not met: it counts nothing. */
  waitsFor?: string[];
  verdict: Verdict;
  items: ItemResult[];
}
/** A submission judged by a spec. It can be made again: it tells the versions and hashes of all that it was made from. */
export interface CheckResult {
  coreVersion: string;
  specHash: string;
  submissionHash: string;
  /** Rounded down to the step of the policy; sections and requirements are kept to a hundredth. */
  points: number;
  of: number;
  sections: { id: string; title: string; points: number; of: number }[];
  requirements: RequirementResult[];
  /** What counted otherwise than it is drawn. */
  remarks?: Remark[];
  /** Hurdles that were not taken, as sentences; absent where the spec has none. */
  hurdlesMissed?: string[];
  matching: RoleMatch[];
  /**
   * Where structure left a choice: `best`, of several arrangements of the same devices the one with most points; `least`,
   * since more devices than are asked for would do and differ in what is judged.
   */
  arranged?: 'best' | 'least';
  /** Whether its texts are told for students, too; absent from results that were made before they were. */
  forStudents?: true;
}

/** Checks a drawing and a plan against a lab. Pure: same lab and submission, same result. */
export const checkSubmission = (lab: JudgingLab, drawing: Topology, plan?: Plan): CheckResult =>
  checkerOf(lab)(drawing, plan);

/** The same for many submissions: what is worked out from the lab alone is so once. */
export function checkerOf(lab: JudgingLab): (drawing: Topology, plan?: Plan) => CheckResult {
  const options = optionsOf(lab.policy);
  const reference = analyse(lab.reference, options);
  const hash = specHash(lab);
  return (drawing, plan = emptyPlan()) => {
    const student = analyse(drawing, options);
    return {
      coreVersion: CORE_VERSION,
      specHash: hash,
      submissionHash: submissionHash(drawing, plan),
      ...judged(lab, reference, student, plan),
    };
  };
}

type Outcome = Omit<CheckResult, 'coreVersion' | 'specHash' | 'submissionHash'>;

function judged(lab: JudgingLab, reference: NetworkModel, drawn: NetworkModel, plan: Plan): Outcome {
  const { roles, alternatives, rivals } = matchRoles(reference, drawn);
  const { topology, remarks } = withOutside(reference, drawn, roles);
  const student = remarks.length ? analyse(topology, drawn.options) : drawn;
  const judgedBy = (changes?: ReadonlyMap<string, string | null>): Outcome & { sum: number } =>
    judgedAs(lab, reference, student, plan, changes ? withChanges(roles, changes) : roles);
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
    .map((changes) => judgedAs(lab, reference, student, plan, withChanges(best.matching, changes)))
    .reduce((lowest, next) => (next.sum < lowest.sum ? next : lowest), best);
  const { sum: _exact, ...outcome } = least;
  const told = [...remarks, ...mostDoesNotApply(outcome)];
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
  const [without, all] = [worth(requirements.filter(({ verdict }) => verdict === 'notApplying')), worth(requirements)];
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
  student: NetworkModel,
  plan: Plan,
  matching: RoleMatch[],
): Outcome & { sum: number } {
  const made = contextOf(lab, reference, student, matching, plan);
  const all = lab.spec.sections.flatMap((section) =>
    section.requirements.map((requirement) => ({ section, requirement })),
  );
  const foreign = foreignModels(reference, student);
  const judgedRules = all.map(({ requirement }) => {
    const items = evaluate(requirement.rule, made.context);
    return foreign.size ? (items?.map((item) => leftOpen(item, foreign)) ?? null) : items;
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

/** Devices of models that neither the kit nor the lab has as they are, by id with the model's name. */
function foreignModels(reference: NetworkModel, student: NetworkModel): ReadonlyMap<string, string> {
  if (!student.topology.models) return new Map();
  return new Map(
    [...student.instances.values()].flatMap(({ deviceId, device, model }) => {
      // The kit's own go before any that a drawing brings under the same name.
      if (entryOf(KIT, device.model)) return [];
      const wanted = entryOf(reference.topology.models, device.model);
      return wanted && canonicalJson(wanted) === canonicalJson(model) ? [] : [[deviceId, model.name] as const];
    }),
  );
}

/** What a device of a model of one's own does well proves nothing: a person decides. */
function leftOpen(item: KeyedItem, foreign: ReadonlyMap<string, string>): KeyedItem {
  const model =
    item.met === true
      ? item.places.map(({ device }) => foreign.get(device ?? '')).find((name) => name !== undefined)
      : undefined;
  if (model === undefined) return item;
  return {
    ...item,
    met: null,
    code: 'UNCERTAIN',
    text: `${item.text} That is a device of a model which the lab does not have (${model}).`,
  };
}

/** Requirements count nothing as long as one on which they, or their section, stand is not met. */
function standing(spec: Spec, results: RequirementResult[]): RequirementResult[] {
  const bases = new Map(
    spec.sections.flatMap(({ standsOn = [], requirements }) =>
      requirements.map(
        (each) => [each.id, [...(each.standsOn ?? []), ...standsOn.filter((id) => id !== each.id)]] as const,
      ),
    ),
  );
  const known = new Map(results.map((result) => [result.id, result]));
  /** Those that hold nothing back; what does not apply asks for nothing. */
  const holds = (id: string, asking: ReadonlySet<string>): boolean => {
    const result = known.get(id);
    if (!result || asking.has(id)) return true;
    if (result.verdict !== 'met' && result.verdict !== 'notApplying') return false;
    return (bases.get(id) ?? []).every((base) => holds(base, new Set([...asking, id])));
  };
  return results.map((result) => {
    const waitsFor = (bases.get(result.id) ?? []).filter((id) => !holds(id, new Set([result.id])));
    if (!waitsFor.length || result.deduction || result.verdict === 'notApplying') return result;
    const isOpen = result.points > 0 && waitsFor.some((id) => known.get(id)?.verdict === 'unjudged');
    const text = `It counts once ${waitsFor.join(' and ')} ${waitsFor.length === 1 ? 'is' : 'are'} met.`;
    return {
      ...result,
      points: 0,
      verdict: isOpen ? 'unjudged' : 'lost',
      waitsFor,
      items: [
        { key: 'standsOn', code: 'LOST', text, met: isOpen ? null : false, places: [], weight: 0 },
        ...result.items,
      ],
    };
  });
}

/** What is needed to pass whatever the points, and was not reached. */
function hurdles(
  spec: Spec,
  sections: CheckResult['sections'],
  results: readonly RequirementResult[],
): Pick<CheckResult, 'hurdlesMissed'> {
  const all = spec.sections.flatMap(({ id, title, hurdle, requirements }): (string | null)[] => {
    const own = requirements.flatMap((each) => {
      if (!each.hurdle) return [];
      const verdict = results.find((result) => result.id === each.id)!.verdict;
      return verdict === 'met' || verdict === 'notApplying' ? [null] : [`${each.id} is needed to pass and is not met.`];
    });
    const { points, of } = sections.find((section) => section.id === id)!;
    const share = of ? Math.floor((100 * points) / of) : 100;
    const whole =
      hurdle === undefined
        ? []
        : [share >= hurdle ? null : `${title}: ${share} % of its points, ${hurdle} % are needed to pass.`];
    return [...own, ...whole];
  });
  return all.length ? { hurdlesMissed: all.filter((text) => text !== null) } : {};
}

/** What was handed in, as a hash: SHA-256 in hex. */
export const submissionHash = (drawing: Topology, plan: Plan = emptyPlan()): string =>
  documentHash(isEmptyPlan(plan) ? drawing : { drawing, plan });

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
  const counted = items.filter((item) => seeing(item) === undefined);
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
    verdict:
      judgedRule === null ? 'notApplying' : won === 1 ? 'met' : open ? 'unjudged' : points > 0 ? 'partly' : 'lost',
    items: items.map((item) => toldItem(item, telling, theirSentence, seeing(item))),
  };
}

function toldItem(
  { key, code, text: marked, met, places, weight }: KeyedItem,
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

/** What is wrong in a spec beyond its shape: doubled ids, and rules that point at nothing. */
export function specProblems({ spec, reference, brief }: Pick<LabFile, 'spec' | 'reference' | 'brief'>): Problem[] {
  const model = analyse(reference);
  const refs = new Set([...refsOf(spec, reference).map((ref) => ref.ref), ...model.instances.keys()]);
  const known = {
    refs,
    sites: reference.sites,
    groups: new Set([ALL_GROUPS, ...(brief.groups ?? []).map((group) => group.id)]),
  };
  const seen = new Set<string>();
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
  return [...groups, ...rest];
}

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

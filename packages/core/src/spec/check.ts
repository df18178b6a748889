import { type InterfaceAddress, formatInterfaceAddress, parseInterfaceAddress } from '../address';
import { type Instance, type NetworkModel, analyse, optionsOf } from '../engine';
import { type Brief, type Plan, emptyPlan, planProblems, planTree, subnetNeeds } from '../plan';
import { type Problem, type Topology, documentHash, entryOf } from '../topology';
import { CORE_VERSION } from '../version';
import { evaluate, ruleProblems, share, wordsOf } from './evaluate';
import { type JudgingLab, specHash } from './judging';
import { type RoleMatch, matchRoles } from './matching/match';
import { type CheckContext, type Item, type Names, type Part, REF_WORDS, sentenceOf } from './rule';
import { ALL_GROUPS, ANY_SITE } from './rules';
import { type LabFile, type Requirement, type Spec } from './schema';

/** How a requirement was judged; `unjudged` where the engine cannot say for certain and a person decides. */
export type Verdict = 'met' | 'partly' | 'lost' | 'unjudged';
export interface RequirementResult {
  id: string;
  section: string;
  sentence: string;
  points: number;
  of: number;
  bonus: boolean;
  verdict: Verdict;
  items: Pick<Item, 'text' | 'met' | 'places'>[];
}
/** A submission judged by a spec. It can be made again: it tells the versions and hashes of all that it was made from. */
export interface CheckResult {
  coreVersion: string;
  specHash: string;
  submissionHash: string;
  points: number;
  of: number;
  sections: { id: string; title: string; points: number; of: number }[];
  requirements: RequirementResult[];
  matching: RoleMatch[];
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

type Judged = Omit<CheckResult, 'coreVersion' | 'specHash' | 'submissionHash'>;

function judged(lab: JudgingLab, reference: NetworkModel, student: NetworkModel, plan: Plan): Judged {
  const matching = matchRoles(reference, student);
  const context = contextOf(lab, reference, student, matching, plan);
  const rounding = lab.policy.rounding ?? 0.5;
  const requirements = lab.spec.sections.flatMap((section) =>
    section.requirements.map((requirement) => judge(requirement, section.id, context, rounding)),
  );
  const sections = lab.spec.sections.map(({ id, title }) => {
    const own = requirements.filter((requirement) => requirement.section === id);
    return {
      id,
      title,
      points: total(own, (result) => result.points),
      of: total(own, (result) => (result.bonus ? 0 : result.of)),
    };
  });
  return {
    points: total(sections, (section) => section.points),
    of: total(sections, (section) => section.of),
    sections,
    requirements,
    matching,
  };
}

/** What was handed in, as a hash: SHA-256 in hex. */
export const submissionHash = (drawing: Topology, plan: Plan = emptyPlan()): string =>
  documentHash(isEmptyPlan(plan) ? drawing : { drawing, plan });

const isEmptyPlan = (plan: Plan): boolean =>
  Object.keys(plan.blocks).length + Object.keys(plan.addresses ?? {}).length === 0;

/** Sums in hundredths, so that halves and quarters add up exactly. */
const total = <T>(list: readonly T[], points: (item: T) => number): number =>
  list.reduce((sum, nullable) => sum + Math.round(points(nullable) * 100), 0) / 100;

function judge(requirement: Requirement, section: string, context: CheckContext, rounding: number): RequirementResult {
  const items = evaluate(requirement.rule, context);
  const won = share(items);
  const part = requirement.credit === 'share' ? won : won === 1 ? 1 : 0;
  // Rounded down to the policy's step: a full mark is for a full answer only.
  const points = part === 1 ? requirement.points : Math.floor((requirement.points * part) / rounding + 1e-9) * rounding;
  const open =
    items.some((item) => item.met === null) &&
    !(requirement.credit !== 'share' && items.some((item) => item.met === false));
  return {
    id: requirement.id,
    section,
    sentence: requirement.wording ?? sentenceOf(wordsOf(requirement.rule, context)),
    points: Math.round(points * 100) / 100,
    of: requirement.points,
    bonus: requirement.bonus ?? false,
    verdict: won === 1 ? 'met' : open ? 'unjudged' : points > 0 ? 'partly' : 'lost',
    items: items.map(({ text, met, places }) => ({ text, met, places })),
  };
}

const isNetwork = (instance: Instance): boolean => instance.model.class !== 'end';

/** The roles a ref stands for: a group of the spec, a device of the reference with its members, or all of a sort. */
export function rolesOf(spec: Spec, reference: NetworkModel, ref: string): string[] {
  const all = [...reference.instances.values()];
  if (ref === '@all') return all.map((instance) => instance.id);
  if (ref === '@hosts') return all.filter((instance) => !isNetwork(instance)).map((instance) => instance.id);
  if (ref === '@network') return all.filter(isNetwork).map((instance) => instance.id);
  const group = entryOf(spec.groups, ref);
  if (group) return [...new Set(group.roles.flatMap((role) => instancesAt(all, role)))];
  return instancesAt(all, ref);
}
const instancesAt = (all: readonly Instance[], id: string): string[] =>
  all.filter((instance) => instance.id === id || instance.deviceId === id).map((instance) => instance.id);

/** Words for the refs, sites and groups of a lab. */
export function namesOf({ spec, reference, brief }: Pick<LabFile, 'spec' | 'reference' | 'brief'>): Names {
  return {
    ref: (ref) => REF_WORDS[ref] ?? entryOf(spec.groups, ref)?.title ?? entryOf(reference.devices, ref)?.name ?? ref,
    site: (id) => (id === ANY_SITE ? 'anywhere' : (entryOf(reference.sites, id)?.name ?? id)),
    group: (id) => (id === ALL_GROUPS ? 'every group' : (brief.groups?.find((group) => group.id === id)?.name ?? id)),
  };
}

/** The sentence of a requirement in pieces, for reading and for choosing other words. */
export const requirementWords = (requirement: Requirement, names: Names): Part[] =>
  requirement.wording ? [requirement.wording] : wordsOf(requirement.rule, names);

/** Every ref a rule may use, with its words, for choosing. */
export function refsOf(spec: Spec, reference: Topology): { ref: string; text: string }[] {
  return [
    ...Object.entries(REF_WORDS).map(([ref, text]) => ({ ref, text })),
    ...Object.entries(spec.groups).map(([ref, { title }]) => ({ ref, text: title })),
    ...Object.entries(reference.devices).map(([ref, { name }]) => ({ ref, text: name })),
  ];
}

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
        ...ruleProblems(requirement.rule, known).map((problem) => ({
          place: `${place} › rule › ${problem.place}`,
          text: problem.text,
        })),
      ];
    }),
  );
  return [...groups, ...rest];
}

function contextOf(
  { spec, brief }: JudgingLab,
  reference: NetworkModel,
  student: NetworkModel,
  matching: readonly RoleMatch[],
  plan: Plan,
): CheckContext {
  const deviceOf = new Map(matching.flatMap(({ role, device }) => (device === null ? [] : [[role, device] as const])));
  const roleOf = new Map([...deviceOf].map(([role, device]) => [device, role]));
  const roles = new Map<string, readonly string[]>();
  const addresses = new Map<string, InterfaceAddress[]>();
  const sites = matchSites(reference, student, deviceOf);
  return {
    ...namesOf({ spec, reference: reference.topology, brief }),
    brief,
    plan: readOnce(plan, brief),
    reference,
    student,
    roles: (ref) => {
      let found = roles.get(ref);
      if (!found) roles.set(ref, (found = rolesOf(spec, reference, ref)));
      return found;
    },
    roleName: (role) => reference.instances.get(role)?.name ?? role,
    device: (role) => student.instances.get(deviceOf.get(role) ?? '') ?? null,
    roleOf: (instance) => roleOf.get(instance) ?? null,
    siteOf: (id) => sites.get(id) ?? null,
    addresses: (instance, family) => {
      let found = addresses.get(instance.id);
      if (!found)
        addresses.set(instance.id, (found = [...readAddresses(instance), ...givenAddresses(student, instance)]));
      return found.filter((on) => on.address.family === family);
    },
  };
}

const readOnce = (plan: Plan, brief: Brief): CheckContext['plan'] => {
  const tree = planTree(plan);
  return { tree, problems: planProblems(plan, brief, tree), needs: subnetNeeds(brief) };
};

const readAddresses = (instance: Instance): InterfaceAddress[] =>
  instance.interfaces.flatMap(([, interfaceConfig]) =>
    [...(interfaceConfig.v4?.addresses ?? []), ...(interfaceConfig.v6?.addresses ?? [])].flatMap((text) => {
      const read = parseInterfaceAddress(text);
      return read.ok ? [read.value] : [];
    }),
  );

/** Addresses that nobody typed: leases, and what hosts made of advertisements. */
function givenAddresses({ layer3 }: NetworkModel, instance: Instance): InterfaceAddress[] {
  const typed = new Set(readAddresses(instance).map(formatInterfaceAddress));
  return (layer3.nodes.get(instance.id)?.interfaceStates ?? []).flatMap((attachment) =>
    attachment.up ? attachment.addresses.filter((on) => !typed.has(formatInterfaceAddress(on))) : [],
  );
}

/**
 * A site of the drawing corresponds to the site of the reference most of whose devices stand there; each to one at
 * most.
 */
function matchSites(
  reference: NetworkModel,
  student: NetworkModel,
  deviceOf: ReadonlyMap<string, string>,
): Map<string, string> {
  const votes = new Map<string, { site: string; their: string; n: number }>();
  for (const [role, device] of deviceOf) {
    const [site, their] = [reference.instances.get(role)?.device.site, student.instances.get(device)?.device.site];
    if (site === undefined || their === undefined) continue;
    const key = `${site} ${their}`;
    votes.set(key, { site, their, n: (votes.get(key)?.n ?? 0) + 1 });
  }
  const result = new Map<string, string>();
  const taken = new Set<string>();
  for (const [, { site, their }] of [...votes].sort(([x, a], [y, b]) => b.n - a.n || (x < y ? -1 : 1))) {
    if (result.has(site) || taken.has(their)) continue;
    result.set(site, their);
    taken.add(their);
  }
  return result;
}

import { contains, firstOf, parsePrefix, type Prefix } from '../address';
import { analyse, instanceId, optionsOf } from '../engine';
import { emptyPlan } from '../plan';
import { type DeviceKind, KIT, canonicalJson, entryOf } from '../topology';
import { type LeafRule, type Rule, isCombination } from './combining';
import { contextOf } from './context';
import { Corresponding } from './corresponding';
import { refsIn } from './evaluate';
import { type JudgingLab } from './judging';
import { type CheckContext } from './rule';
import { ANY_SITE } from './rules';
import { kindWord } from './rules/kind-words';
import { type Requirement } from './schema';

/**
 * Something of a spec that can hardly be meant. It forbids nothing: a spec may be saved with it.
 *
 * `contradiction`: two requirements that nobody can earn together; `twice`: the same asked again; `neverFails`, `neverMet`: the
 * kit of the lab sees to it, or rules it out; `unused`: a group that no sentence speaks of.
 */
export interface Doubt {
  readonly code: 'contradiction' | 'twice' | 'neverFails' | 'neverMet' | 'unused';
  /** The requirements it is about, the earlier first; none where it is about a group. */
  readonly requirements: readonly string[];
  readonly group?: string;
  readonly text: string;
}

/** What a requirement asks without any if or or: a rule as it stands, or all of several. */
interface Asked {
  readonly id: string;
  readonly rule: LeafRule;
}
const asked = (id: string, rule: Rule): Asked[] =>
  isCombination(rule) ? (rule.kind === 'allOf' ? rule.rules.flatMap((part) => asked(id, part)) : []) : [{ id, rule }];

/** What can hardly be meant in a spec, in the order of its requirements; each pair of them is named once. */
export function doubtsOf(lab: JudgingLab): Doubt[] {
  const { spec } = lab;
  const model = analyse(lab.reference, optionsOf(lab.policy));
  const { context } = contextOf(lab, model, model, Corresponding.ownRoles(model), { plan: emptyPlan() });
  const requirements = spec.sections.flatMap((section) => section.requirements);
  const all = requirements.filter(({ deduction }) => !deduction).flatMap(({ id, rule }) => asked(id, rule));
  return [
    ...clashes(all, context, lab),
    ...twice(requirements),
    ...all.flatMap(({ id, rule }) => decidedByKit(id, rule, lab)),
    ...unused(lab),
  ];
}

/** Why two rules cannot both hold, in words; null where they can. */
type Clash = (one: Asked, other: Asked, context: CheckContext, lab: JudgingLab) => string | null;

/** Rules of these kinds are compared with one another. */
const TOPICS: readonly { readonly kinds: readonly string[]; readonly clash: Clash }[] = [
  { kinds: ['deviceCount', 'networkCount'], clash: countsClash },
  { kinds: ['reach', 'within', 'apart'], clash: reachClashes },
  { kinds: ['inBlock', 'outsideBlock'], clash: blocksClash },
  { kinds: ['medium'], clash: mediaClash },
  { kinds: ['treeRoot'], clash: rootsClash },
  ...['portVlan', 'voiceVlan', 'prefixLength', 'atSite', 'gatewayIs', 'remote'].map((kind) => ({
    kinds: [kind],
    clash: valuesClash,
  })),
];

function clashes(all: readonly Asked[], context: CheckContext, lab: JudgingLab): Doubt[] {
  const found = new Map<string, Doubt>();
  for (const { kinds, clash } of TOPICS) {
    const of = all.filter(({ rule }) => kinds.includes(rule.kind));
    for (const [at, one] of of.entries())
      for (const other of of.slice(at + 1)) {
        const pair = [one.id, other.id];
        if (found.has(pair.join(' ')) || !familiesMeet(one.rule, other.rule)) continue;
        const text = clash(one, other, context, lab);
        if (text === null) continue;
        const who =
          one.id === other.id ? `${one.id} can never be earned` : `${one.id} and ${other.id} cannot both be earned`;
        found.set(pair.join(' '), {
          code: 'contradiction',
          requirements: [...new Set(pair)],
          text: `${who}: ${text}`,
        });
      }
  }
  return [...found.values()];
}
const familiesMeet = (one: LeafRule, other: LeafRule): boolean =>
  one.family === undefined || other.family === undefined || one.family === other.family;

/** The least and the most that a count allows. */
const boundsOf = ({ op, n }: LeafRule): readonly [number, number] => [
  op === 'atMost' ? 0 : Number(n),
  op === 'atLeast' ? Infinity : Number(n),
];
function countsClash({ id, rule }: Asked, { id: otherId, rule: other }: Asked): string | null {
  if (rule.kind !== other.kind || rule.what !== other.what) return null;
  const [[least, most], [otherLeast, otherMost]] = [boundsOf(rule), boundsOf(other)];
  const [site, otherSite] = [rule.site, other.site];
  // What stands at a site stands anywhere as well.
  const tooMany = (lower: number, upper: number, of: unknown, within: unknown): boolean =>
    lower > upper && (of === within || within === ANY_SITE);
  if (tooMany(least, otherMost, site, otherSite))
    return `${id} wants ${least} or more, ${otherId} ${otherMost} at the most.`;
  if (tooMany(otherLeast, most, otherSite, site))
    return `${otherId} wants ${otherLeast} or more, ${id} ${most} at the most.`;
  return null;
}

/** The roles that a rule sends something from, and to. */
const endsOf = (
  { kind, from, to, who }: LeafRule,
  { roles }: CheckContext,
): readonly [sources: readonly string[], targets: readonly string[]] =>
  kind === 'within' ? [roles(who as string), roles(who as string)] : [roles(from as string), roles(to as string)];
const inBoth = (one: readonly string[], other: readonly string[]): string[] => {
  const known = new Set(one);
  return other.filter((role) => known.has(role));
};
function reachClashes(one: Asked, other: Asked, context: CheckContext): string | null {
  const [apart, reach] = one.rule.kind === 'apart' ? [one, other] : [other, one];
  if (apart.rule.kind !== 'apart' || reach.rule.kind === 'apart') return null;
  // One service may be kept apart where another one passes.
  if (apart.rule.service !== undefined && apart.rule.service !== reach.rule.service) return null;
  const [kept, asking] = [endsOf(apart.rule, context), endsOf(reach.rule, context)];
  const [sources, targets] = [inBoth(kept[0], asking[0]), inBoth(kept[1], asking[1])];
  for (const from of sources.slice(0, 2))
    for (const to of targets.slice(0, 2))
      if (from !== to)
        return `${apart.id} wants ${plainName(context, from)} → ${plainName(context, to)} to stop, ${reach.id} wants it to arrive.`;
  return null;
}
const plainName = (context: CheckContext, role: string): string => context.reference.instances.get(role)?.name ?? role;
const sharedRole = (one: LeafRule, other: LeafRule, { roles }: CheckContext): string | undefined =>
  inBoth(roles(one.who as string), roles(other.who as string))[0];

/** Of these a device has one: the value of a rule, in words. */
const VALUES: Readonly<Record<string, (rule: LeafRule, context: CheckContext) => string>> = {
  portVlan: ({ vlan }) => `VLAN ${String(vlan)}`,
  voiceVlan: ({ vlan }) => `VLAN ${String(vlan)} for voice`,
  prefixLength: ({ length }) => `/${String(length)}`,
  atSite: ({ site }, context) => (site === ANY_SITE ? '' : context.site(site as string)),
  gatewayIs: ({ address }) => `the gateway ${String(address)}`,
  remote: ({ by, state }) => `${String(by)} ${String(state)}`,
};
function valuesClash({ id, rule }: Asked, { id: otherId, rule: other }: Asked, context: CheckContext): string | null {
  const [value, otherValue] = [VALUES[rule.kind]!(rule, context), VALUES[rule.kind]!(other, context)];
  if (value === otherValue || !value || !otherValue || (rule.kind === 'remote' && rule.by !== other.by)) return null;
  const role = sharedRole(rule, other, context);
  return role === undefined ? null : `for ${plainName(context, role)} ${id} wants ${value}, ${otherId} ${otherValue}.`;
}

function blocksClash({ id, rule }: Asked, { id: otherId, rule: other }: Asked, context: CheckContext): string | null {
  const [one, two] = [rule, other].map(({ block }) => parsePrefix(String(block)));
  if (!one?.ok || !two?.ok || one.value.family !== two.value.family) return null;
  const isWithin = (inner: Prefix, outer: Prefix): boolean =>
    inner.length >= outer.length && contains(outer, firstOf(inner));
  const [a, b] = [one.value, two.value];
  const impossible =
    rule.kind === 'inBlock' && other.kind === 'inBlock'
      ? !isWithin(a, b) && !isWithin(b, a)
      : rule.kind === other.kind
        ? false
        : rule.kind === 'inBlock'
          ? isWithin(a, b)
          : isWithin(b, a);
  const role = impossible ? sharedRole(rule, other, context) : undefined;
  const words = ({ kind, block }: LeafRule): string => `${kind === 'inBlock' ? 'inside' : 'outside'} ${String(block)}`;
  return role === undefined
    ? null
    : `for ${plainName(context, role)} ${id} wants addresses ${words(rule)}, ${otherId} ${words(other)}.`;
}

function mediaClash({ id, rule }: Asked, { id: otherId, rule: other }: Asked, context: CheckContext): string | null {
  const [media, others] = [rule.media as string[], other.media as string[]];
  if (media.some((medium) => others.includes(medium))) return null;
  const sides = [rule, other].map(
    ({ a, b }) => [new Set(context.roles(a as string)), new Set(context.roles(b as string))] as const,
  );
  const link = Object.values(context.reference.topology.links).find((each) => {
    const [x, y] = [instanceId(each.a), instanceId(each.b)];
    return sides.every(([a, b]) => (a.has(x) && b.has(y)) || (a.has(y) && b.has(x)));
  });
  if (!link) return null;
  const [x, y] = [instanceId(link.a), instanceId(link.b)].map((end) => plainName(context, end));
  return `${id} and ${otherId} want other cables between ${x} and ${y}.`;
}

function rootsClash({ rule }: Asked, { rule: other }: Asked, context: CheckContext): string | null {
  const [[one, ...more], [two, ...rest]] = [context.roles(rule.who as string), context.roles(other.who as string)];
  if (rule.vlan !== other.vlan || one === undefined || two === undefined || one === two || more.length || rest.length)
    return null;
  return `a spanning tree has one root, and not both ${plainName(context, one)} and ${plainName(context, two)}.`;
}

function twice(requirements: readonly Requirement[]): Doubt[] {
  const first = new Map<string, string>();
  return requirements.flatMap(({ id, rule }): Doubt[] => {
    const key = canonicalJson(rule);
    const known = first.get(key);
    if (known === undefined) first.set(key, id);
    return known === undefined
      ? []
      : [{ code: 'twice', requirements: [known, id], text: `${id} asks the same as ${known}.` }];
  });
}

/** What the kit of the lab rules out, or sees to by itself. */
function decidedByKit(id: string, rule: LeafRule, { policy, reference }: JudgingLab): Doubt[] {
  if (rule.kind !== 'deviceCount' || !policy.kit) return [];
  const all = Object.entries(policy.kit).flatMap(([model, { most = Infinity }]) =>
    (entryOf(KIT, model) ?? entryOf(reference.models, model))?.kind === rule.what ? [most] : [],
  );
  const there = all.reduce((sum, most) => sum + most, 0);
  const has = `the kit of the lab has ${there === 0 ? 'no' : there} ${kindWord(rule.what as DeviceKind, there)}`;
  const [least, most] = boundsOf(rule);
  if (there < least) return [{ code: 'neverMet', requirements: [id], text: `${id} can never be met: ${has}.` }];
  return rule.op === 'atMost' && there <= most
    ? [{ code: 'neverFails', requirements: [id], text: `${id} can hardly fail: ${has}.` }]
    : [];
}

/** Groups that no rule and no other group speaks of. */
function unused({ spec }: JudgingLab): Doubt[] {
  const used = new Set([
    ...spec.sections.flatMap(({ requirements }) => requirements.flatMap(({ rule }) => refsIn(rule))),
    ...Object.values(spec.groups).flatMap(({ select }) => select?.behind ?? []),
  ]);
  return Object.entries(spec.groups).flatMap(([group, { title }]): Doubt[] =>
    used.has(group) ? [] : [{ code: 'unused', requirements: [], group, text: `No sentence speaks of ${title}.` }],
  );
}

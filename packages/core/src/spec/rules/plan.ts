import { Type } from '@sinclair/typebox';
import { contains, formatPrefix, parsePrefix } from '../../address';
import {
  type Group,
  type PlanNode,
  type PlanProblemCode,
  compareWithDrawing,
  differenceWords,
  isGivenOut,
  isSubnet,
  roomOf,
} from '../../plan';
import { AddressText, Closed, Line, Maybe, OneOf } from '../../topology';
import { type CheckContext, type Item, absent, capital, defineRule, lost, met } from '../rule';
import { isLike } from './like';

/** Stands for every group of the brief. */
export const ALL_GROUPS = '@groups';
export const GroupRef = Type.String({ pattern: '^(@groups|[A-Za-z0-9][A-Za-z0-9_.:-]{0,63})$' });

export const groupsOf = ({ brief }: CheckContext, ref: string): readonly Group[] =>
  (brief.groups ?? []).filter((group) => ref === ALL_GROUPS || group.id === ref);

const same = (a: string, b: string): boolean => a.trim().toLowerCase() === b.trim().toLowerCase();

/**
 * The subnets of a student's plan that are for a group: those that say so, else those of its name. One that is divided by
 * mistake still is the group's: that it overlaps is a matter of its own.
 */
export function subnetsFor({ plan }: CheckContext, group: Group): PlanNode[] {
  const planned = [...plan.tree.nodes.values()].filter(
    (node) => (node.space[4] ?? node.space[6]) && isGivenOut(node.block),
  );
  const grouped = planned.filter((node) => node.block.group === group.id);
  if (grouped.length) return grouped;
  return planned.filter(
    (node) => isSubnet(node) && node.block.group === undefined && same(node.block.name, group.name),
  );
}

/** One item for each group; a group without a subnet is lost, and so is a spec that speaks of no group. */
function eachGroup(context: CheckContext, ref: string, judge: (nodes: PlanNode[], group: Group) => Item): Item[] {
  const groups = groupsOf(context, ref);
  if (!groups.length) return [absent('The spec speaks of a group that the brief does not have.')];
  return groups.map((group) => {
    const nodes = subnetsFor(context, group);
    return nodes.length ? judge(nodes, group) : absent(`The plan has no subnet for ${group.name}.`);
  });
}

const item = (isMet: boolean, text: string, ...nodes: PlanNode[]): Item =>
  (isMet ? met : lost)(text, ...nodes.map((node) => ({ block: node.id })));
const written = (node: PlanNode): string =>
  [node.space[4], node.space[6]].flatMap((prefix) => (prefix ? formatPrefix(prefix) : [])).join(', ');

export const planRoomRule = defineRule({
  kind: 'planRoom',
  family: 'plan',
  title: 'A subnet is planned with room for a group',
  schema: Closed({ kind: Type.Literal('planRoom'), group: GroupRef }),
  slots: { group: { type: 'group' } },
  fresh: { kind: 'planRoom', group: ALL_GROUPS },
  sentence: 'The plan has a subnet with room for the later number of {group}.',
  evaluate: (rule, context) =>
    eachGroup(context, rule.group, (nodes, group) => {
      const need = context.plan.needs.find((need) => need.group?.id === group.id)!;
      const found = roomOf(nodes, need, context.brief);
      if (!found) return item(false, `${group.name}: ${written(nodes[0]!)}, but no IPv4 subnet.`, ...nodes);
      const four = nodes.flatMap((node) => (node.space[4] ? formatPrefix(node.space[4]) : []));
      return item(
        found.room >= found.needed,
        `${group.name}: ${four.join(' and ')} with ${found.room} usable addresses; ${found.needed} are needed later.`,
        ...nodes,
      );
    }),
});

export const planSmallestRule = defineRule({
  kind: 'planSmallest',
  family: 'plan',
  title: 'Subnets are no larger than needed',
  schema: Closed({
    kind: Type.Literal('planSmallest'),
    group: GroupRef,
    bits: Type.Integer({ minimum: 0, maximum: 8 }),
  }),
  slots: { group: { type: 'group' }, bits: { type: 'number', min: 0, max: 8 } },
  fresh: { kind: 'planSmallest', group: ALL_GROUPS, bits: 1 },
  sentence: 'The planned subnets of {group} are at most {bits} sizes larger than the smallest that fits.',
  one: 'The planned subnets of {group} are at most {bits} size larger than the smallest that fits.',
  evaluate: (rule, context) =>
    eachGroup(context, rule.group, (nodes, group) => {
      const need = context.plan.needs.find((need) => need.group?.id === group.id)!;
      const lengths = nodes.flatMap((node) => node.space[4]?.length ?? []);
      const shortest = Math.min(...lengths);
      return lengths.length
        ? item(
            shortest >= need.length - rule.bits,
            `${group.name}: a /${shortest}; a /${need.length} is the smallest that fits.`,
            ...nodes,
          )
        : item(false, `${group.name}: no IPv4 subnet.`, ...nodes);
    }),
});

export const planInsideRule = defineRule({
  kind: 'planInside',
  family: 'plan',
  title: 'Planned subnets lie in the allotted block',
  schema: Closed({ kind: Type.Literal('planInside'), group: GroupRef, block: AddressText }),
  slots: { group: { type: 'group' }, block: { type: 'prefix' } },
  fresh: { kind: 'planInside', group: ALL_GROUPS, block: '10.0.0.0/8' },
  problems: (rule) => {
    const read = parsePrefix(rule.block);
    return read.ok ? [] : [{ place: 'block', text: read.error.text }];
  },
  sentence: 'The planned subnets of {group} lie in {block}.',
  evaluate: (rule, context) => {
    const block = parsePrefix(rule.block);
    if (!block.ok) return [absent(`${rule.block} is no block.`)];
    return eachGroup(context, rule.group, (nodes, group) => {
      const own = nodes.flatMap((node) => node.space[block.value.family] ?? []);
      const outside = own.filter((prefix) => !contains(block.value, prefix));
      if (!own.length) return item(false, `${group.name}: no IPv${block.value.family} subnet.`, ...nodes);
      return item(
        !outside.length,
        outside.length
          ? `${group.name}: ${formatPrefix(outside[0]!)} lies outside ${context.mark(rule.block, 'what is asked for', rule.block)}.`
          : `${group.name}: ${own.map(formatPrefix).join(', ')}.`,
        ...nodes,
      );
    });
  },
});

export const planFamily6Rule = defineRule({
  kind: 'planFamily6',
  family: 'plan',
  title: 'An IPv6 /64 is planned beside each subnet',
  schema: Closed({ kind: Type.Literal('planFamily6'), group: GroupRef }),
  slots: { group: { type: 'group' } },
  fresh: { kind: 'planFamily6', group: ALL_GROUPS },
  sentence: 'The plan gives {group} an IPv6 subnet of /64 too.',
  evaluate: (rule, context) =>
    eachGroup(context, rule.group, (nodes, group) => {
      const six = nodes.flatMap((node) => node.space[6] ?? []);
      return item(
        six.length > 0 && six.every((prefix) => prefix.length === 64),
        six.length ? `${group.name}: ${six.map(formatPrefix).join(', ')}.` : `${group.name}: no IPv6 subnet.`,
        ...nodes,
      );
    }),
});

export const planVlansRule = defineRule({
  kind: 'planVlans',
  family: 'plan',
  title: 'A VLAN of its own is planned for each group',
  schema: Closed({ kind: Type.Literal('planVlans'), group: GroupRef }),
  slots: { group: { type: 'group' } },
  fresh: { kind: 'planVlans', group: ALL_GROUPS },
  sentence: 'The plan puts {group} into a VLAN that no other subnet of the site has.',
  evaluate: (rule, context) =>
    eachGroup(context, rule.group, (nodes, group) => {
      const without = nodes.find((node) => node.block.vlan === undefined);
      if (without) return item(false, `${without.block.name} has no VLAN.`, without);
      const shared = [...context.plan.tree.nodes.values()].find(
        (other) =>
          !nodes.includes(other) &&
          nodes.some(
            (node) =>
              node.block.vlan === other.block.vlan &&
              (node.block.site === other.block.site || node.block.site === undefined || other.block.site === undefined),
          ),
      );
      const vlans = nodes.map((node) => node.block.vlan).join(', ');
      return shared
        ? item(false, `${group.name}: VLAN ${vlans} is also that of ${shared.block.name}.`, ...nodes, shared)
        : item(true, `${group.name}: VLAN ${vlans}.`, ...nodes);
    }),
});

export const planSitesRule = defineRule({
  kind: 'planSites',
  family: 'plan',
  title: 'The subnets of a site lie in one block',
  schema: Closed({ kind: Type.Literal('planSites') }),
  slots: {},
  fresh: { kind: 'planSites' },
  sentence: 'The subnets of each site lie in one block that holds no subnet of another site.',
  evaluate: (_rule, context) => {
    const { brief, plan } = context;
    const sites = [...new Set((brief.groups ?? []).flatMap((group) => group.site ?? []))];
    if (!sites.length) return [absent('The groups of the brief are at no site.')];
    return sites.flatMap((site): Item[] => {
      const groups = (brief.groups ?? []).filter((group) => group.site === site);
      const mine = groups.flatMap((group) => subnetsFor(context, group));
      const others = (brief.groups ?? [])
        .filter((group) => group.site !== site)
        .flatMap((group) => subnetsFor(context, group));
      if (!mine.length) return [absent(`The plan has no subnet of ${site}.`)];
      const families = ([4, 6] as const).filter((family) => mine.some((node) => node.space[family]));
      return families.map((family): Item => {
        const home = homeOf(mine, [...plan.tree.nodes.values()], family);
        const words = family === 4 ? 'subnets' : 'IPv6 subnets';
        if (!home) return item(false, `The ${words} of ${site} lie in no block of the plan together.`, ...mine);
        const stranger = others.find(
          (other) => other.space[family] && contains(home.space[family]!, other.space[family]),
        );
        return stranger
          ? item(
              false,
              `${home.block.name} holds the ${words} of ${site}, but also ${stranger.block.name}.`,
              home,
              stranger,
            )
          : item(true, `The ${words} of ${site} lie in ${formatPrefix(home.space[family]!)}.`, home);
      });
    });
  },
});

/** The smallest block that holds all subnets of a family; a site of one subnet needs no block around it. */
function homeOf(subnets: readonly PlanNode[], all: readonly PlanNode[], family: 4 | 6): PlanNode | null {
  const own = subnets.filter((subnet) => subnet.space[family]);
  const holding = all.filter(
    (node) => node.space[family] && own.every((each) => contains(node.space[family]!, each.space[family]!)),
  );
  return holding.sort((a, b) => b.space[family]!.length - a.space[family]!.length)[0] ?? null;
}

const sizes = [
  { value: 'exactly', text: 'of exactly' },
  { value: 'atLeast', text: 'no smaller than' },
  { value: 'atMost', text: 'no larger than' },
];
const siteProblem = (text: string): string | null => (text.length > 80 ? 'A site has at most 80 letters.' : null);

export const planBlockRule = defineRule({
  kind: 'planBlock',
  family: 'plan',
  title: 'A subnet is planned as prescribed',
  schema: Closed({
    kind: Type.Literal('planBlock'),
    name: Line,
    site: Maybe(Line),
    size: OneOf('exactly', 'atLeast', 'atMost'),
    length: Type.Integer({ minimum: 1, maximum: 128 }),
    family: Maybe(OneOf('4', '6')),
  }),
  slots: {
    name: {
      type: 'text',
      title: 'Its name',
      problem: (text) =>
        text.trim() === '' || text.length > 80
          ? 'A name of at most 80 letters: # stands for digits, * for anything, as in “Ticket*”.'
          : null,
    },
    site: {
      type: 'text',
      title: 'Its site',
      before: ' at ',
      empty: 'a site, or nothing for any',
      problem: siteProblem,
    },
    size: { type: 'choice', options: sizes },
    length: { type: 'number', min: 1, max: 128 },
    family: {
      type: 'choice',
      title: 'The family',
      options: [
        { value: '', text: 'IPv4' },
        { value: '6', text: 'IPv6' },
      ],
    },
  },
  fresh: { kind: 'planBlock', name: 'Ticket*', size: 'exactly', length: 26 },
  problems: (rule) => [
    ...(rule.name.trim() === '' || rule.name.length > 80
      ? [{ place: 'name', text: 'A name has 1 to 80 letters.' }]
      : []),
    ...(rule.family !== '6' && rule.length > 32
      ? [{ place: 'length', text: 'An IPv4 prefix has at most 32 bits.' }]
      : []),
  ],
  sentence: 'The plan has an {family} block named {name}{site}, {size} /{length}.',
  evaluate: (rule, context) => {
    const family = rule.family === '6' ? 6 : 4;
    const named = [...context.plan.tree.nodes.values()].filter(
      ({ block }) => isLike(block.name, rule.name) && (rule.site === undefined || same(block.site ?? '', rule.site)),
    );
    const wanted = context.mark(rule.name, 'what is asked for', rule.name);
    if (!named.length)
      return [absent(`The plan has no block named ${wanted}${rule.site === undefined ? '' : ` at ${rule.site}`}.`)];
    const read = named.filter((node) => node.space[family]);
    if (!read.length) return [item(false, `${named[0]!.block.name} has no IPv${family} prefix.`, ...named)];
    const fits = (length: number): boolean =>
      rule.size === 'exactly'
        ? length === rule.length
        : rule.size === 'atLeast'
          ? length <= rule.length
          : length >= rule.length;
    const found = read.find((node) => fits(node.space[family]!.length));
    return [
      found
        ? item(true, `${found.block.name}: ${formatPrefix(found.space[family]!)}.`, found)
        : item(
            false,
            `${read[0]!.block.name}: ${formatPrefix(read[0]!.space[family]!)}${context.mark(`, wanted is ${sizes.find(({ value }) => value === rule.size)!.text} /${rule.length}`, '')}.`,
            ...read,
          ),
    ];
  },
});

/** What may be wrong in a plan, in groups that a requirement can ask for. */
const SOUND: Record<string, { text: string; codes: readonly PlanProblemCode[] }> = {
  overlaps: { text: 'no two blocks overlap', codes: ['OVERLAP', 'SUBNET_DIVIDED', 'TWO_SITES', 'PREFIX_UNREADABLE'] },
  nesting: { text: 'every block lies in the block it belongs to', codes: ['OUTSIDE_PARENT', 'OUTSIDE_ROOT'] },
  provider: {
    text: 'nothing inside comes from the provider’s ranges',
    codes: ['PROVIDER_RANGE', 'PRIVATE_LIKE_PROVIDER'],
  },
  private: { text: 'all blocks are private', codes: ['NOT_PRIVATE'] },
  gateways: { text: 'gateways are as the scheme has them', codes: ['GATEWAY', 'POINT_TO_POINT'] },
  addresses: {
    text: 'ranges and addresses lie in their subnets and are given once',
    codes: [
      'ADDRESS_TWICE',
      'ADDRESS_OUTSIDE',
      'ADDRESS_UNUSABLE',
      'ADDRESS_IN_POOL',
      'ADDRESS_KEPT_FREE',
      'RANGE_BEYOND',
      'RANGE_UNREADABLE',
      'RANGES_MEET',
    ],
  },
};
const soundOptions = Object.entries(SOUND).map(([value, { text }]) => ({ value, text }));

export const planSoundRule = defineRule({
  kind: 'planSound',
  family: 'plan',
  title: 'Something holds in the whole plan',
  schema: Closed({ kind: Type.Literal('planSound'), what: OneOf(...Object.keys(SOUND)) }),
  slots: { what: { type: 'choice', options: soundOptions } },
  fresh: { kind: 'planSound', what: 'overlaps' },
  sentence: 'In the plan, {what}.',
  evaluate: (rule, { plan }) => {
    // An empty plan breaks no rule and shows nothing: two subnets are the least that can be told apart.
    const subnets = [...plan.tree.nodes.values()].filter((node) => isSubnet(node) && (node.space[4] ?? node.space[6]));
    if (subnets.length < 2) return [absent('The plan has fewer than two subnets.')];
    const { codes, text } = SOUND[rule.what]!;
    const wrong = plan.problems.filter((problem) => codes.includes(problem.code));
    return wrong.length
      ? wrong.map(({ text, at }) => lost(text, ...(at.block === undefined ? [] : [{ block: at.block }])))
      : [met(`${capital(text)}.`)];
  },
});

export const planDrawnRule = defineRule({
  kind: 'planDrawn',
  family: 'plan',
  title: 'Plan and drawing agree',
  schema: Closed({ kind: Type.Literal('planDrawn') }),
  slots: {},
  fresh: { kind: 'planDrawn' },
  sentence: 'Every address in the drawing is as the plan has it.',
  evaluate: (_rule, { plan, brief, student }) => {
    const drawn = student.topology;
    if (!Object.keys(drawn.devices).length) return [absent('Nothing is drawn.')];
    if (!plan.tree.nodes.size) return [absent('There is no plan.')];
    const differences = compareWithDrawing(plan.tree, brief, drawn);
    return differences.length
      ? differences.map((difference) =>
          lost(differenceWords(difference), {
            ...(difference.drawn && { device: difference.drawn.device }),
            ...(difference.subnet !== null && { block: difference.subnet }),
          }),
        )
      : [met('Plan and drawing agree in every address.')];
  },
});

/** Every kind of rule on a plan, in the order in which the editor offers them. */
export const PLAN_RULES = [
  planRoomRule,
  planBlockRule,
  planSmallestRule,
  planInsideRule,
  planFamily6Rule,
  planVlansRule,
  planSitesRule,
  planSoundRule,
  planDrawnRule,
];

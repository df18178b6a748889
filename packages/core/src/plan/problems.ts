import {
  type Address,
  type Family,
  type Prefix,
  bitsOf,
  broadcastAddress,
  contains,
  formatAddress,
  formatPrefix,
  formatRange,
  isPrivate,
  lastOf,
  likelyMeant,
  networkAddress,
  overlaps,
  parseAddress,
  parsePrefix,
  rangesMeet,
  sameAddress,
  samePrefix,
  usableCount,
} from '../address';
import { entriesById } from '../topology';
import { type Block, type Brief, type Plan, rulesOf, schemesOf } from './schema';
import { type SubnetNeed, subnetNeeds } from './sizing';
import { type ReadRange, gatewayOf, isMeantAsSubnet, rangesIn, readRanges, schemeGateway } from './subnet';
import { type PlanNode, type PlanTree, addressesIn, isSubnet, mainSpace, planTree } from './tree';

export const PLAN_PROBLEMS = [
  'PREFIX_UNREADABLE',
  'OVERLAP',
  'TWO_SITES',
  'SUBNET_DIVIDED',
  'OUTSIDE_PARENT',
  'OUTSIDE_ROOT',
  'PROVIDER_RANGE',
  'NOT_PRIVATE',
  'PRIVATE_LIKE_PROVIDER',
  'TOO_SMALL',
  'GROUP_WITHOUT_SUBNET',
  'POINT_TO_POINT',
  'VLAN_TWICE',
  'SITE_OF_GROUP',
  'GATEWAY',
  'ADDRESS_TWICE',
  'ADDRESS_OUTSIDE',
  'ADDRESS_UNUSABLE',
  'ADDRESS_IN_POOL',
  'ADDRESS_KEPT_FREE',
  'RANGE_UNREADABLE',
  'RANGE_BEYOND',
  'RANGES_MEET',
  'NOT_64',
] as const;
export type PlanProblemCode = (typeof PLAN_PROBLEMS)[number];

/** Something that does not hold in a plan. `text` says what and what to do; `at` says where. */
export interface PlanProblem {
  code: PlanProblemCode;
  text: string;
  at: { block?: string; range?: string; address?: string; group?: string };
}

/**
 * Everything that is wrong in a plan as far as plan and brief tell, in a fixed order: prefixes, nesting, what the brief
 * asks for, subnets, ranges, addresses. Pure; the same for the instructor's plan and for a student's.
 */
export function planProblems(plan: Plan, brief: Brief, tree: PlanTree = planTree(plan)): PlanProblem[] {
  const steps = problemSteps(brief, tree);
  for (;;) {
    const { done, value } = steps.next();
    if (done) return value;
  }
}

/** The same in steps of at most a few milliseconds, for a page that has to answer in between. */
export function* problemSteps(brief: Brief, tree: PlanTree): Generator<undefined, PlanProblem[]> {
  const nodes = tree.order.map((id) => tree.nodes.get(id)!);
  const ruling: Ruling = { ...rulesOf(brief), outside: outsideRanges(brief) };
  const homes: Homes = {
    site: siteBlocks(nodes),
    divided: new Set(tree.roots.flatMap((id) => dividedFamily(tree, id))),
  };
  const problems: PlanProblem[] = [];
  const checks: (() => PlanProblem[])[] = [
    () => nodes.flatMap(unreadable),
    () => twins(nodes),
    () => nodes.flatMap((node) => nesting(tree, node, homes)),
    () => nodes.flatMap((node) => briefRules(tree, node, ruling)),
    () => groupProblems(nodes, brief),
    () => vlanProblems(nodes),
    () => nodes.flatMap((node) => subnetProblems(node, brief)),
    () => rangeProblems(tree),
  ];
  for (const check of checks) {
    problems.push(...check());
    yield;
  }
  return [...problems, ...(yield* addressProblems(tree, nodes, brief))];
}

const FAMILIES: readonly Family[] = [4, 6];
const spaces = (node: PlanNode): Prefix[] => FAMILIES.flatMap((family) => node.space[family] ?? []);
const named = ({ block }: PlanNode): string => block.name.trim() || block.prefix || 'a block without a name';

function unreadable({ id, block }: PlanNode): PlanProblem[] {
  return [block.prefix, block.prefix6].flatMap((text, at): PlanProblem[] => {
    if (text === undefined) return [];
    const read = parsePrefix(text);
    const whole = block.name.trim() || 'This block';
    if (!read.ok) return [{ code: 'PREFIX_UNREADABLE', text: `${whole}: ${read.error.text}`, at: { block: id } }];
    if (at === 1 && read.value.family === 4)
      return [{ code: 'PREFIX_UNREADABLE', text: `${whole}: ${text} stands in the IPv6 column.`, at: { block: id } }];
    return [];
  });
}

/** The same prefix twice: blocks nest or are apart, so this is the only way in which two can overlap in part. */
function twins(nodes: readonly PlanNode[]): PlanProblem[] {
  const seen = new Map<string, PlanNode>();
  return nodes.flatMap((node) =>
    spaces(node).flatMap((prefix): PlanProblem[] => {
      const text = formatPrefix(prefix);
      const first = seen.get(text);
      if (!first) {
        seen.set(text, node);
        return [];
      }
      const [a, b] = [first.block.site, node.block.site];
      return a !== undefined && b !== undefined && a !== b
        ? [
            {
              code: 'TWO_SITES',
              text: `${text} is at ${a} (${named(first)}) and at ${b} (${named(node)}): a subnet lies at one site.`,
              at: { block: node.id },
            },
          ]
        : [
            {
              code: 'OVERLAP',
              text: `${named(first)} and ${named(node)} overlap: both are ${text}. Move one of them.`,
              at: { block: node.id },
            },
          ];
    }),
  );
}

/** What is looked up for every block: the block of each site, and the families that have a divided root. */
interface Homes {
  site: ReadonlyMap<string, PlanNode>;
  divided: ReadonlySet<Family>;
}
const dividedFamily = (tree: PlanTree, id: string): Family[] => {
  const node = tree.nodes.get(id)!;
  const own = mainSpace(node);
  return own && node.children.length ? [own.family] : [];
};

function nesting(tree: PlanTree, node: PlanNode, homes: Homes): PlanProblem[] {
  const problems: PlanProblem[] = [];
  const parent = node.parent === null ? null : tree.nodes.get(node.parent)!;
  const at = { block: node.id };
  const own = mainSpace(node);
  if (!own) return [];
  if (parent && isMeantAsSubnet(parent.block) && !twinOf(parent, node))
    problems.push({
      code: 'SUBNET_DIVIDED',
      text: `${named(node)} (${formatPrefix(own)}) lies inside ${named(parent)}, which is a subnet itself: the two overlap. Move one of them, or make ${named(parent)} smaller.`,
      at,
    });
  if (!problems.length && node.space[4] && node.space[6] && node.parents[4] !== node.parents[6]) {
    const [four, six] = [node.parents[4], node.parents[6]].map((id) =>
      id === null ? 'no other block' : named(tree.nodes.get(id)!),
    );
    problems.push({
      code: 'OUTSIDE_PARENT',
      text: `${named(node)}: its IPv4 prefix lies in ${four}, its IPv6 prefix in ${six}. Both belong into the same block.`,
      at,
    });
  }
  const { site } = node.block;
  const otherSite =
    site === undefined
      ? null
      : ancestors(tree, node).find((ancestor) => ancestor.block.site !== undefined && ancestor.block.site !== site);
  if (otherSite)
    problems.push({
      code: 'OUTSIDE_PARENT',
      text: `${named(node)} is at ${site}, but ${formatPrefix(own)} lies in the block of ${otherSite.block.site}.`,
      at,
    });
  const home = site === undefined ? undefined : homes.site.get(site);
  if (
    home &&
    !otherSite &&
    home !== node &&
    mainSpace(home)!.family === own.family &&
    !contains(mainSpace(home)!, own) &&
    !contains(own, mainSpace(home)!)
  )
    problems.push({
      code: 'OUTSIDE_PARENT',
      text: `${named(node)} is at ${site}, but ${formatPrefix(own)} lies outside its block ${formatPrefix(mainSpace(home)!)}.`,
      at,
    });
  if (!problems.length && !parent && !node.children.length && homes.divided.has(own.family))
    problems.push({
      code: 'OUTSIDE_ROOT',
      text: `${named(node)} (${formatPrefix(own)}) lies in no other block of the plan: take a free block inside one, or plan a block for it.`,
      at,
    });
  return problems;
}

const twinOf = (a: PlanNode, b: PlanNode): boolean => {
  const [x, y] = [mainSpace(a), mainSpace(b)];
  return x !== null && y !== null && samePrefix(x, y);
};

function ancestors(tree: PlanTree, node: PlanNode): PlanNode[] {
  const found: PlanNode[] = [];
  for (let id = node.parent; id !== null; id = tree.nodes.get(id)!.parent) found.push(tree.nodes.get(id)!);
  return found;
}

/** The block of each site: the largest one that is divided and stands for the site. */
function siteBlocks(nodes: readonly PlanNode[]): Map<string, PlanNode> {
  const found = new Map<string, PlanNode>();
  for (const node of nodes) {
    const { site } = node.block;
    const own = mainSpace(node);
    if (site === undefined || !own || !node.children.length || isMeantAsSubnet(node.block)) continue;
    const before = found.get(site);
    if (!before || own.length < mainSpace(before)!.length) found.set(site, node);
  }
  return found;
}

const PRIVATE_RANGES = ['10.0.0.0/8', '172.16.0.0/12', '192.168.0.0/16'].map((text) => {
  const read = parsePrefix(text);
  if (!read.ok) throw new Error(read.error.text);
  return read.value;
});
const privateRangeOf = (prefix: Prefix): Prefix | undefined => PRIVATE_RANGES.find((one) => overlaps(one, prefix));

/** Ranges that the provider hands out, as far as they can be read; an address alone counts as a block of one. */
export function outsideRanges(brief: Brief): Prefix[] {
  return (brief.outside ?? []).flatMap((text) => {
    const read = parsePrefix(text.trim());
    if (read.ok) return [read.value];
    const alone = parseAddress(text.trim());
    return alone.ok ? [{ ...alone.value, length: bitsOf(alone.value.family) }] : [];
  });
}

/** The rules of a brief and the provider's ranges, read once. */
type Ruling = ReturnType<typeof rulesOf> & { outside: readonly Prefix[] };

/** What the brief's rules say of each prefix of a block. What is said of the block around it is not said again. */
function briefRules(tree: PlanTree, node: PlanNode, ruling: Ruling): PlanProblem[] {
  return FAMILIES.flatMap((family): PlanProblem[] => {
    const prefix = node.space[family];
    if (!prefix) return [];
    const parent = node.parents[family] === null ? null : tree.nodes.get(node.parents[family])!;
    const problem = ruleProblem(node.block, prefix, ruling);
    if (!problem || (parent && ruleProblem(parent.block, parent.space[family]!, ruling)?.code === problem.code))
      return [];
    return [{ code: problem.code, text: `${named(node)}: ${problem.text}`, at: { block: node.id } }];
  });
}

function ruleProblem(block: Block, prefix: Prefix, ruling: Ruling): { code: PlanProblemCode; text: string } | null {
  const { privateOnly, notOutside, otherPrivate } = ruling;
  const text = formatPrefix(prefix);
  const outside = ruling.outside.find((one) => overlaps(one, prefix));
  // Translation and links are where inside meets outside: they may be the provider's on purpose.
  const isEdge = block.use === 'translation' || block.use === 'link';
  if (outside && notOutside && !isEdge)
    return {
      code: 'PROVIDER_RANGE',
      text: `${text} ${samePrefix(outside, prefix) ? 'is' : `meets ${formatPrefix(outside)}, which is`} handed out by the provider: it must not be used inside.`,
    };
  if (privateOnly && !outside && !isPrivate(prefix))
    return {
      code: 'NOT_PRIVATE',
      text: `${text} is no private block${likelyMeant(prefix)}. Private are 10.0.0.0/8, 172.16.0.0/12, 192.168.0.0/16 and fc00::/7.`,
    };
  const mine = prefix.family === 4 ? privateRangeOf(prefix) : undefined;
  if (otherPrivate && mine && ruling.outside.some((prefix) => prefix.family === 4 && overlaps(mine, prefix)))
    return {
      code: 'PRIVATE_LIKE_PROVIDER',
      text: `${text} comes from the same private range as the provider’s (${formatPrefix(mine)}): another one is asked for.`,
    };
  return null;
}

function groupProblems(nodes: readonly PlanNode[], brief: Brief): PlanProblem[] {
  if (!nodes.length) return [];
  return subnetNeeds(brief).flatMap((need): PlanProblem[] => {
    if (!need.group) return [];
    const { group } = need;
    const own = nodes.filter((node) => node.block.group === group.id);
    if (!own.length)
      return [
        {
          code: 'GROUP_WITHOUT_SUBNET',
          text: `${group.name}${group.site ? ` at ${group.site}` : ''}: no subnet yet, and ${need.later.value} addresses are needed later.`,
          at: { group: group.id },
        },
      ];
    return [...roomProblem(own, need), ...own.flatMap((node) => siteProblem(node, need))];
  });
}

/** How many addresses the IPv4 subnets of a group have room for, and how many they need: each has a gateway of its own. */
export function roomOf(subnets: readonly PlanNode[], need: SubnetNeed): { room: bigint; needed: bigint } | null {
  const four = subnets.flatMap((subnet) => subnet.space[4] ?? []);
  if (!four.length) return null;
  const room = four.reduce((sum, prefix) => sum + usableCount(prefix), 0n);
  return { room, needed: BigInt(need.later.value + four.length - 1) };
}

function roomProblem(own: readonly PlanNode[], need: SubnetNeed): PlanProblem[] {
  const room = roomOf(own, need);
  if (!room || room.room >= room.needed) return [];
  const first = own.find((node) => node.space[4])!;
  const several =
    own.length > 1
      ? `${own.map(named).join(' and ')} together have`
      : `${named(first)} (${formatPrefix(first.space[4]!)}) has`;
  return [
    {
      code: 'TOO_SMALL',
      text: `${several} ${room.room} usable addresses, but ${need.later.words.split(': ')[0]!}. Take a /${need.length}.`,
      at: { block: first.id },
    },
  ];
}

const siteProblem = ({ id, block }: PlanNode, { site }: SubnetNeed): PlanProblem[] =>
  site !== undefined && block.site !== undefined && block.site !== site
    ? [
        {
          code: 'SITE_OF_GROUP',
          text: `${block.name} is planned at ${block.site}, but its group is at ${site}.`,
          at: { block: id },
        },
      ]
    : [];

/** A VLAN is one subnet. Sites with a router between them may use the same number for different subnets. */
function vlanProblems(nodes: readonly PlanNode[]): PlanProblem[] {
  const seen = new Map<number, PlanNode[]>();
  return nodes.flatMap((node): PlanProblem[] => {
    const { vlan, site } = node.block;
    if (vlan === undefined) return [];
    const others = seen.get(vlan) ?? [];
    seen.set(vlan, [...others, node]);
    const other = others.find(
      (other) => other.block.site === undefined || site === undefined || other.block.site === site,
    );
    return other
      ? [
          {
            code: 'VLAN_TWICE',
            text: `VLAN ${vlan} is given to ${named(other)} and to ${named(node)}: a VLAN holds one subnet.`,
            at: { block: node.id },
          },
        ]
      : [];
  });
}

function subnetProblems(node: PlanNode, brief: Brief): PlanProblem[] {
  if (!isSubnet(node) || node.block.standing === 'kept-free') return [];
  return spaces(node).flatMap((prefix) => [
    ...pointProblem(node, prefix),
    ...gatewayProblem(node, prefix, brief),
    ...automaticProblem(node, prefix),
  ]);
}

function pointProblem(node: PlanNode, prefix: Prefix): PlanProblem[] {
  const { block, id } = node;
  const hostBits = bitsOf(prefix.family) - prefix.length;
  const forHosts = block.group !== undefined || block.use === 'hosts';
  const at = { block: id };
  if (hostBits <= 1 && forHosts)
    return [
      {
        code: 'POINT_TO_POINT',
        text: `${named(node)} is a /${prefix.length}: ${hostBits ? 'it has two addresses, for the two ends of a link,' : 'it is one address alone,'} and none for hosts and a gateway.`,
        at,
      },
    ];
  if (hostBits === 0 && block.use === 'link')
    return [
      {
        code: 'POINT_TO_POINT',
        text: `${named(node)} is one address alone: a link has two ends, so take a /${prefix.length - 1}.`,
        at,
      },
    ];
  if (hostBits > 0 && block.use === 'loopback' && block.gateway !== undefined)
    return [{ code: 'POINT_TO_POINT', text: `${named(node)} is for loopbacks: they have no gateway.`, at }];
  return [];
}

function gatewayProblem(node: PlanNode, prefix: Prefix, brief: Brief): PlanProblem[] {
  const text = prefix.family === 4 ? node.block.gateway : node.block.gateway6;
  const at = { block: node.id };
  if (text === undefined) return [];
  const read = parseAddress(text);
  const problem = (words: string): PlanProblem[] => [{ code: 'GATEWAY', text: `${named(node)}: ${words}`, at }];
  if (!read.ok) return problem(read.error.text);
  if (read.value.family !== prefix.family) return problem(`the gateway ${text} is of the other family.`);
  const isLinkLocal = prefix.family === 6 && formatAddress(read.value).startsWith('fe80:');
  if (isLinkLocal) return [];
  if (!contains(prefix, read.value)) return problem(`the gateway ${text} lies outside ${formatPrefix(prefix)}.`);
  const edge = edgeWord(prefix, read.value);
  if (edge) return problem(`the gateway ${text} is the ${edge} of ${formatPrefix(prefix)}.`);
  const wanted = schemeGateway(node.block, prefix, brief);
  return sameAddress(wanted, read.value)
    ? []
    : problem(
        `the gateway ${text} is not the ${schemesOf(brief).gateway} usable address, which is ${formatAddress(wanted)}.`,
      );
}

/** Network and broadcast address of an IPv4 subnet, which no device can have. */
function unusableEnds(prefix: Prefix): { value: bigint; word: string }[] {
  const [network, broadcast] = [networkAddress(prefix), broadcastAddress(prefix)];
  return [
    ...(prefix.family === 4 && network ? [{ value: network.value, word: 'network address' }] : []),
    ...(broadcast ? [{ value: broadcast.value, word: 'broadcast address' }] : []),
  ];
}
const edgeWord = (prefix: Prefix, { value }: Address): string | undefined =>
  unusableEnds(prefix).find((end) => end.value === value)?.word;

/** Hosts make an address themselves in a /64 only (RFC 4862, RFC 7421). */
function automaticProblem({ id, block }: PlanNode, prefix: Prefix): PlanProblem[] {
  if (prefix.family === 4 || prefix.length === 64 || block.automatic === false) return [];
  if (
    (block.use ?? 'hosts') !== 'hosts' ||
    !(block.group !== undefined || block.vlan !== undefined || block.use === 'hosts')
  )
    return [];
  return [
    {
      code: 'NOT_64',
      text: `${block.name}: ${formatPrefix(prefix)} is no /64, but its hosts are to make their addresses themselves. Take a /64, or say that they do not.`,
      at: { block: id },
    },
  ];
}

function rangeProblems(tree: PlanTree): PlanProblem[] {
  const read = readRanges(tree);
  const readable = new Set(read.map((range) => range.id));
  const subnets = [...tree.nodes.values()]
    .filter((node) => isSubnet(node))
    .flatMap((node) => spaces(node).map((prefix) => ({ node, prefix })));
  return [
    ...entriesById(tree.plan.ranges).flatMap(([id, range]): PlanProblem[] => {
      if (readable.has(id)) return [];
      const bad = [range.from, range.to].map(parseAddress).find((parsed) => !parsed.ok);
      const words = bad && !bad.ok ? bad.error.text : `it runs from ${range.from} back to ${range.to}.`;
      return [{ code: 'RANGE_UNREADABLE', text: `A range cannot be read: ${words}`, at: { range: id } }];
    }),
    ...read.flatMap(({ id, span }): PlanProblem[] => {
      const home = subnets.find(({ prefix }) => contains(prefix, span.from));
      if (home && contains(home.prefix, span.to)) return [];
      const words = home
        ? `it begins in ${named(home.node)} and runs beyond its last address ${formatAddress(lastOf(home.prefix))}.`
        : 'it lies in no subnet of the plan.';
      return [
        {
          code: 'RANGE_BEYOND',
          text: `The range ${formatRange(span)}: ${words}`,
          at: { range: id, ...(home && { block: home.node.id }) },
        },
      ];
    }),
    ...meetingRanges(read),
  ];
}

function meetingRanges(read: ReturnType<typeof readRanges>): PlanProblem[] {
  return read.flatMap((range, at): PlanProblem[] => {
    const before = read[at - 1];
    return before && rangesMeet(before.span, range.span)
      ? [
          {
            code: 'RANGES_MEET',
            text: `The ranges ${formatRange(before.span)} and ${formatRange(range.span)} overlap.`,
            at: { range: range.id },
          },
        ]
      : [];
  });
}

/** How many addresses are looked at in one step. */
const ADDRESSES_AT_ONCE = 1000;

function* addressProblems(
  tree: PlanTree,
  nodes: readonly PlanNode[],
  brief: Brief,
): Generator<undefined, PlanProblem[]> {
  const ranges = readRanges(tree);
  const inside = new Set<string>();
  const problems: PlanProblem[] = [];
  let atOnce = 0;
  for (const node of nodes)
    for (const prefix of isSubnet(node) ? spaces(node) : []) {
      const listed = addressesIn(tree, prefix);
      for (const { key } of listed) inside.add(key);
      problems.push(...subnetAddressProblems(tree, node, prefix, listed, rangesIn(ranges, prefix), brief));
      atOnce += listed.length + 20;
      if (atOnce < ADDRESSES_AT_ONCE) continue;
      atOnce = 0;
      yield;
    }
  const all = Object.entries(tree.plan.addresses ?? {});
  const outside = all.length === inside.size ? [] : all.filter(([key]) => !inside.has(key));
  return [
    ...problems,
    ...outside.map(([key, { name }]): PlanProblem => ({
      code: 'ADDRESS_OUTSIDE',
      text: `${key} (${name}) lies in no subnet of the plan.`,
      at: { address: key },
    })),
  ];
}

/** Plans have tens of thousands of addresses: for one that is well nothing is made here. */
function subnetAddressProblems(
  tree: PlanTree,
  node: PlanNode,
  prefix: Prefix,
  listed: readonly { value: bigint; key: string }[],
  ranges: readonly ReadRange[],
  brief: Brief,
): PlanProblem[] {
  const problems: PlanProblem[] = [];
  const gateway = gatewayOf(node.block, prefix, brief)?.value;
  const pools = ranges.filter((range) => range.range.use === 'pool');
  const ends = node.block.use === 'translation' ? [] : unusableEnds(prefix);
  const owners = new Map<string, string>();
  for (const { key, value } of listed) {
    const name = tree.plan.addresses![key]!.name.trim();
    const told = (code: PlanProblemCode, words: string): void =>
      void problems.push({ code, text: `${key} (${name}) ${words}`, at: { address: key, block: node.id } });
    const end = ends.find((end) => end.value === value);
    if (end) told('ADDRESS_UNUSABLE', `is the ${end.word} of ${named(node)}: no device can have it.`);
    else if (node.block.standing === 'kept-free')
      told('ADDRESS_KEPT_FREE', `lies in ${named(node)}, which is kept free.`);
    else if (pools.some(({ span }) => span.from.value <= value && value <= span.to.value))
      told('ADDRESS_IN_POOL', `lies in the DHCP pool of ${named(node)}: the server may lease it to another.`);
    else if (value !== gateway && name) {
      const first = owners.get(name);
      if (first === undefined) owners.set(name, key);
      else
        problems.push({
          code: 'ADDRESS_TWICE',
          text: `${name} has two addresses in ${named(node)}: ${first} and ${key}.`,
          at: { address: key, block: node.id },
        });
    }
  }
  return problems;
}

/** Whether a block is free of problems, for saying so in the tree. */
export const problemsByBlock = (problems: readonly PlanProblem[]): Map<string, PlanProblem[]> => {
  const byBlock = new Map<string, PlanProblem[]>();
  for (const problem of problems)
    if (problem.at.block !== undefined)
      byBlock.set(problem.at.block, [...(byBlock.get(problem.at.block) ?? []), problem]);
  return byBlock;
};

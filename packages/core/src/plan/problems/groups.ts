import { formatPrefix, usableCount } from '../../address';
import { type Brief } from '../schema';
import { type SubnetNeed, subnetNeeds } from '../sizing';
import { type PlanNode } from '../tree';
import { type PlanProblem, named } from './problem';

export function groupProblems(nodes: readonly PlanNode[], brief: Brief): PlanProblem[] {
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
export function vlanProblems(nodes: readonly PlanNode[]): PlanProblem[] {
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

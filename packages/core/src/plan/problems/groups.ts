import { formatPrefix, rangeSize } from '../../address';
import { type Brief, schemesOf } from '../schema';
import { type SubnetNeed, isFor, subnetNeeds } from '../sizing';
import { isGivenOut, usableIn } from '../subnet';
import { type PlanNode } from '../tree';
import { type PlanProblem, named } from './problem';

export function groupProblems(nodes: readonly PlanNode[], brief: Brief): PlanProblem[] {
  if (!nodes.length) return [];
  return subnetNeeds(brief).flatMap((need): PlanProblem[] => {
    const own = nodes.filter(({ block }) => isFor(block, need) && isGivenOut(block));
    if (!own.length)
      return [
        {
          code: 'GROUP_WITHOUT_SUBNET',
          text: `${need.name}${need.site ? ` at ${need.site}` : ''}: no subnet yet, and ${need.later.value} addresses are needed later.`,
          at: need.group ? { group: need.group.id } : {},
        },
      ];
    return [...roomProblem(own, need, brief), ...own.flatMap((node) => siteProblem(node, need))];
  });
}

/** How many addresses the IPv4 subnets of a group have room for, and how many they need: each has a gateway of its own. */
export function roomOf(
  subnets: readonly PlanNode[],
  need: SubnetNeed,
  brief: Brief,
): { room: bigint; needed: bigint } | null {
  const four = subnets.flatMap(({ block, space }) => (space[4] ? [usableIn(block, space[4])] : []));
  if (!four.length) return null;
  const room = four.reduce((sum, range) => sum + rangeSize(range), 0n);
  return { room, needed: BigInt(need.later.value + (four.length - 1) * schemesOf(brief).gateways) };
}

function roomProblem(own: readonly PlanNode[], need: SubnetNeed, brief: Brief): PlanProblem[] {
  const room = roomOf(own, need, brief);
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

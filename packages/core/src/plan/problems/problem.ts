import { type Address, type Family, type Prefix, broadcastAddress, networkAddress } from '../../address';
import { type Block } from '../schema';
import { endsAreUsable } from '../subnet';
import { type PlanNode } from '../tree';

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
/** The name of a problem; it stands in stored results and does not change. */
export type PlanProblemCode = (typeof PLAN_PROBLEMS)[number];

/** Something that does not hold in a plan. `text` says what and what to do; `at` says where. */
export interface PlanProblem {
  code: PlanProblemCode;
  text: string;
  at: { block?: string; range?: string; address?: string; group?: string };
}

/** The families of addresses, in the order in which they are gone through. */
export const FAMILIES: readonly Family[] = [4, 6];
export const spaces = (node: PlanNode): Prefix[] => FAMILIES.flatMap((family) => node.space[family] ?? []);
export const named = ({ block }: PlanNode): string => block.name.trim() || block.prefix || 'a block without a name';

/** Network and broadcast address of an IPv4 subnet, which no device can have; none where the block has its ends to use. */
export function unusableEnds(block: Block, prefix: Prefix): { value: bigint; word: string }[] {
  if (endsAreUsable(block)) return [];
  const [network, broadcast] = [networkAddress(prefix), broadcastAddress(prefix)];
  return [
    ...(prefix.family === 4 && network ? [{ value: network.value, word: 'network address' }] : []),
    ...(broadcast ? [{ value: broadcast.value, word: 'broadcast address' }] : []),
  ];
}
export const edgeWord = (block: Block, prefix: Prefix, { value }: Address): string | undefined =>
  unusableEnds(block, prefix).find((end) => end.value === value)?.word;

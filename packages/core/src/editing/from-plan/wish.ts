import { type Address, type Prefix, contains } from '../../address';
import {
  type PlanNode,
  VOICE,
  drawnAddresses,
  isFor,
  isGivenOut,
  isSubnet,
  rangesIn,
  readRanges,
  subnetNeeds,
} from '../../plan';
import { type Topology, entriesById, modelOf } from '../../topology';
import type { PlanOfLab } from '../next-addresses';

/** A device that stands in the drawing, or the model of a new one. */
export type Wanted = { device: string } | { model: string };

/** How new hosts get their addresses: from a server, or fixed ones of the plan. */
export type Addressing = 'automatic' | 'fixed';

/** What is taken from one subnet of the plan. */
export interface SubnetWish {
  /** The block of the plan. */
  node: string;
  /** So many new hosts of a model; 0 for none. */
  count: number;
  model: string;
  addressing: Addressing;
}

/** What is taken from the plan into the drawing, in one step. */
export interface PlanWish {
  subnets: readonly SubnetWish[];
  /** Where the gateways of the subnets are; null for nowhere. */
  router: Wanted | null;
  /** What hosts are plugged into; null for a router that is a switch as well. */
  switch: Wanted | null;
  /** Whether the router gives leases. */
  leases: boolean;
}

/** Subnets of the plan that can be taken into a drawing: those with hosts in them, in the order of the plan. */
export const subnetsOf = ({ tree }: PlanOfLab): PlanNode[] =>
  tree.order
    .map((id) => tree.nodes.get(id)!)
    .filter(
      (node) =>
        isSubnet(node) &&
        isGivenOut(node.block) &&
        (node.block.use ?? 'hosts') === 'hosts' &&
        (node.space[4] !== null || node.space[6] !== null),
    );

/** Devices of a drawing that gateways can stand at, and those that hosts can be plugged into; tiles of several are neither. */
export function standsFor(topology: Topology): { routers: string[]; switches: string[] } {
  const single = entriesById(topology.devices).flatMap(([id, device]) => {
    const model = modelOf(topology, device);
    return model && !device.members && (model.class === 'intermediary' || model.class === 'security')
      ? [{ id, model }]
      : [];
  });
  return {
    routers: single.flatMap(({ id, model }) => (model.forwards ? id : [])),
    switches: single.flatMap(({ id, model }) => (model.bridges ? id : [])),
  };
}

/** What is likely wanted of subnets: a few of the hosts that their groups still lack, of the kind that their names tell. */
export function likelyWishes(topology: Topology, plan: PlanOfLab, nodes: readonly PlanNode[]): SubnetWish[] {
  const hosts = drawnAddresses(topology).flatMap(({ isRouter, on }) => (isRouter ? [] : on.address));
  return nodes.map((node) => likelyWish(hosts, plan, node));
}

function likelyWish(hosts: readonly Address[], { tree, brief }: PlanOfLab, node: PlanNode): SubnetWish {
  const need = subnetNeeds(brief).find((each) => isFor(node.block, each));
  const isRadio = need?.group?.needs?.includes('wireless') ?? false;
  const there = hosts.filter((address) => ([4, 6] as const).some((family) => isIn(node.space[family], address))).length;
  const wanted = isRadio
    ? (need?.accessPoints.now ?? 0)
    : (need?.group?.now ?? (isVoice(node) ? (need?.now.value ?? 1) - 1 : 0));
  return {
    node: node.id,
    count: Math.max(0, Math.min(isRadio ? 1 : 2, wanted - there)),
    model: isRadio ? 'access-point' : modelFor(node),
    addressing: hasPool(node, tree) || !SERVED.test(node.block.name) ? 'automatic' : 'fixed',
  };
}

/** Groups whose hosts are asked for by name, so that their addresses stay. */
const SERVED = /server|printer|infrastructure|management/i;

const isVoice = ({ block }: PlanNode): boolean =>
  block.purpose?.trim().toLowerCase() === VOICE || /phone|voice/i.test(block.name);

const hasPool = ({ space }: PlanNode, tree: PlanOfLab['tree']): boolean =>
  ([4, 6] as const).some((family) => {
    const prefix = space[family];
    return prefix !== null && rangesIn(readRanges(tree), prefix).some(({ range }) => range.use === 'pool');
  });

const isIn = (prefix: Prefix | null, address: Address): boolean => prefix !== null && contains(prefix, address);

/** Models of hosts by words that groups are called by; a desktop otherwise. */
const HOST_WORDS: readonly (readonly [RegExp, string])[] = [
  [/server/i, 'server'],
  [/print/i, 'printer'],
  [/camera|video/i, 'camera'],
  [/till/i, 'till'],
  [/turnstile|gate/i, 'turnstile'],
  [/sensor|weather/i, 'sensor'],
  [/winch|control/i, 'controller'],
  [/laptop/i, 'laptop'],
];
const modelFor = (node: PlanNode): string =>
  isVoice(node) ? 'phone' : (HOST_WORDS.find(([word]) => word.test(node.block.name))?.[1] ?? 'desktop');

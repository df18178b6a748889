import { type Family, formatAddress, formatInterfaceAddress } from '../address';
import { type Topology, modelOf, entryOf } from '../topology';
import { drawnAddresses } from './drawing';
import { type Brief } from './schema';
import { gatewayOf, isGivenOut, nextFreeIn, readRanges } from './subnet';
import { type PlanTree, addressesIn, isSubnet } from './tree';

/**
 * Addresses that a plan has for a device of a drawing, each as an interface carries it: first what the plan gives to its
 * name, then for routers the free gateways, for others the next free address of each subnet; subnets of the device's site
 * come first. What the drawing uses already is left out.
 */
export function offeredAddresses(tree: PlanTree, brief: Brief, topology: Topology, deviceId: string): string[] {
  const device = entryOf(topology.devices, deviceId);
  if (!device) return [];
  const site = device.site === undefined ? undefined : topology.sites[device.site]?.name;
  const isRouter = modelOf(topology, device)?.forwards ?? false;
  const used: Record<Family, Set<bigint>> = { 4: new Set(), 6: new Set() };
  for (const { on } of drawnAddresses(topology)) used[on.address.family].add(on.address.value);
  const ranges = readRanges(tree);
  const subnets = tree.order
    .map((id) => tree.nodes.get(id)!)
    .filter((node) => isSubnet(node) && isGivenOut(node.block));
  const near = [
    ...subnets.filter((subnet) => subnet.block.site === site),
    ...subnets.filter((subnet) => subnet.block.site !== site),
  ];
  const named: string[] = [];
  const free: string[] = [];
  for (const node of near)
    for (const family of [4, 6] as const) {
      const prefix = node.space[family];
      if (!prefix) continue;
      const text = (value: bigint): string =>
        formatInterfaceAddress({ address: { family, value }, length: prefix.length });
      for (const { key, value } of addressesIn(tree, prefix))
        if (tree.plan.addresses?.[key]?.name === device.name && !used[family].has(value)) named.push(text(value));
      const gateway = gatewayOf(node.block, prefix, brief);
      const next = isRouter ? gateway : nextFreeIn(tree, node, family, brief, ranges, used[family]);
      if (next && !used[family].has(next.value)) free.push(text(next.value));
    }
  return [...new Set([...named, ...free])];
}

/** Gateways of the plan's subnets, those of a site first. */
export function offeredGateways(tree: PlanTree, brief: Brief, site: string | undefined, family: Family): string[] {
  const subnets = tree.order
    .map((id) => tree.nodes.get(id)!)
    .filter((node) => isSubnet(node) && node.space[family] && isGivenOut(node.block));
  const near = [
    ...subnets.filter((subnet) => subnet.block.site === site),
    ...subnets.filter((subnet) => subnet.block.site !== site),
  ];
  return near.flatMap((node) => {
    const gateway = gatewayOf(node.block, node.space[family]!, brief);
    return gateway ? [formatAddress(gateway)] : [];
  });
}

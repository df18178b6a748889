import { type Prefix, contains, formatAddress, formatPrefix } from '../../address';
import { type PlanNode, addressesIn, gatewayOf, rangesIn, readRanges } from '../../plan';
import { type Settings, entriesById } from '../../topology';
import type { GatewayRouter } from './gateways';

/**
 * Pools of leases at a router, by what the plan sets aside, and what tells hosts of IPv6 of them. Out: the subnets that
 * got one.
 */
export function givePools(router: GatewayRouter, nodes: readonly PlanNode[]): PlanNode[] {
  const given = new Set<PlanNode>();
  for (const family of [4, 6] as const) {
    const property = family === 4 ? 'dhcpPools' : 'dhcp6Pools';
    const there = router.draft.topology.devices[router.id]!.settings?.[property] ?? [];
    const networks = new Set(there.map(({ network }) => network));
    const dns = namesServer(router, family);
    const added = nodes.flatMap((node) => {
      const prefix = node.space[family];
      // Hosts make their own IPv6 addresses of what the router tells, unless the plan says that a server gives them.
      if (!prefix || (family === 6 && node.block.automatic !== false)) return [];
      if (networks.has(formatPrefix(prefix))) return [];
      return [{ node, pool: poolOf(router, node, prefix, dns) }];
    });
    if (!added.length) continue;
    const set = { [property]: [...there, ...added.map(({ pool }) => pool)] };
    if (!router.draft.run({ kind: 'setSettings', device: router.id, set })) continue;
    for (const { node } of added) {
      given.add(node);
      if (family === 6) tellOfServer(router, node);
    }
  }
  return nodes.filter((node) => given.has(node));
}

/** Advertisements that tell hosts to ask the server for their addresses: the flag M of RFC 4861 §4.2. */
function tellOfServer(router: GatewayRouter, node: PlanNode): void {
  const on = router.place(node);
  if (typeof on === 'string') return;
  const [key, now] = router.interfaceAt(on);
  router.draft.run(router.change(on, key, now, { v6: { ...now.v6, ra: { ...now.v6?.ra, managed: true } } }));
}

type Pool = NonNullable<Settings['dhcpPools']>[number];

/** A pool with the ranges of the plan; without any, all of the subnet but what the plan gives to somebody. */
function poolOf(
  { plan: { tree, brief }, drawn }: GatewayRouter,
  node: PlanNode,
  prefix: Prefix,
  dns: string | null,
): Pool {
  const ranges = rangesIn(readRanges(tree), prefix);
  const span = ({ span: { from, to } }: (typeof ranges)[number]): { from: string; to: string } => ({
    from: formatAddress(from),
    to: formatAddress(to),
  });
  const pools = ranges.filter(({ range }) => range.use === 'pool').map(span);
  const { family } = prefix;
  const drawnIn = drawn.flatMap(({ on }) => (contains(prefix, on.address) ? on.address.value : []));
  const fixed = [...addressesIn(tree, prefix).map(({ value }) => value), ...drawnIn];
  const gateway = gatewayOf(node.block, prefix, brief);
  const taken = [...new Set(fixed)]
    .filter((value) => value !== gateway?.value)
    .map((value) => formatAddress({ family, value }))
    .map((text) => ({ from: text, to: text }));
  const out = pools.length
    ? []
    : [...ranges.filter(({ range }) => range.use !== 'pool').map(span), ...taken].slice(0, 64);
  return {
    network: formatPrefix(prefix),
    ...(pools.length && { ranges: pools.slice(0, 64) }),
    ...(out.length && { exclusions: out }),
    // An IPv6 router is told by its advertisements (RFC 8415 has no option for it).
    ...(gateway && family === 4 && { router: formatAddress(gateway) }),
    ...(dns !== null && { dns: [dns] }),
  };
}

/** The address of the one server of the drawing that answers for names; null where there is none, or there are several. */
function namesServer({ draft, drawn }: GatewayRouter, family: 4 | 6): string | null {
  const found = entriesById(draft.topology.devices).filter(([, { settings }]) => settings?.services?.dns?.enabled);
  const [only] = found;
  if (!only || found.length > 1) return null;
  const own = drawn.find(({ device, on }) => device === only[0] && on.address.family === family);
  return own ? formatAddress(own.on.address) : null;
}

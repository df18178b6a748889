import { type Prefix, contains, formatAddress, formatPrefix } from '../../address';
import { type PlanNode, addressesIn, drawnAddresses, gatewayOf, rangesIn, readRanges } from '../../plan';
import { type Settings, entriesById } from '../../topology';
import { changeInterface } from '../change';
import type { PlanOfLab } from '../next-addresses';
import type { Draft } from './draft';
import { gatewayPlace, interfaceAt } from './gateways';

/** A pool of leases for a subnet at a router, by what the plan sets aside; and what tells its hosts of IPv6. */
export function givePool(draft: Draft, plan: PlanOfLab, router: string, port: string | null, node: PlanNode): boolean {
  let isGiven = false;
  for (const family of [4, 6] as const) {
    const prefix = node.space[family];
    // Hosts make their own IPv6 addresses of what the router tells, unless the plan says that a server gives them.
    if (!prefix || (family === 6 && node.block.automatic !== false)) continue;
    const property = family === 4 ? 'dhcpPools' : 'dhcp6Pools';
    const pools = draft.topology.devices[router]!.settings?.[property] ?? [];
    const network = formatPrefix(prefix);
    if (pools.some((pool) => pool.network === network)) continue;
    const set = { [property]: [...pools, poolOf(draft, plan, node, prefix)] };
    isGiven = draft.run({ kind: 'setSettings', device: router, set }) || isGiven;
    const on = gatewayPlace(draft, router, port, node);
    if (family === 6 && typeof on !== 'string') {
      const [key, now] = interfaceAt(draft, router, on);
      draft.run(
        changeInterface(
          draft.topology,
          router,
          key,
          now,
          { v6: { ...now.v6, ra: { ...now.v6?.ra, managed: true } } },
          true,
        ),
      );
    }
  }
  return isGiven;
}

type Pool = NonNullable<Settings['dhcpPools']>[number];

/** A pool with the ranges of the plan; without any, all of the subnet but what the plan gives to somebody. */
function poolOf(draft: Draft, { tree, brief }: PlanOfLab, node: PlanNode, prefix: Prefix): Pool {
  const ranges = rangesIn(readRanges(tree), prefix);
  const span = ({ span: { from, to } }: (typeof ranges)[number]): { from: string; to: string } => ({
    from: formatAddress(from),
    to: formatAddress(to),
  });
  const pools = ranges.filter(({ range }) => range.use === 'pool').map(span);
  const { family } = prefix;
  const fixed = [...addressesIn(tree, prefix).map(({ value }) => value), ...drawnIn(draft, prefix)];
  const gateway = gatewayOf(node.block, prefix, brief);
  const taken = [...new Set(fixed)]
    .filter((value) => value !== gateway?.value)
    .map((value) => formatAddress({ family, value }))
    .map((text) => ({ from: text, to: text }));
  const out = pools.length
    ? []
    : [...ranges.filter(({ range }) => range.use !== 'pool').map(span), ...taken].slice(0, 64);
  const dns = namesServer(draft, family);
  return {
    network: formatPrefix(prefix),
    ...(pools.length && { ranges: pools.slice(0, 64) }),
    ...(out.length && { exclusions: out }),
    // An IPv6 router is told by its advertisements (RFC 8415 has no option for it).
    ...(gateway && family === 4 && { router: formatAddress(gateway) }),
    ...(dns !== null && { dns: [dns] }),
  };
}

const drawnIn = (draft: Draft, prefix: Prefix): bigint[] =>
  drawnAddresses(draft.topology).flatMap(({ on }) => (contains(prefix, on.address) ? on.address.value : []));

/** The address of the one server of the drawing that answers for names; null where there is none, or there are several. */
function namesServer(draft: Draft, family: 4 | 6): string | null {
  const found = entriesById(draft.topology.devices).filter(([, { settings }]) => settings?.services?.dns?.enabled);
  const [only] = found;
  if (!only || found.length > 1) return null;
  const own = drawnAddresses(draft.topology).find(
    ({ device, on }) => device === only[0] && on.address.family === family,
  );
  return own ? formatAddress(own.on.address) : null;
}

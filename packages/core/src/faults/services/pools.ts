import { type Family, type Prefix, parsePrefix } from '../../address';
import { type Command, type Device, type Settings, type Topology } from '../../topology';
import { devicesOf } from '../places';

export type Pool = NonNullable<Settings['dhcpPools']>[number];
/** A pool of a DHCP server of either family. */
export interface PlacedPool {
  readonly id: string;
  readonly device: Device;
  readonly property: 'dhcpPools' | 'dhcp6Pools';
  readonly family: Family;
  readonly index: number;
  readonly pool: Pool;
  readonly network: Prefix;
}
export function* poolsOf(topology: Topology): Iterable<PlacedPool> {
  for (const { id, device } of devicesOf(topology))
    for (const property of ['dhcpPools', 'dhcp6Pools'] as const)
      for (const [index, pool] of (device.settings?.[property] ?? []).entries()) {
        const network = parsePrefix(pool.network);
        const family = property === 'dhcpPools' ? 4 : 6;
        if (network.ok) yield { id, device, property, family, index, pool, network: network.value };
      }
}

export const withPool = ({ id, device, property, index }: PlacedPool, pool: Pool): Command => ({
  kind: 'setSettings',
  device: id,
  set: { [property]: device.settings![property]!.map((old, at) => (at === index ? pool : old)) },
});

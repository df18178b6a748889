import { type Command, type Device, type Filter, type FilterRule, type Topology, entriesById } from '../../topology';
import { devicesOf } from '../places';

/** A filter of a device, which some interface or policy may ask. */
export interface PlacedFilter {
  readonly id: string;
  readonly device: Device;
  readonly key: string;
  readonly filter: Filter;
}
export function* filtersOf(topology: Topology): Iterable<PlacedFilter> {
  for (const { id, device } of devicesOf(topology))
    for (const [key, filter] of entriesById(device.settings?.filters)) yield { id, device, key, filter };
}

export const withRules = ({ id, device, key, filter }: PlacedFilter, rules: readonly FilterRule[]): Command => ({
  kind: 'setSettings',
  device: id,
  set: { filters: { ...device.settings?.filters, [key]: { ...filter, rules: [...rules] } } },
});

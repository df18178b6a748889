import {
  type Prefix,
  contains,
  formatAddress,
  formatInterfaceAddress,
  formatPrefix,
  parseAddress,
  parseInterfaceAddress,
  prefixOf,
  samePrefix,
  sizeOf,
} from '../../address';
import { editsBetween } from '../../changes';
import { type Topology } from '../../topology';
import { type Place } from '../rule';
import { type Change, editing } from './change';
import { type Translation } from './translation';

/** Subnets that stand elsewhere than those of the reference: moving one there moves all that speaks of it. */
export function bySubnets(translation: Translation): Change[] {
  const { drawn } = translation;
  return translation.movedSubnets().flatMap(([asked, found]): Change[] => {
    const topology = readdressed(drawn.topology, found, asked);
    const edits = editsBetween(drawn.topology, topology);
    if (!edits.length || sizeOf(found) > sizeOf(asked)) return [];
    const places = [...drawn.instances.values()].flatMap(({ id, interfaces }): Place[] =>
      interfaces.flatMap(([port, { v4, v6 }]) =>
        [...(v4?.addresses ?? []), ...(v6?.addresses ?? [])].some((text) => {
          const read = parseInterfaceAddress(text);
          return read.ok && contains(found, read.value.address);
        })
          ? { device: id, port }
          : [],
      ),
    );
    const [now, then] = [formatPrefix(found), formatPrefix(asked)];
    return [
      {
        thing: `subnet ${now}`,
        sort: 'subnet',
        what: 'other',
        source: 'reference',
        commands: [editing(...edits)],
        places,
        text: `The subnet ${now} should be ${then}.`,
        isTold: true,
        at: `the subnet ${now}`,
        field: 'where it lies',
        repair: [`${then} instead of ${now}`],
        alike: `subnet ${String(found.value ^ asked.value)}`,
        fields: 1,
        opens: false,
        leftOut: false,
        members: 1,
      },
    ];
  });
}

/** A drawing with every address of a subnet at the same place of another one. */
function readdressed(topology: Topology, from: Prefix, to: Prefix): Topology {
  const moved = (text: string): string => {
    if (!/^[0-9a-f]*[.:][0-9a-f.:]*(?:\/\d+)?$/i.test(text)) return text;
    const [address = '', length] = text.split('/');
    const read = parseAddress(address);
    if (!read.ok || read.value.family !== from.family || !contains(from, read.value)) return text;
    const is = length === undefined ? from.length : Number(length);
    if (is < from.length) return text;
    const place = { family: to.family, value: to.value + (read.value.value - from.value) };
    if (length === undefined) return formatAddress(place);
    const isSubnet = is === from.length;
    return isSubnet && samePrefix(prefixOf(read.value, is), { ...read.value, length: is })
      ? formatPrefix({ ...place, length: to.length })
      : formatInterfaceAddress({ address: place, length: isSubnet ? to.length : is });
  };
  const told = (value: unknown): unknown => {
    if (typeof value === 'string') return moved(value);
    if (Array.isArray(value)) return value.map(told);
    if (value === null || typeof value !== 'object') return value;
    return Object.fromEntries(Object.entries(value).map(([key, inner]) => [key, told(inner)]));
  };
  return {
    ...topology,
    devices: Object.fromEntries(
      Object.entries(topology.devices).map(([id, device]) => [
        id,
        {
          ...device,
          ...(device.interfaces && { interfaces: told(device.interfaces) as typeof device.interfaces }),
          ...(device.members && { members: told(device.members) as typeof device.members }),
          ...(device.settings && { settings: told(device.settings) as typeof device.settings }),
        },
      ]),
    ),
  };
}

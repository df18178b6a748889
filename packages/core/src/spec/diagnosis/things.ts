import { type Edit } from '../../changes';
import { type Instance } from '../../engine';
import { entryOf } from '../../topology';
import { type Configured } from './configured';
import { type Thing } from './words';

/** The things of a device that are told apart, with their values. */
export function thingsOf({
  powered,
  modules,
  ports,
  interfaces,
  settings,
}: Configured): Map<string, readonly [Thing, unknown]> {
  const all = new Map<string, readonly [Thing, unknown]>();
  const put = (thing: Thing, value: unknown): void => {
    if (value !== undefined) all.set(JSON.stringify(thing), [thing, value]);
  };
  put(['powered'], powered);
  for (const [bay, module] of Object.entries(modules ?? {})) put(['modules', bay], module);
  for (const [port, { speed, duplex, ...rest }] of Object.entries(ports)) {
    if (speed !== undefined || duplex !== undefined)
      put(['ports', port, 'speed'], { ...(speed !== undefined && { speed }), ...(duplex !== undefined && { duplex }) });
    for (const [property, value] of Object.entries(rest))
      if (property !== 'mac' && property !== 'fields') put(['ports', port, property], value);
  }
  for (const [key, settings] of Object.entries(interfaces))
    for (const [property, value] of Object.entries(settings))
      if (property !== 'description') put(['interfaces', key, property], value);
  for (const [key, value] of Object.entries(settings)) {
    if (key === 'routes') {
      const count = new Map<string, number>();
      for (const { prefix, ...way } of value as { prefix: string }[]) {
        const nth = (count.get(prefix) ?? 0) + 1;
        count.set(prefix, nth);
        put(['settings', key, nth === 1 ? prefix : `${prefix} (${nth})`], way);
      }
    } else if (key === 'dhcpPools' || key === 'dhcp6Pools')
      for (const { network, ...pool } of value as { network: string }[]) put(['settings', key, network], pool);
    else if (MAPS.has(key))
      for (const [id, inner] of Object.entries(value as object)) put(['settings', key, id], inner);
    else put(['settings', key], value);
  }
  return all;
}
const MAPS: ReadonlySet<string> = new Set([
  'vlans',
  'bundles',
  'filters',
  'services',
  'ospf',
  'ospf6',
  'rip',
  'management',
  'spanningTree',
  'telephony',
  'forwarding',
]);

/** What a thing is set to where it lies: on the tile, or on the member that has it for itself. */
export function pathOf({ deviceId, member, device }: Instance, thing: Thing): string[] {
  const [map, key = ''] = thing;
  const own = member === null ? undefined : (device.members?.[member] as Tree | undefined)?.[map!];
  const isOwn = (map === 'ports' || map === 'interfaces') && entryOf(own as Tree | undefined, key) !== undefined;
  return ['devices', deviceId, ...(isOwn ? ['members', member!] : []), ...thing];
}
type Tree = Readonly<Record<string, unknown>>;

export function editsOf(own: Instance, thing: Thing, wanted: unknown): Edit[] {
  const [map, key, property] = thing;
  const at = (path: Thing, value: unknown): Edit => ({
    path: pathOf(own, path),
    ...(value !== undefined && { value }),
  });
  if (map === 'ports' && property === 'speed') {
    const { speed, duplex } = (wanted ?? {}) as Record<string, unknown>;
    return [at(['ports', key!, 'speed'], speed), at(['ports', key!, 'duplex'], duplex)];
  }
  if (map === 'settings' && LISTS.has(key!)) {
    const name = key === 'routes' ? 'prefix' : 'network';
    const list = (own.settings as Record<string, unknown>)[key!] as Tree[] | undefined;
    const count = new Map<string, number>();
    const rest = (list ?? []).filter((entry) => {
      const id = String(entry[name]);
      const nth = (count.get(id) ?? 0) + 1;
      count.set(id, nth);
      return (nth === 1 ? id : `${id} (${nth})`) !== property;
    });
    const entry = wanted === undefined ? [] : [{ [name]: property!.replace(/ \(\d+\)$/, ''), ...(wanted as Tree) }];
    const value = [...rest, ...entry];
    return [at(['settings', key!], value.length ? value : undefined)];
  }
  return [at(thing, wanted)];
}
const LISTS: ReadonlySet<string> = new Set(['routes', 'dhcpPools', 'dhcp6Pools']);

/** A thing of a device without what differs from one to the next: its port, prefix or number. */
export const sortOf = (thing: Thing): string =>
  [thing[0], ...(thing[0] === 'settings' ? [thing[1]] : thing.slice(2))].join(' ');

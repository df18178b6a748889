import { parsePrefix } from '../../address';
import { entriesById, entryOf } from '../../topology';
import { type NetworkModel } from '../analysis';
import { type Instance, type Reason } from '../devices';

/** The names that interfaces of a device go by: those that are set up, and its ports. */
export const interfaceNames = ({ interfaces, ports }: Pick<Instance, 'interfaces' | 'ports'>): ReadonlySet<string> =>
  new Set([...interfaces.map(([key]) => key), ...ports.keys()]);

/**
 * Settings that name something of their own device by a name that nothing there has: interfaces in routes, translations
 * and zones, ports in bundles, filters, zones in policies.
 */
export function namesNothing({ instances }: NetworkModel): Reason[] {
  // Members of a tile are set alike: it is told once.
  const seen = new Set<string>();
  return [...instances.values()].flatMap((instance): Reason[] => {
    if (seen.has(instance.deviceId)) return [];
    seen.add(instance.deviceId);
    return [...referencesOf(instance)].map((text) => ({ code: 'NAMES_NOTHING', text, at: { device: instance.id } }));
  });
}

function* referencesOf(instance: Instance): Generator<string> {
  const { name, settings, interfaces, ports } = instance;
  const known = interfaceNames(instance);
  const missing = (what: string, key: string, sort: string): string => `${name}, ${what}: it has no ${sort} "${key}".`;
  for (const { prefix, interface: key } of settings.routes ?? [])
    if (key !== undefined && !known.has(key)) yield missing(`route to ${prefix}`, key, 'interface');
  for (const [at, rule] of (settings.nat ?? []).entries()) {
    const what = `translation ${at + 1}`;
    if (rule.outsideInterface !== undefined && !known.has(rule.outsideInterface))
      yield missing(what, rule.outsideInterface, 'interface');
    for (const source of rule.sources ?? [])
      if (!parsePrefix(source).ok && !entryOf(settings.filters, source))
        yield `${name}, ${what}: "${source}" is neither a prefix nor a filter of it.`;
  }
  for (const [id, bundle] of entriesById(settings.bundles))
    for (const port of bundle.members) if (!ports.has(port)) yield missing(`bundle ${id}`, port, 'port');
  const { zones = {}, policies = [] } = settings.firewall ?? {};
  for (const [, zone] of entriesById(zones))
    for (const key of zone.interfaces) if (!known.has(key)) yield missing(`zone ${zone.name}`, key, 'interface');
  for (const { from, to, filter } of policies) {
    const what = `policy from ${from} to ${to}`;
    for (const zone of [from, to]) if (!entryOf(zones, zone)) yield missing(what, zone, 'zone');
    if (filter !== undefined && !entryOf(settings.filters, filter)) yield missing(what, filter, 'filter');
  }
  for (const [key, config] of interfaces) {
    for (const way of ['filterIn4', 'filterOut4', 'filterIn6', 'filterOut6'] as const) {
      const id = config[way];
      if (id === undefined) continue;
      const filter = entryOf(settings.filters, id);
      if (!filter) yield missing(`interface ${key}`, id, 'filter');
      else if (filter.family !== Number(way.slice(-1)))
        yield `${name}, interface ${key}: the filter "${id}" is one for IPv${filter.family}.`;
    }
    if (config.on.kind === 'bundle' && !entryOf(settings.bundles, config.on.bundle))
      yield missing(`interface ${key}`, config.on.bundle, 'bundle');
  }
}

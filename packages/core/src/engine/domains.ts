import { type LinkEnd, entriesById } from '../topology';
import { instanceIdOf } from './instances';
import { type NetworkModel } from './model';

/** The broadcast domains that each link belongs to, as numbers from 0 in the order of the links; links that are down have none. */
export function linkDomains({ topology, instances, layer1, layer2 }: NetworkModel): Map<string, number[]> {
  const vlans = new Set([1]);
  for (const { settings, ports, interfaces } of instances.values()) {
    for (const vlan of Object.keys(settings.vlans ?? {})) vlans.add(Number(vlan));
    for (const { config } of ports.values())
      if (config.role?.kind === 'switched' && config.role.accessVlan !== undefined) vlans.add(config.role.accessVlan);
    for (const [, { on }] of interfaces) if ('vlan' in on) vlans.add(on.vlan);
  }
  const pointsAt = (end: LinkEnd): number[] => {
    const id = instanceIdOf(end);
    const instance = instances.get(id);
    const port = instance?.ports.get(end.port);
    if (!instance || !port) return [];
    const { role } = port.config;
    const tags = !port.switched
      ? [0, ...instance.interfaces.flatMap(([, { on }]) => (on.kind === 'sub' && on.port === end.port ? on.vlan : []))]
      : role?.kind === 'switched' && role.mode === 'trunk'
        ? Array.isArray(role.allowed)
          ? role.allowed
          : [...vlans]
        : [(role?.kind === 'switched' ? role.accessVlan : undefined) ?? 1];
    return tags.flatMap((tag) => {
      const point = port.switched ? layer2.vlanPoint(id, tag)?.point : layer2.portPoint(id, end.port, tag);
      return point ?? [];
    });
  };
  const numbers = new Map<number, number>();
  const found = new Map<string, number[]>();
  for (const [id, { a, b }] of entriesById(topology.links)) {
    if (!layer1.links.get(id)?.up) continue;
    const [mine, theirs] = [a, b].map((end) => new Set(pointsAt(end).map((point) => layer2.domainOf(point))));
    // A hub has no points of its own: what is heard at the other end counts.
    const both = mine!.size && theirs!.size ? [...mine!].filter((one) => theirs!.has(one)) : [...mine!, ...theirs!];
    for (const one of both) if (!numbers.has(one)) numbers.set(one, numbers.size);
    found.set(
      id,
      both.map((one) => numbers.get(one)!).sort((p, q) => p - q),
    );
  }
  return found;
}

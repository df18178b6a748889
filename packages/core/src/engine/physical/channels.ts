import { type Link, type LinkEnd, type Topology } from '../../topology';
import { type Instance, instanceId } from '../devices';

/**
 * What carries frames between two ports: a cable, or several one after the other through passive devices (ISO/IEC
 * 11801-1, 3.1.17). It is called by its first link.
 */
export interface Channel {
  readonly id: string;
  readonly links: readonly string[];
  readonly a: LinkEnd;
  readonly b: LinkEnd;
  /** The passive devices that it goes through, by instance id. */
  readonly through: readonly string[];
  /** Where it ends at a port of a passive device with nothing plugged in; null where both its ends are of devices. */
  readonly open: LinkEnd | null;
}

/** The key of a port of an instance. */
export const portId = (instance: string, port: string): string => `${instance} ${port}`;

/** All channels of a drawing, in the order of their first links. */
export function channelsOf(
  topology: Topology,
  links: readonly (readonly [string, Link])[],
  instances: ReadonlyMap<string, Instance>,
  atPort: ReadonlyMap<string, readonly string[]>,
): Channel[] {
  const portOf = (end: LinkEnd) => instances.get(instanceId(end))?.ports.get(end.port)?.facts;
  const alone = (id: string, { a, b }: Link): Channel => ({ id, links: [id], a, b, through: [], open: null });
  if (![...instances.values()].some(({ model }) => model.class === 'passive'))
    return links.map(([id, link]) => alone(id, link));

  /** From an end of a link outwards: the links that follow, and where they end. */
  const follow = (first: string, from: LinkEnd): { links: string[]; end: LinkEnd; open: LinkEnd | null } => {
    const found: string[] = [];
    for (let end = from; ;) {
      const other = portOf(end)?.through;
      if (other === undefined) return { links: found, end, open: null };
      const behind: LinkEnd = { ...end, port: other };
      const [next, ...more] = atPort.get(portId(instanceId(end), other)) ?? [];
      // Two cables in one port are told there; a ring of patch cables has no end.
      if (next === undefined || more.length || next === first || found.includes(next))
        return { links: found, end: behind, open: behind };
      found.push(next);
      const { a, b } = topology.links[next]!;
      end = instanceId(a) === instanceId(end) && a.port === other ? b : a;
    }
  };
  const seen = new Set<string>();
  return links.flatMap(([id, link]): Channel[] => {
    if (seen.has(id)) return [];
    if (portOf(link.a)?.through === undefined && portOf(link.b)?.through === undefined) return [alone(id, link)];
    const [left, right] = [follow(id, link.a), follow(id, link.b)];
    const all = [...left.links.reverse(), id, ...right.links];
    for (const each of all) seen.add(each);
    const through = all.flatMap((each) => {
      const { a, b } = topology.links[each]!;
      return [a, b].flatMap((end) => (portOf(end)?.through === undefined ? [] : instanceId(end)));
    });
    // Where both ends are open the one that leads to nobody is told; where one is, it stands last.
    const [a, b] = left.open && !right.open ? [right, left] : [left, right];
    return [{ id, links: all, a: a.end, b: b.end, through: [...new Set(through)], open: b.open ?? a.open }];
  });
}

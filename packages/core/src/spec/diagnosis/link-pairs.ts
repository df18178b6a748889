import { type NetworkModel, instanceId } from '../../engine';
import { type Topology, entriesById } from '../../topology';

/** Which links and ports of a drawing stand for which of the reference. */
export interface LinkPairs {
  /** By the id of the reference's link that of the drawing. */
  readonly links: ReadonlyMap<string, string>;
  /** By role and port of the reference, with a blank between, the port of whoever plays it. */
  readonly ports: ReadonlyMap<string, string>;
}

/** Pairs links by the roles at their ends; of several between the same those at the same ports, and of the same medium, first. */
export function pairLinks(
  reference: NetworkModel,
  drawn: NetworkModel,
  players: ReadonlyMap<string, string>,
): LinkPairs {
  const links = new Map<string, string>();
  const ports = new Map<string, string>();
  const between = (a: string, b: string): string => JSON.stringify([a, b].sort());
  const wanted = new Map<string, string[]>();
  for (const [id, { a, b }] of entriesById(reference.topology.links)) {
    const [one, other] = [players.get(instanceId(a)), players.get(instanceId(b))];
    if (one === undefined || other === undefined) continue;
    const key = between(one, other);
    wanted.set(key, [...(wanted.get(key) ?? []), id]);
  }
  const taken = new Set<string>();
  const own = entriesById(drawn.topology.links);
  const take = (isExact: boolean): void => {
    for (const [id, { a, b, medium }] of own) {
      const of = wanted.get(between(instanceId(a), instanceId(b)));
      if (!of || taken.has(id)) continue;
      const at = of.findIndex((asked) => {
        const link = reference.topology.links[asked]!;
        return !isExact || (portsOf(link) === portsOf({ a, b }) && link.medium === medium);
      });
      if (at < 0) continue;
      links.set(of[at]!, id);
      taken.add(id);
      of.splice(at, 1);
    }
  };
  take(true);
  take(false);
  for (const [asked, found] of links) {
    const [wanted, has] = [reference.topology.links[asked]!, drawn.topology.links[found]!];
    const isTurned = players.get(instanceId(wanted.a)) !== instanceId(has.a);
    for (const [side, theirs] of [
      ['a', isTurned ? 'b' : 'a'],
      ['b', isTurned ? 'a' : 'b'],
    ] as const)
      ports.set(`${instanceId(wanted[side])} ${wanted[side].port}`, has[theirs].port);
  }

  freePorts(reference, drawn, players, links, ports);
  return { links, ports };
}

/** Ports for the links that are missing: those of the reference where they are free, else others like them. */
function freePorts(
  reference: NetworkModel,
  drawn: NetworkModel,
  players: ReadonlyMap<string, string>,
  paired: ReadonlyMap<string, string>,
  ports: Map<string, string>,
): void {
  const { links } = drawn.topology;
  const taken = new Set(
    Object.values(links).flatMap(({ a, b }) => [a, b].map((end) => `${instanceId(end)} ${end.port}`)),
  );
  for (const [id, { a, b }] of entriesById(reference.topology.links)) {
    if (paired.has(id)) continue;
    for (const end of [a, b]) {
      const role = instanceId(end);
      const own = drawn.instances.get(players.get(role) ?? '');
      const asked = reference.instances.get(role)?.ports.get(end.port)?.facts;
      if (!own || !asked || asked.many || ports.has(`${role} ${end.port}`)) continue;
      // A bay that is empty has no ports yet.
      const isSame = own.device.model === reference.instances.get(role)!.device.model;
      const isFree = (key: string): boolean =>
        (own.ports.has(key) || (isSame && key === end.port)) && !taken.has(`${own.id} ${key}`);
      const like = [...own.ports.values()].find(
        ({ key, facts }) =>
          isFree(key) &&
          facts.connector === asked.connector &&
          facts.switched === asked.switched &&
          Math.max(...facts.speeds) === Math.max(...asked.speeds),
      );
      const port = isFree(end.port) ? end.port : like?.key;
      if (port === undefined) continue;
      ports.set(`${role} ${end.port}`, port);
      taken.add(`${own.id} ${port}`);
    }
  }
}

const portsOf = ({ a, b }: Pick<Topology['links'][string], 'a' | 'b'>): string => [a.port, b.port].sort().join(' ');

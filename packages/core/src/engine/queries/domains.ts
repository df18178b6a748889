import { type LinkEnd } from '../../topology';
import { instanceId } from '../devices';
import { type NetworkModel } from '../analysis';

/** The broadcast domains that each link belongs to, as numbers from 0 in the order of the links; links that are down have none. */
export function linkDomains({ instances, layer1, layer2 }: NetworkModel): Map<string, number[]> {
  const pointsAt = (end: LinkEnd): number[] => {
    const id = instanceId(end);
    const instance = instances.get(id);
    const port = instance?.ports.get(end.port);
    if (!instance || !port) return [];
    if (port.switched) return layer2.vlansAt(id, end.port).flatMap((vlan) => layer2.vlanPoint(id, vlan)?.point ?? []);
    const subs = instance.interfaces.flatMap(([, { on }]) =>
      on.kind === 'sub' && on.port === end.port ? on.vlan : [],
    );
    const voice = instance.model.kind === 'phone' ? layer2.voiceVlanAt(id, end.port) : 0;
    return [0, ...subs, ...(voice ? [voice] : [])].flatMap((tag) => layer2.portPoint(id, end.port, tag) ?? []);
  };
  const numbers = new Map<number, number>();
  const found = new Map<string, number[]>();
  for (const id of layer1.order) {
    if (!layer1.links.get(id)?.up) continue;
    const { a, b } = layer1.channelOf.get(id)!;
    const [mine, theirs] = [a, b].map((end) => new Set(pointsAt(end).map((point) => layer2.domainOf(point))));
    // A hub has no points of its own: what is heard at the other end counts.
    const both =
      mine!.size && theirs!.size ? [...mine!].filter((domain) => theirs!.has(domain)) : [...mine!, ...theirs!];
    for (const domain of both) if (!numbers.has(domain)) numbers.set(domain, numbers.size);
    found.set(
      id,
      both.map((domain) => numbers.get(domain)!).sort((p, q) => p - q),
    );
  }
  return found;
}

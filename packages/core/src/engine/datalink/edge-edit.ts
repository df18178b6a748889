import { type Link, type LinkEnd, canonicalJson } from '../../topology';
import { type Instance, type Made, instanceId } from '../devices';
import { type Physical, portId } from '../physical';

/** An edit that leaves the ways of frames between others as they are: it concerns cables of hosts and of routed ports only. */
export interface EdgeEdit {
  /** Links that fare otherwise than before. */
  readonly links: readonly string[];
  /** Devices at their ends, and those that are set otherwise. */
  readonly devices: ReadonlySet<string>;
}

/** More links than this are no small edit. */
const MOST = 50;

/** What an edit concerns, as far as cables and ports tell; null where frames of others may go other ways than before. */
export function edgeEditOf(
  { topology, instances, layer1 }: Made & { readonly layer1: Physical },
  before: Made & { readonly layer1: Physical },
): EdgeEdit | null {
  if (layer1.atPort !== before.layer1.atPort || instances.size !== before.instances.size) return null;
  const devices = new Set<string>();
  if (instances !== before.instances)
    for (const [id, instance] of instances) {
      const old = before.instances.get(id);
      if (old === instance) continue;
      if (!old || !bridgesNothing(instance, old)) return null;
      devices.add(id);
    }
  const { unpowered } = before.layer1;
  if (layer1.unpowered.size !== unpowered.size) return null;
  for (const id of layer1.unpowered.keys()) if (!unpowered.has(id)) return null;
  const links: string[] = [];
  for (const [id, state] of layer1.links) {
    if (state === before.layer1.links.get(id)) continue;
    const { a, b } = topology.links[id]!;
    if (!isEdgeLink(topology.links[id]!, instances, layer1) || links.push(id) > MOST) return null;
    devices.add(instanceId(a)).add(instanceId(b));
  }
  return layer1.links.size === before.layer1.links.size ? { links, devices } : null;
}

/** Whether frames end at one end of a link at least, and nothing but its two ports is on it: others never go by it. */
export function isEdgeLink({ a, b }: Link, instances: ReadonlyMap<string, Instance>, layer1: Physical): boolean {
  const ends = [a, b].map((end) => joining(end, instances, layer1));
  return !ends.includes('joins') && ends.includes('ends');
}

/** What frames meet at the end of a link: a port of a bridge, one that joins several links, or an end of their way. */
function joining(
  end: LinkEnd,
  instances: ReadonlyMap<string, Instance>,
  { atPort }: Physical,
): 'joins' | 'bridges' | 'ends' {
  const { id, model, settings, ports } = instances.get(instanceId(end))!;
  if (model.bridges === 'hub' || settings.bundles || atPort.get(portId(id, end.port))!.length > 1) return 'joins';
  return model.bridges && ports.get(end.port)!.switched ? 'bridges' : 'ends';
}

/** Whether a device that was edited passes no frames on, and speaks in the same VLANs as it did. */
const bridgesNothing = (instance: Instance, old: Instance): boolean =>
  instance.model === old.model &&
  !instance.model.bridges &&
  instance.device.ports === old.device.ports &&
  instance.device.members === old.device.members &&
  !instance.settings.bundles &&
  !old.settings.bundles &&
  instance.device.modules === old.device.modules &&
  canonicalJson(taggedAt(instance)) === canonicalJson(taggedAt(old));

const taggedAt = ({ interfaces, settings }: Instance): unknown => [
  interfaces.flatMap(([, { on }]) => (on.kind === 'sub' || on.kind === 'svi' ? [on] : [])),
  settings.vlans ?? null,
];

import { parseAddress } from '../../../address';
import { type Instance, type NetworkModel, type Trace, instanceId, numberOf } from '../../../engine';
import { type LinkEnd } from '../../../topology';
import { type CheckContext, type Place } from '../../rule';
import { instanceLinks } from '../links';

/**
 * The port at which a question on a wire gets lost: where nobody answers although somebody has the address that is asked
 * for, frames are cut off on the way to it, or leave the sender's switch in a VLAN of their own. Null where the trace ended
 * for another reason, or no port is to blame.
 */
export function faultOnTheWire({ student }: CheckContext, trace: Trace): Place | null {
  const { reason, direction } = trace;
  if (reason?.code !== 'NO_ANSWER' && reason?.code !== 'NEXT_HOP_UNREACHABLE') return null;
  const last = (direction === 'reply' ? trace.reply : trace.request)?.hops.at(-1);
  const sender = student.instances.get(last?.device ?? '');
  const state = last?.route?.out;
  const asked = parseAddress(trace.asked);
  const wanted = last?.route?.via ?? (direction === 'reply' ? trace.source : asked.ok ? asked.value : null);
  const owner = wanted && student.layer3.owners.get(numberOf(wanted))?.find(({ instance }) => instance !== sender?.id);
  if (!sender || !state || state.point === null || !owner) return null;
  const way = wayBetween(student, sender.id, owner.instance);
  const domain = student.layer2.domainOf(state.point);
  for (const [at, step] of way.entries()) {
    const next = way[at + 1];
    if (next && !carries(student, next.from, domain)) return placeAt(next.from);
    if (!carries(student, step.to, domain)) return placeAt(step.to);
  }
  // Carried all the way, and not heard there: the first switch takes the sender into another VLAN than it is meant for.
  return way[0] && isBridge(student.instances.get(instanceId(way[0].to))) ? placeAt(way[0].to) : null;
}

interface Step {
  readonly from: LinkEnd;
  readonly to: LinkEnd;
}

const placeAt = ({ device, member, port }: LinkEnd): Place => ({
  device,
  ...(member !== undefined && { member }),
  port,
});
const isBridge = (instance: Instance | undefined): boolean =>
  [...(instance?.ports.values() ?? [])].some(({ switched }) => switched);

/** The links from one device to another by the fewest switches and hubs; empty where none lead there. */
function wayBetween(model: NetworkModel, from: string, to: string): Step[] {
  const before = new Map<string, Step | null>([[from, null]]);
  const queue = [from];
  for (const id of queue) {
    if (id === to) break;
    const instance = model.instances.get(id)!;
    if (id !== from && !isBridge(instance) && instance.model.kind !== 'hub') continue;
    for (const { id: link, mine, other } of instanceLinks(model, instance)) {
      const next = instanceId(other);
      if (before.has(next) || model.layer1.links.get(link)?.up !== true) continue;
      before.set(next, { from: mine, to: other });
      queue.push(next);
    }
  }
  const way: Step[] = [];
  for (let step = before.get(to); step; step = before.get(instanceId(step.from))) way.unshift(step);
  return way;
}

/** Whether a port of a bridge takes frames of a domain; ports of other devices take any. */
function carries({ layer2, instances }: NetworkModel, end: LinkEnd, domain: number): boolean {
  const id = instanceId(end);
  if (!isBridge(instances.get(id))) return true;
  return layer2.vlansAt(id, end.port).some((vlan) => {
    const point = layer2.vlanPoint(id, vlan)?.point;
    return point !== undefined && layer2.domainOf(point) === domain;
  });
}

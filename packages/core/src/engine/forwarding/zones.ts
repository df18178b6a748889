import { type Packet, judge } from '../filters';
import { type Node } from '../network';

/** What a zone firewall says of a packet that goes through it. */
export interface ZoneVerdict {
  readonly passes: boolean;
  /** As a part of a sentence: "from inside to outside its policy 2 permits it". */
  readonly text: string;
}

/**
 * A firewall by zones is stateful: policies judge the first packet of a connection, and what answers one that was let
 * through passes. Between zones nothing passes that no policy permits; within a zone, and between interfaces that are in
 * none, everything does. Null where zones have nothing to say.
 *
 * @param isAnswer whether the packet answers one that this device let through before
 */
export function zoneVerdict(
  { instance }: Node,
  cameIn: string,
  goesOut: string,
  packet: Packet,
  isAnswer: boolean,
): ZoneVerdict | null {
  const { firewall } = instance.settings;
  if (!firewall) return null;
  const zoneOf = (key: string): [string, string] | null => {
    const found = Object.entries(firewall.zones).find(([, zone]) => zone.interfaces.includes(key));
    return found ? [found[0], found[1].name] : null;
  };
  const [from, to] = [zoneOf(cameIn), zoneOf(goesOut)];
  if (from?.[0] === to?.[0]) return null;
  const way = `from ${from ? from[1] : 'no zone'} to ${to ? to[1] : 'no zone'}`;
  if (isAnswer) return { passes: true, text: `${way} it answers a connection that was let through` };
  if (!from || !to) return { passes: false, text: `${way} nothing passes` };
  for (const [at, policy] of firewall.policies.entries()) {
    if (policy.from !== from[0] || policy.to !== to[0]) continue;
    // A filter picks the packets a policy is about; without one it is about all of them.
    const picked = policy.filter === undefined || judge(instance, policy.filter, packet)?.passes;
    if (!picked) continue;
    const passes = policy.action === 'permit';
    return { passes, text: `${way} its policy ${at + 1} ${passes ? 'permits' : 'denies'} it` };
  }
  return { passes: false, text: `${way} no policy permits it` };
}

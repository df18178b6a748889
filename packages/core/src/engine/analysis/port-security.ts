import { plural } from '../../plural';
import { type Topology } from '../../topology';
import { type DataLink } from '../datalink';
import { type Instance } from '../devices';
import { type Network, heardBy } from '../network';
import { type PortVerdict, portId } from '../physical';

/** How many addresses a port lets in where nothing is said. */
const USUAL = 1;

/** A network as it were if no port minded who speaks. */
interface Unminding {
  readonly topology: Topology;
  readonly instances: ReadonlyMap<string, Instance>;
  readonly layer2: DataLink;
  readonly layer3: Network;
}

/**
 * Ports of bridges that let in so many addresses, and hear more. Those that are listed are let in, and of the others as
 * many as there is room for. A port that hears one too many is shut, or goes on without it; where nobody whom it hears is
 * let in it takes nothing, and where only some are, it is told.
 */
export function portVerdicts({ topology, instances, layer2, layer3 }: Unminding): Map<string, PortVerdict> {
  const found = new Map<string, PortVerdict>();
  for (const instance of instances.values()) {
    const minding = [...instance.ports.values()].filter(({ switched, config }) => switched && config.security);
    if (!minding.length) continue;
    const heard = heardBy(topology, layer2, layer3.nodes, instance);
    for (const { key } of minding) {
      const verdict = verdictOf(
        instance,
        key,
        new Map(heard.flatMap(({ port, mac, device }) => (port === key ? [[mac, device] as const] : []))),
      );
      if (verdict) found.set(portId(instance.id, key), verdict);
    }
  }
  return found;
}

/** @param heard names of devices by the addresses that are heard at the port */
function verdictOf(
  { id, name, ports }: Instance,
  port: string,
  heard: ReadonlyMap<string, string>,
): PortVerdict | null {
  const { maxMacs, allowed = [], onViolation = 'shutdown' } = ports.get(port)!.config.security!;
  const listed = new Set(allowed.map((mac) => mac.toLowerCase()));
  const room = Math.max(0, (maxMacs ?? Math.max(USUAL, listed.size)) - listed.size);
  const strangers = [...heard].filter(([mac]) => !listed.has(mac));
  if (strangers.length <= room) return null;
  const addresses = (count: number): string => (count ? plural(count, 'address', 'addresses') : 'no address');
  const lets = listed.size
    ? `it lets in ${addresses(listed.size)} that ${listed.size === 1 ? 'is' : 'are'} listed${room ? ` and ${room} more` : ''}`
    : `it lets in ${addresses(room)}`;
  const names = [...new Set(strangers.map(([, device]) => device))];
  const who = names.length > 1 ? `${names.slice(0, -1).join(', ')} and ${names.at(-1)}` : names[0]!;
  const tell = (does: PortVerdict['does'], text: string): PortVerdict => ({
    does,
    reason: { code: 'PORT_SECURITY', text: `${name} ${port} ${text}`, at: { device: id, port } },
  });
  if (onViolation === 'shutdown') return tell('shut', `is shut: ${lets}, and heard ${who}.`);
  if (!room && strangers.length === heard.size) return tell('mute', `takes nothing from ${who}: ${lets}.`);
  return room
    ? tell('some', `does not take all of ${who}: ${lets}, whoever speaks first.`)
    : tell('some', `takes nothing from ${who}, only from who is listed: ${lets}.`);
}

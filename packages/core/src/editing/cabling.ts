import { fittingMedium, instanceId, portUses, suggestLink } from '../engine';
import { type NewId } from './place';
import { type Command, type Link, type LinkEnd, type Medium, type Topology, entriesById, portOf } from '../topology';

/** What a cable is plugged into before its port is chosen: a device, or one member of a tile. */
export type Plug = Omit<LinkEnd, 'port'>;
/** What a new link needs: its two ends and its medium. */
export type Cable = Pick<Link, 'a' | 'b' | 'medium'>;

/** The plugs of a device: itself, or the members of its tile one by one. */
export const plugsOf = (topology: Topology, device: string): Plug[] => {
  const members = topology.devices[device]?.members;
  return members ? entriesById(members).map(([member]) => ({ device, member })) : [{ device }];
};

/** Whether at least one more cable goes into it. */
export const hasFreePort = (topology: Topology, { device, member }: Plug): boolean =>
  portUses(topology, device, member).some((use) => use.free);

/**
 * A cable between two devices, with the ports and the medium that are not said chosen to fit: the next free ports and
 * the right medium. Null where nothing fits.
 */
export function cableBetween(
  topology: Topology,
  a: Plug & { port?: string },
  b: Plug & { port?: string },
  medium?: Medium,
): Cable | null {
  if (instanceId(a) === instanceId(b)) return null;
  const plug = ({ device, member }: Plug): Plug => ({ device, ...(member !== undefined && { member }) });
  if (a.port === undefined && b.port === undefined) {
    const found = suggestLink(topology, plug(a), plug(b));
    return found && { ...found, ...(medium && { medium }) };
  }
  const choices = (end: Plug & { port?: string }): string[] =>
    end.port === undefined
      ? portUses(topology, end.device, end.member).flatMap((use) => (use.free ? [use.facts.key] : []))
      : [end.port];
  const facts = (end: Plug, port: string) => portOf(topology, topology.devices[end.device]!, port);
  for (const mine of choices(a))
    for (const theirs of choices(b)) {
      const [first, second] = [facts(a, mine), facts(b, theirs)];
      const fitting = first && second ? fittingMedium(first, second) : null;
      if (medium ?? fitting)
        return { a: { ...plug(a), port: mine }, b: { ...plug(b), port: theirs }, medium: (medium ?? fitting)! };
    }
  return null;
}

/**
 * What plugging one end of a link into another device makes of it: the next free port there and the medium that fits.
 * Null where nothing fits.
 */
export function replugged(topology: Topology, id: string, end: 'a' | 'b', device: string): Cable | null {
  const { [id]: link, ...links } = topology.links;
  if (!link) return null;
  const without = { ...topology, links };
  const kept = link[end === 'a' ? 'b' : 'a'];
  const plug = plugsOf(without, device).find((plug) => hasFreePort(without, plug));
  if (!plug) return null;
  return end === 'a' ? cableBetween(without, plug, kept) : cableBetween(without, kept, plug);
}

/**
 * Cables many devices to one, members of tiles one by one. `left` are the ids of devices that found no port that fits.
 */
export function cableMany(
  topology: Topology,
  devices: readonly string[],
  to: string,
  newId: NewId,
): { commands: Command[]; links: string[]; left: string[] } {
  const commands: Command[] = [];
  const links: string[] = [];
  const left = new Set<string>();
  let draft = topology;
  for (const device of devices) {
    if (device === to) continue;
    for (const plug of plugsOf(topology, device)) {
      const hub = plugsOf(topology, to).find((plug) => hasFreePort(draft, plug));
      const link = hub && hasFreePort(draft, plug) ? cableBetween(draft, plug, hub) : null;
      if (!link) {
        left.add(device);
        continue;
      }
      const id = newId('link');
      draft = { ...draft, links: { ...draft.links, [id]: link } };
      links.push(id);
      commands.push({ kind: 'connect', id, link });
    }
  }
  return { commands, links, left: [...left] };
}

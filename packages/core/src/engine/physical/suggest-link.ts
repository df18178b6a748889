import {
  type Link,
  type LinkEnd,
  type Medium,
  type PortFacts,
  type Topology,
  entriesById,
  entryOf,
  portsOf,
} from '../../topology';

/** A port of a device with what is plugged into it. */
export interface PortUse {
  readonly facts: PortFacts;
  /** Ids of the links in it. */
  readonly links: readonly string[];
  /** Whether one more link may go in. */
  readonly free: boolean;
}

/** All ports of a device, or of one member of a tile, with what is plugged in. */
export function portUses(topology: Topology, deviceId: string, member?: string): PortUse[] {
  const device = entryOf(topology.devices, deviceId);
  if (!device) return [];
  const at = new Map<string, string[]>();
  for (const [id, link] of entriesById(topology.links))
    for (const end of [link.a, link.b])
      if (end.device === deviceId && end.member === member) at.set(end.port, [...(at.get(end.port) ?? []), id]);
  return portsOf(topology, device).map((facts) => {
    const links = at.get(facts.key) ?? [];
    return { facts, links, free: links.length === 0 || facts.many === true };
  });
}

const MEDIUM_FOR: Partial<Record<PortFacts['connector'], Medium>> = {
  'mm-fibre': 'mm-fibre',
  'sm-fibre': 'sm-fibre',
  serial: 'serial',
  coax: 'coax',
  phone: 'phone',
  radio: 'wireless',
};

/**
 * The medium that joins two ports, null where none does. Copper between like pairings needs a crossover cable unless
 * a port finds its pairing by itself (IEEE 802.3 clause 40.4.4); a straight one then does as well.
 */
export function fittingMedium(a: PortFacts, b: PortFacts): Medium | null {
  if (a.connector !== b.connector || !a.speeds.some((speed) => speed > 0 && b.speeds.includes(speed))) return null;
  if (a.connector !== 'copper') return MEDIUM_FOR[a.connector] ?? null;
  return a.through !== undefined || b.through !== undefined || a.auto || b.auto || a.pairing !== b.pairing
    ? 'straight'
    : 'crossover';
}

/** Why a medium fits two ports, or what keeps every medium from joining them, in a few words. */
export function fittingReason(a: PortFacts, b: PortFacts): string {
  if (a.connector !== b.connector) return `${a.connector} and ${b.connector} do not go together`;
  if (fittingMedium(a, b) === null) return 'no speed is common to both ports';
  if (a.connector !== 'copper') return `both ports are ${a.connector}`;
  if (a.through !== undefined || b.through !== undefined) return 'passive ports hand the pairs on as they come';
  if (a.auto || b.auto) return 'a port finds its pairing by itself';
  return a.pairing === b.pairing ? 'like ports need the crossing' : 'unlike ports need no crossing';
}

/**
 * The next free ports of two devices that fit, and the medium for them: between passive devices their rears, else their
 * fronts; first those that feed a device without a supply of
 * its own (IEEE 802.3 clause 33), then the fastest, and of these none that wastes a faster port.
 */
export function suggestLink(
  topology: Topology,
  a: Omit<LinkEnd, 'port'>,
  b: Omit<LinkEnd, 'port'>,
): Pick<Link, 'a' | 'b' | 'medium'> | null {
  const [mine, theirs] = [a, b].map((end) => portUses(topology, end.device, end.member).filter((use) => use.free));
  const wants = ({ device }: Omit<LinkEnd, 'port'>): boolean =>
    entryOf(topology.devices, device)?.powered === undefined;
  const [first, second] = [wants(a), wants(b)];
  let best: { link: Pick<Link, 'a' | 'b' | 'medium'>; feeds: boolean; speed: number; waste: number } | null = null;
  const isFed = (uses: readonly PortUse[]): boolean => uses.some(({ facts }) => facts.poe === 'sink');
  const mayFeed = (first && isFed(mine!)) || (second && isFed(theirs!));
  const top = Math.max(...mine!.flatMap(({ facts }) => facts.speeds));
  const arePassive = [mine!, theirs!].every((uses) => uses.some(({ facts }) => facts.rear));
  for (const { facts } of mine!)
    for (const { facts: other } of theirs!) {
      if (Boolean(facts.rear) !== arePassive || Boolean(other.rear) !== arePassive) continue;
      const medium = fittingMedium(facts, other);
      if (!medium) continue;
      const speed = Math.max(...facts.speeds.filter((each) => other.speeds.includes(each)));
      const waste = Math.max(...facts.speeds) + Math.max(...other.speeds) - 2 * speed;
      const feeds =
        (first && facts.poe === 'sink' && other.poe === 'source') ||
        (second && other.poe === 'sink' && facts.poe === 'source');
      if (best) {
        if (best.feeds && !feeds) continue;
        if (best.feeds === feeds && (speed < best.speed || (speed === best.speed && waste >= best.waste))) continue;
      }
      best = { link: { a: { ...a, port: facts.key }, b: { ...b, port: other.key }, medium }, feeds, speed, waste };
      if (speed === top && waste === 0 && (feeds || !mayFeed)) return best.link;
    }
  return best?.link ?? null;
}

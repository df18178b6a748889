import { type Address } from '../address';
import { type Packet } from './filters';
import { type ReasonCode } from './reason';
import { type Layers, type PacketAt, type Unsent, stepsOf } from './step';
import { answerTo } from './trace';

/** Where a packet may end: accepted by a device, or not for a reason. */
export interface End {
  readonly delivered: string | null;
  readonly code: ReasonCode | null;
}

/** How a packet that was sent ends; its source is null where it never left. */
export interface Sent {
  readonly source: Address | null;
  readonly end: End;
}

/**
 * Where packets end, without telling how: what a device does with a packet does not depend on how it came there, so that
 * each is worked out once for all sources. Holds only where no device changes packets (address
 * translation) or remembers them (firewalls by zones).
 */
export class Ways {
  private readonly known = new Map<string, Map<bigint | string, readonly End[] | 'open'>>();
  private readonly sentBy = new Map<string, Map<bigint, readonly Sent[] | null>>();
  private readonly filtered: boolean;
  private circles = false;

  constructor(private readonly layers: Layers) {
    this.filtered = [...layers.instances.values()].some(({ settings }) => settings.filters !== undefined);
  }

  static hold = ({ layer3, instances }: Layers): boolean =>
    layer3.translators.length === 0 && [...instances.values()].every(({ settings }) => !settings.firewall);

  /**
   * The ends of a packet that a device sends to an address, each with the source that the packet has by its way out.
   * Null where equal ways go in circles: then each way has to be walked.
   */
  from(device: string, unsent: Unsent, address: Address): readonly Sent[] | null {
    if (this.filtered) return this.sent(device, unsent, address);
    // Nobody looks at more of a packet than its addresses, and at its source only where it has none to send from.
    const { source: _given, ...asking } = unsent;
    const byAddress = this.sentBy.get(device) ?? new Map<bigint, readonly Sent[] | null>();
    this.sentBy.set(device, byAddress);
    const key = numberOf(address);
    let found = byAddress.get(key);
    if (found === undefined) byAddress.set(key, (found = this.sent(device, asking, address)));
    const isStuck = unsent.source !== undefined && found?.some((one) => one.end.code === 'NO_ADDRESS');
    return isStuck ? this.sent(device, unsent, address) : found;
  }

  /** The ends of what answers a packet that arrived. */
  back(device: string, packet: Packet): readonly Sent[] | null {
    const unsent = this.filtered ? answerTo(packet) : { protocol: packet.protocol, source: packet.destination };
    return this.from(device, unsent, packet.source);
  }

  private sent(device: string, unsent: Unsent, address: Address): readonly Sent[] | null {
    this.circles = false;
    const here: PacketAt = { device, arrived: null, unsent, packet: null, address, flow: PLAIN };
    const found: Sent[] = [];
    for (const step of stepsOf(this.layers, here)) {
      const source = step.packet?.source ?? null;
      if (step.kind === 'end') found.push({ source, end: { delivered: null, code: step.code } });
      else if (step.kind === 'accepted') found.push({ source, end: { delivered: device, code: null } });
      else {
        const next = { ...here, device: step.next.instance, arrived: step.next, packet: step.packet };
        for (const end of this.at(next)) found.push({ source, end });
      }
    }
    return this.circles ? null : found;
  }

  private at(standing: PacketAt): readonly End[] {
    let here = this.known.get(standing.device);
    if (!here) this.known.set(standing.device, (here = new Map<bigint | string, readonly End[] | 'open'>()));
    const key = this.keyOf(standing);
    const known = here.get(key);
    if (known === 'open') {
      this.circles = true;
      return [];
    }
    if (known) return known;
    here.set(key, 'open');
    const ends: End[] = [];
    for (const step of stepsOf(this.layers, standing)) {
      const next: readonly End[] =
        step.kind === 'end'
          ? [{ delivered: null, code: step.code }]
          : step.kind === 'accepted'
            ? [{ delivered: standing.device, code: null }]
            : this.at({ ...standing, device: step.next.instance, arrived: step.next, packet: step.packet });
      for (const end of next)
        if (!ends.some((one) => one.delivered === end.delivered && one.code === end.code)) ends.push(end);
    }
    // What was found while a circle is open holds for this way in only.
    if (this.circles) here.delete(key);
    else here.set(key, ends);
    return ends;
  }

  /** What the step of a device depends on: where nothing is filtered, the address alone. */
  private keyOf({ arrived, packet, address }: PacketAt): bigint | string {
    const to = numberOf(address);
    if (!this.filtered || !packet) return to;
    const { source, protocol, sourcePort, destinationPort, icmpType, established } = packet;
    return `${to} ${arrived?.key} ${source.value} ${protocol} ${sourcePort} ${destinationPort} ${icmpType} ${established}`;
  }
}
/** One number for each address: those of IPv6 begin after those of IPv4. */
const numberOf = ({ family, value }: Address): bigint => (family === 4 ? value : value + (1n << 32n));
const PLAIN = { flow: 'request' as const, made: [], passed: [] };

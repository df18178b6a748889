import { type Address } from '../address';
import { type Packet } from './filters';
import { type ReasonCode } from './reason';
import { type Layers, type PacketAt, type Unsent, stepsOf } from './step';

/** Where a packet may end: accepted by a device, or not for a reason. */
export interface End {
  readonly delivered: string | null;
  readonly code: ReasonCode | null;
}

/**
 * Where packets end, without telling how: what a device does with a packet does not depend on how it came there, so that
 * each is worked out once for all sources. Holds only where no device changes packets (address translation).
 */
export class Ways {
  private readonly known = new Map<string, readonly End[] | 'open'>();
  private readonly filtered: boolean;
  private circles = false;

  constructor(private readonly layers: Layers) {
    this.filtered = [...layers.instances.values()].some(({ settings }) => settings.filters !== undefined);
  }

  static hold = ({ layer3 }: Layers): boolean => layer3.translators.length === 0;

  /**
   * The ends of a packet that a device sends to an address, each with the packet as it was sent: its source is that of
   * the way out. Null where equal ways go in circles: then each way has to be walked.
   */
  from(device: string, unsent: Unsent, address: Address): { packet: Packet | null; end: End }[] | null {
    this.circles = false;
    const here: PacketAt = { device, arrived: null, unsent, packet: null, address, flow: PLAIN };
    const found = stepsOf(this.layers, here).flatMap((step): { packet: Packet | null; end: End }[] => {
      if (step.kind === 'end') return [{ packet: step.packet, end: { delivered: null, code: step.code } }];
      if (step.kind === 'accepted') return [{ packet: step.packet, end: { delivered: device, code: null } }];
      return this.at({ ...here, device: step.next.instance, arrived: step.next, packet: step.packet }).map((end) => ({
        packet: step.packet,
        end,
      }));
    });
    return this.circles ? null : found;
  }

  private at(standing: PacketAt): readonly End[] {
    const key = this.keyOf(standing);
    const known = this.known.get(key);
    if (known === 'open') {
      this.circles = true;
      return [];
    }
    if (known) return known;
    this.known.set(key, 'open');
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
    if (this.circles) this.known.delete(key);
    else this.known.set(key, ends);
    return ends;
  }

  private keyOf({ device, arrived, packet, address }: PacketAt): string {
    const to = `${device} ${address.family} ${address.value}`;
    if (!this.filtered || !packet) return to;
    const { source, protocol, sourcePort, destinationPort, icmpType, established } = packet;
    return `${to} ${arrived?.key} ${source.value} ${protocol} ${sourcePort} ${destinationPort} ${icmpType} ${established}`;
  }
}
const PLAIN = { flow: 'request' as const, made: [] };

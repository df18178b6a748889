import {
  type Link,
  type LinkEnd,
  type Medium,
  type Topology,
  canonicalJson,
  entriesById,
  entryOf,
} from '../../topology';
import { type Instance, type Made, instanceId, type Reason, type ReasonCode } from '../devices';
import { type Channel, channelsOf, portId } from './channels';
import { type End, type Judged } from './ends';
import { unpoweredInstances } from './power';

/** How one link fares. `up` means that both its ends have carrier; warnings tell what works but should not be so. */
export interface LinkState {
  readonly up: boolean;
  readonly reason: Reason | null;
  readonly warnings: readonly Reason[];
  readonly speedMbps: number | null;
}

export interface Physical {
  /** By link id. */
  readonly links: ReadonlyMap<string, LinkState>;
  /** All ids of links, in order. */
  readonly order: readonly string[];
  /** Link ids at each port, by "instance port"; ports without a link are absent. */
  readonly atPort: ReadonlyMap<string, readonly string[]>;
  /** Instances without power, with the reason. */
  readonly unpowered: ReadonlyMap<string, Reason>;
  /** What cables and ports alone say of each channel, whoever has power. */
  readonly judged: ReadonlyMap<string, Judged>;
  /** What carries frames between two ports, in the order of the first links. */
  readonly channels: readonly Channel[];
  /** The channel of each link. */
  readonly channelOf: ReadonlyMap<string, Channel>;
  /** Ports that take nothing of what comes in, by `portId`. */
  readonly mute: ReadonlySet<string>;
}

export interface PhysicalOptions {
  /** Whether ports that can find their pairing by themselves do so; off as in older kit. */
  readonly autoPairing: boolean;
  /** What ports do that mind who speaks there, by `portId`. */
  readonly verdicts: ReadonlyMap<string, PortVerdict>;
}

/** A port that hears an address which it does not let in: it is shut, takes nothing, or only from some. */
export interface PortVerdict {
  readonly does: 'shut' | 'mute' | 'some';
  readonly reason: Reason;
}

/** Longest runs in metres, by medium and speed: IEEE 802.3 clauses 14, 25, 40 (copper), 38 and 59 (fibre). */
const MAX_LENGTH_M: Partial<Record<Medium, number>> = {
  straight: 100,
  crossover: 100,
  'mm-fibre': 550,
  'sm-fibre': 10_000,
  coax: 500,
  phone: 5_000,
};
const CONNECTOR_OF: Record<Medium, string> = {
  straight: 'copper',
  crossover: 'copper',
  rollover: 'console',
  'mm-fibre': 'mm-fibre',
  'sm-fibre': 'sm-fibre',
  serial: 'serial',
  coax: 'coax',
  phone: 'phone',
  wireless: 'radio',
};
/** Media as people call them. */
export const MEDIUM_NAMES: Record<Medium, string> = {
  straight: 'straight-through copper',
  crossover: 'crossover copper',
  rollover: 'rollover',
  'mm-fibre': 'multi-mode fibre',
  'sm-fibre': 'single-mode fibre',
  serial: 'serial',
  coax: 'coaxial',
  phone: 'phone line',
  wireless: 'wireless',
};

/** All links by id, and those at each port: as before an edit, if that plugged nothing in or out. */
function cablesOf(
  topology: Topology,
  before?: Made & { readonly layer1: Physical },
): { links: [string, Link][]; atPort: Physical['atPort'] } {
  const ids = before && Object.keys(topology.links);
  const old = before?.topology.links;
  const samePlugs = (id: string): boolean => {
    const [first, second] = [topology.links[id]!, entryOf(old, id)];
    return first === second || (second !== undefined && first.a === second.a && first.b === second.b);
  };
  if (ids && ids.length === Object.keys(old!).length && ids.every(samePlugs))
    return { links: before.layer1.order.map((id) => [id, topology.links[id]!]), atPort: before.layer1.atPort };
  const links = entriesById(topology.links);
  const atPort = new Map<string, string[]>();
  for (const [id, link] of links)
    for (const end of [link.a, link.b]) {
      const key = portId(instanceId(end), end.port);
      const there = atPort.get(key);
      if (there) there.push(id);
      else atPort.set(key, [id]);
    }
  return { links, atPort };
}

/**
 * Judges every link of the drawing from its two ports and the cable between; what goes through passive devices as one.
 *
 * @param before the same before an edit, with the same options: links that are the same values between the same devices
 * are not judged again
 */
export function physical(
  topology: Topology,
  instances: ReadonlyMap<string, Instance>,
  options: PhysicalOptions,
  before?: Made & { readonly layer1: Physical },
): Physical {
  const { links, atPort } = cablesOf(topology, before);
  const { channels, channelOf } =
    before && atPort === before.layer1.atPort && instances === before.instances
      ? before.layer1
      : numbered(channelsOf(topology, links, instances, atPort));
  /** What was judged of a link before, if nothing that counts for it has changed. */
  const isSame = (end: Link['a'], { instances: old, layer1 }: NonNullable<typeof before>): boolean => {
    const instance = instanceId(end);
    if (instances.get(instance) !== old.get(instance)) return false;
    if (atPort === layer1.atPort) return true;
    const key = portId(instance, end.port);
    return atPort.get(key)!.length === layer1.atPort.get(key)!.length;
  };
  const judgedBefore = (id: string, link: Link): Judged | undefined =>
    before && before.topology.links[id] === link && isSame(link.a, before) && isSame(link.b, before)
      ? before.layer1.judged.get(id)
      : undefined;
  const endOf = (end: LinkEnd): End | null => {
    const instance = instances.get(instanceId(end));
    const port = instance?.ports.get(end.port);
    return instance && port ? { instance, port } : null;
  };
  const judge = (channel: Channel): Judged | null => {
    const [a, b] = [endOf(channel.a), endOf(channel.b)];
    if (!a || !b) return null;
    for (const id of channel.links) {
      const link = topology.links[id]!;
      const [near, far] = [endOf(link.a), endOf(link.b)];
      const reason = near && far && misfit(id, link, near, far, atPort);
      if (reason) return { reason };
    }
    if (channel.open) return { reason: openChannel(channel, a, endOf(channel.open)!) };
    const cable = cableOf(channel, topology, a, b, instances);
    const judged =
      cable.medium === 'straight' || cable.medium === 'crossover'
        ? judgeCopper(cable, a, b, options)
        : judgeOther(cable, a, b);
    const minding = [a, b].flatMap((end) => options.verdicts.get(portId(end.instance.id, end.port.key)) ?? []);
    if (!minding.length || 'reason' in judged) return judged;
    const reasons = minding.map(({ reason }) => ({ ...reason, at: { ...reason.at, link: channel.id } }));
    const shut = minding.findIndex(({ does }) => does === 'shut');
    return shut < 0 ? { ...judged, warnings: [...judged.warnings, ...reasons] } : { reason: reasons[shut]! };
  };
  const judged = new Map<string, Judged>();
  for (const channel of channels) {
    const { id, through } = channel;
    const known = through.length ? undefined : judgedBefore(id, topology.links[id]!);
    const judgement = known ?? judge(channel);
    if (!judgement) continue;
    const old = before?.layer1.judged.get(id);
    // Said anew and the same: it stays the same value, so that what follows from it does, too.
    const isOld = through.length > 0 && old !== undefined && canonicalJson(old) === canonicalJson(judgement);
    judged.set(id, isOld ? old : judgement);
  }
  const unpowered = unpoweredInstances(channels, instances, judged, endOf);
  const states = new Map<string, LinkState>();
  for (const { id, links, a, b } of channels) {
    const judgement = judged.get(id);
    if (!judgement) continue;
    const dark = unpowered.size ? (unpowered.get(instanceId(a)) ?? unpowered.get(instanceId(b))) : undefined;
    const known = before?.layer1.judged.get(id) === judgement ? before.layer1.links.get(id)! : null;
    let state = known;
    if (!known || dark || !(known.up || 'reason' in judgement)) {
      const reason = 'reason' in judgement ? judgement.reason : dark ? { ...dark, at: { ...dark.at, link: id } } : null;
      state = {
        up: !reason,
        reason,
        warnings: 'reason' in judgement ? [] : judgement.warnings,
        speedMbps: 'reason' in judgement || reason ? null : judgement.speedMbps,
      };
    }
    for (const link of links) states.set(link, state!);
  }
  const mute = new Set([...options.verdicts].flatMap(([key, { does }]) => (does === 'mute' ? [key] : [])));
  const order = before && atPort === before.layer1.atPort ? before.layer1.order : links.map(([id]) => id);
  return { links: inOrder(states, order), order, atPort, unpowered, judged, channels, channelOf, mute };
}

const numbered = (channels: readonly Channel[]): Pick<Physical, 'channels' | 'channelOf'> => ({
  channels,
  channelOf: new Map(channels.flatMap((channel) => channel.links.map((link) => [link, channel] as const))),
});

/** The states in the order of the links, where channels of several were not. */
function inOrder(states: Map<string, LinkState>, order: readonly string[]): Physical['links'] {
  let at = 0;
  for (const id of states.keys()) {
    while (at < order.length && !states.has(order[at]!)) at++;
    if (order[at++] !== id)
      return new Map(order.flatMap((id) => (states.has(id) ? [[id, states.get(id)!] as const] : [])));
  }
  return states;
}

const nameOf = ({ instance, port }: End): string => `${instance.name} ${port.key}`;

/** What is wrong at a single cable and the two ports that it is in; null where nothing is. */
function misfit(id: string, link: Link, a: End, b: End, atPort: ReadonlyMap<string, readonly string[]>): Reason | null {
  const no = (code: ReasonCode, text: string, end?: End): Reason => ({
    code,
    text,
    at: { link: id, ...(end && { device: end.instance.id, port: end.port.key }) },
  });
  for (const end of [a, b]) {
    const count = atPort.get(portId(end.instance.id, end.port.key))!.length;
    if (count > 1 && !end.port.facts.many)
      return no('PORT_TAKEN_TWICE', `${nameOf(end)} has ${count} cables: a port takes one.`, end);
  }
  if (link.broken) return no('CABLE_BROKEN', `The cable between ${nameOf(a)} and ${nameOf(b)} is broken.`);
  if (link.medium === 'rollover')
    return no('CONSOLE_CABLE', 'A rollover cable connects a console: it carries no frames.');
  const connector = CONNECTOR_OF[link.medium];
  const misfits = [a, b].filter((end) => end.port.facts.connector !== connector);
  if (misfits[0]) {
    const isFibre = connector.endsWith('fibre') && misfits[0].port.facts.connector.endsWith('fibre');
    return no(
      isFibre ? 'FIBRE_MISMATCH' : 'CONNECTOR_MISMATCH',
      `${nameOf(misfits[0])} is a ${connectorName(misfits[0])} port: ${MEDIUM_NAMES[link.medium]} does not fit it.`,
      misfits[0],
    );
  }
  for (const end of [a, b]) if (isOff(end)) return no('PORT_OFF', `${nameOf(end)} is switched off.`, end);
  return null;
}

/** Why nothing passes where no device is at one end, or at neither. */
const openChannel = ({ id, open }: Channel, a: End, end: End): Reason =>
  a.port.facts.through === undefined
    ? {
        code: 'CHANNEL_OPEN',
        text: `${nameOf(a)} leads to ${nameOf(end)}: plug a cable in there, nothing goes on from it.`,
        at: { link: id, device: instanceId(open!), port: open!.port },
      }
    : { code: 'CHANNEL_SPARE', text: 'No device is at either end of this cable.', at: { link: id } };

/** The cables of a channel as if they were one. */
interface Cable {
  readonly id: string;
  readonly medium: Medium;
  readonly lengthM: number;
  /** What it is called at the beginning of a sentence. */
  readonly name: string;
  /** Whether it is several cables through passive devices. */
  readonly isLong: boolean;
  /** The cable whose pairs cross, else the first. */
  readonly crossing: string;
}

function cableOf(
  { id, links, through }: Channel,
  topology: Topology,
  a: End,
  b: End,
  instances: ReadonlyMap<string, Instance>,
): Cable {
  const all = links.map((link) => topology.links[link]!);
  const { medium } = all[0]!;
  const isCopper = medium === 'straight' || medium === 'crossover';
  // Two crossings are none.
  const crossings = all.filter((link) => link.medium === 'crossover').length;
  const between = `${nameOf(a)} – ${nameOf(b)}`;
  const names = through.map((instance) => instances.get(instance)!.name);
  return {
    id,
    medium: isCopper ? (crossings % 2 ? 'crossover' : 'straight') : medium,
    lengthM: all.reduce((sum, { lengthM }) => sum + (lengthM ?? 0), 0),
    name: through.length ? `The channel ${between} through ${names.join(' and ')}` : `The cable ${between}`,
    isLong: through.length > 0,
    crossing: links.find((link) => topology.links[link]!.medium === 'crossover') ?? id,
  };
}

const connectorName = ({ port }: End): string =>
  ({
    copper: 'copper',
    console: 'console',
    serial: 'serial',
    coax: 'coaxial',
    phone: 'phone line',
    radio: 'radio',
    'mm-fibre': 'multi-mode fibre',
    'sm-fibre': 'single-mode fibre',
  })[port.facts.connector];

/** A port is off by its own switch, or when the interface that sits directly on it is switched off. */
function isOff({ instance, port }: End): boolean {
  return (
    port.config.enabled === false ||
    instance.interfaces.some(
      ([, interfaceConfig]) =>
        interfaceConfig.on.kind === 'port' && interfaceConfig.on.port === port.key && interfaceConfig.enabled === false,
    )
  );
}

function judgeCopper(cable: Cable, a: End, b: End, options: PhysicalOptions): Judged {
  const finds = [a, b].some((end) => options.autoPairing && end.port.facts.auto);
  const like = (a.port.facts.pairing ?? 'mdi') === (b.port.facts.pairing ?? 'mdi');
  if (finds || like === (cable.medium === 'crossover')) return judgeSpeed(cable, a, b);
  const [ports, many] = [`${nameOf(a)} and ${nameOf(b)} are ${like ? 'like' : 'unlike'} ports`, cable.isLong];
  const need = like
    ? many
      ? 'one of the cables between them must be a crossover cable'
      : 'they need a crossover cable'
    : many
      ? 'the cables between them must be straight-through'
      : 'they need a straight-through cable';
  return { reason: { code: 'WRONG_PAIRING', at: { link: cable.crossing }, text: `${ports}: ${need}.` } };
}

function judgeOther(cable: Cable, a: End, b: End): Judged {
  const { id, medium } = cable;
  if (medium === 'serial') {
    const clocks = [a, b].filter((end) => end.port.config.clockEnd).length;
    if (clocks !== 1)
      return {
        reason: {
          code: clocks ? 'TWO_CLOCKS' : 'NO_CLOCK',
          at: { link: id },
          text: clocks
            ? `Both ends of the serial link ${nameOf(a)} – ${nameOf(b)} give the clock: one must.`
            : `Neither end of the serial link ${nameOf(a)} – ${nameOf(b)} gives the clock: one must.`,
        },
      };
  }
  if (medium === 'wireless' && !sharedNetwork(a, b))
    return {
      reason: {
        code: 'RADIO_MISMATCH',
        at: { link: id },
        text: `${nameOf(a)} and ${nameOf(b)} are not set to the same wireless network, security and key.`,
      },
    };
  return judgeSpeed(cable, a, b);
}

/** What is wrong with the key of a wireless network: WPA2 takes 8 to 63 characters or 64 hexadecimal digits (IEEE 802.11, annex J.4). */
export const radioKeyProblem = (security: string, key: string): string | null =>
  security !== 'wpa2' || (key.length >= 8 && key.length <= 63) || /^[0-9a-f]{64}$/i.test(key)
    ? null
    : 'A key of WPA2 has 8 to 63 characters.';

export type Radio = { ssid: string; security: string; key?: string; vlan?: number };
/** The wireless network that both ends are set to, as the first end has it; null where they share none. */
export function sharedNetwork(a: End, b: End): Radio | null {
  const sets = ({ instance, port }: End): Radio[] => [
    ...(port.config.radio ? [port.config.radio] : []),
    ...(instance.settings.ssids ?? []),
  ];
  const shared = sets(a).find((x) =>
    sets(b).some((y) => x.ssid === y.ssid && x.security === y.security && (x.key ?? '') === (y.key ?? '')),
  );
  return shared ?? null;
}

/** From this speed on both ends must negotiate: copper by IEEE 802.3 clause 40.5.1, fibre by clause 37. */
const NEGOTIATED_MBPS = 1000;
const NEGOTIATING: ReadonlySet<Medium> = new Set(['straight', 'crossover', 'mm-fibre', 'sm-fibre']);

/**
 * The highest speed both ports know. A fixed speed against an automatic one is sensed at 10 and 100 Mb/s, but the duplex
 * falls to half (IEEE 802.3 clause 28.2.3.1); faster ports do not come up without negotiation.
 */
function judgeSpeed({ id, medium, lengthM, name }: Cable, a: End, b: End): Judged {
  const speedsOf = ({ port }: End): number[] =>
    typeof port.config.speed === 'number'
      ? port.facts.speeds.filter((speed) => speed === port.config.speed)
      : port.facts.speeds;
  const common = speedsOf(a).filter((speed) => speedsOf(b).includes(speed));
  if (!common.length)
    return {
      reason: {
        code: 'NO_COMMON_SPEED',
        at: { link: id },
        text: `${nameOf(a)} and ${nameOf(b)} have no speed in common.`,
      },
    };
  const speedMbps = Math.max(...common);
  const isFixed = ({ port }: End): boolean => typeof port.config.speed === 'number';
  if (isFixed(a) !== isFixed(b) && speedMbps >= NEGOTIATED_MBPS && NEGOTIATING.has(medium)) {
    const [fixed, other] = isFixed(a) ? [a, b] : [b, a];
    return {
      reason: {
        code: 'NO_NEGOTIATION',
        at: { link: id },
        text: `${nameOf(fixed)} is set to ${speedMbps} Mb/s and does not negotiate, ${nameOf(other)} waits for it: at that speed both ends must negotiate.`,
      },
    };
  }
  const limit = MAX_LENGTH_M[medium];
  if (limit !== undefined && lengthM > limit)
    return {
      reason: {
        code: 'CABLE_TOO_LONG',
        at: { link: id },
        text: `${name} is ${lengthM} m long: ${MEDIUM_NAMES[medium]} carries at most ${limit} m.`,
      },
    };
  const warnings: Reason[] = [];
  const duplex = [a, b].map((end) =>
    typeof end.port.config.speed === 'number' ? (end.port.config.duplex ?? 'full') : 'auto',
  );
  const settled = duplex.map((own, at) =>
    own === 'auto' && duplex[1 - at] !== 'auto' ? 'half' : own === 'auto' ? 'full' : own,
  );
  if (settled[0] !== settled[1])
    warnings.push({
      code: 'DUPLEX_DIFFERS',
      at: { link: id },
      text: `${nameOf(a)} runs ${settled[0]} duplex and ${nameOf(b)} ${settled[1]} duplex: frames will collide.`,
    });
  return { speedMbps, warnings };
}

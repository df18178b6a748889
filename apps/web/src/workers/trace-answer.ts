import {
  type Address,
  type Family,
  formatAddress,
  isLinkLocal,
  parseAddress,
  parseZonedAddress,
  sameAddress,
} from '@sobrin/core/address';
import {
  type Answer,
  type Instance,
  type NameAnswer,
  type NetworkModel,
  type Outcome,
  type Probe,
  type Trace,
  type Way,
  ECHO,
  attemptOf,
  neighbourWith,
  hintFor,
  resolveName,
  trace,
} from '@sobrin/core/engine';
import { type Frame, type Neighbours, captureOf, framesOf, writePcap } from '@sobrin/core/frames';

/** What is sent where: from one device of the drawing, or a member of a tile, to another one. */
export interface TraceRequest {
  from: string;
  to: string;
  /** An address or a name that somebody typed instead of a device. */
  typed?: string | undefined;
  /** The address of the other one that is asked for. */
  address?: string | undefined;
  /** Without it, of these addresses of the other the first is asked for; any where nothing is said. */
  family?: Family | undefined;
  probe?: Probe | undefined;
  /** Whether neighbours are asked for first. */
  neighbours?: Neighbours | undefined;
}

/** A frame on a link, with its headers from the outermost on. */
export interface TraceFrame {
  what: string;
  link: string;
  headers: { name: string; source: string; fields: { name: string; text: string }[] }[];
}

/** One device on a packet's way, in words. */
export interface TraceStep {
  way: 'request' | 'reply';
  /** The device of the drawing, also where the packet passed a member of its tile. */
  device: string;
  name: string;
  in: string | null;
  out: string | null;
  decided: string;
  /** Links to the next device. */
  links: string[];
  frames: TraceFrame[];
}

/** A packet's way there and back, as plain data that crosses from a worker. */
export interface TraceAnswer {
  request: TraceRequest;
  from: string;
  to: string;
  source: string | null;
  target: string | null;
  answer: Answer;
  /** How an attempt to connect ends, where it was one. */
  outcome: Outcome | null;
  steps: TraceStep[];
  /** Why it did not go; null where it did. */
  reason: string | null;
  /** What would have to change. */
  remedy: string | null;
  /** How the name was found that was asked for. */
  named: string | null;
  /** All frames as a capture file. */
  capture: Uint8Array<ArrayBuffer>;
}

/** Sends one packet between two devices of the drawing: of a tile the first where no member is named, to its first address. */
export function traceAnswer(model: NetworkModel, request: TraceRequest): TraceAnswer {
  const { from, to, typed, address: wanted, family, probe = ECHO, neighbours } = request;
  const instanceOf = (id: string) =>
    model.instances.get(id) ?? [...model.instances.values()].find((instance) => instance.deviceId === id);
  const source = instanceOf(from);
  const asked = source && typed !== undefined ? typedTarget(model, source, typed) : null;
  const target = asked ? asked.target : instanceOf(to);
  const read = wanted === undefined ? null : parseAddress(wanted);
  const address = asked?.address ?? (read?.ok ? read.value : target && addressOf(model, target, family));
  if (!source || !target || !address) {
    const name = typed ?? target?.name ?? to;
    const reason =
      asked?.text ??
      `${name} has no ${family ? `IPv${family} ` : ''}address that can be read: nothing can be sent to it.`;
    const nothing = { source: null, target: null, steps: [], outcome: null, capture: writePcap([], Date.now()) };
    return {
      request,
      from: source?.name ?? from,
      to: name,
      answer: 'no',
      reason,
      remedy: null,
      named: null,
      ...nothing,
    };
  }
  const found = trace(model, source.id, target.id, address, probe, asked?.zone);
  const frames = framesOf(model, found, probe, neighbours);
  return {
    request,
    from: source.name,
    to: !asked ? target.name : asked.owner ? `${typed} (${asked.owner})` : typed!,
    source: found.source && formatAddress(found.source),
    target: formatAddress(address),
    answer: found.answer,
    outcome: probe.protocol === 'tcp' ? attemptOf(model, found, probe) : null,
    steps: stepsOf(model, found, frames),
    reason: found.reason?.text ?? null,
    remedy: found.reason && hintFor(model, found.reason),
    named: asked?.found?.text ?? null,
    capture: writePcap(
      captureOf(model, found, probe, asked?.found && { name: typed!, found: asked.found }, neighbours),
      Date.now(),
    ),
  };
}

/** Who has an address that was typed, or that a name stands for as the source is told. */
function typedTarget(
  model: NetworkModel,
  source: Instance,
  typed: string,
): {
  target?: Instance;
  owner?: string;
  address: Address | null;
  zone?: string | null;
  found?: NameAnswer;
  text: string | null;
} {
  const read = parseZonedAddress(typed);
  const found = read.ok ? undefined : resolveName(model, source.id, typed);
  const address = read.ok ? read.value.address : found!.address;
  if (!address) return { address: null, text: found!.text };
  const zone = read.ok ? read.value.zone : null;
  const owner = isLinkLocal(address)
    ? neighbourWith(model, source.id, address, zone)
    : model.reach.targets().find((known) => sameAddress(known.address, address))?.device;
  // An address that nobody has is asked for all the same: at least the way to where it should be is seen.
  const target = owner ? model.instances.get(owner) : undefined;
  return {
    target: target ?? source,
    ...(target && { owner: target.name }),
    address,
    zone,
    ...(found && { found }),
    text: null,
  };
}

const addressOf = ({ layer3 }: NetworkModel, { id }: Instance, family?: Family): Address | undefined =>
  layer3.nodes
    .get(id)
    ?.interfaceStates.flatMap((attachment) => attachment.addresses.map((on) => on.address))
    .find((address) => !family || address.family === family);

function stepsOf({ instances }: NetworkModel, { request, reply }: Trace, frames: readonly Frame[]): TraceStep[] {
  const steps = (way: Way | null, which: TraceStep['way']): TraceStep[] =>
    (way?.hops ?? []).map((hop, at) => ({
      way: which,
      device: instances.get(hop.device)!.deviceId,
      name: instances.get(hop.device)!.name,
      in: hop.in,
      out: hop.out,
      decided: hop.decided,
      links: hop.frames.flatMap((frame) => (frame.kind === 'link' ? frame.link : [])),
      // What tells the source of a failure is sent by the device where the request ended.
      frames: frames
        .filter((frame) =>
          frame.way === 'error'
            ? which === 'request' && at === way!.hops.length - 1
            : frame.way === which && frame.hop === at,
        )
        .map(toldFrame),
    }));
  return [...steps(request, 'request'), ...steps(reply, 'reply')];
}

const toldFrame = ({ what, link, headers }: Frame): TraceFrame => ({
  what,
  link,
  headers: headers.map(({ name, source, fields }) => ({
    name,
    source,
    fields: fields.map((field) => ({ name: field.name, text: field.text })),
  })),
});

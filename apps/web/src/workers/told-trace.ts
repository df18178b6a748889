import { type Answer, type NetworkModel, type Way, formatAddress, trace } from '@sobrin/core';

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
}

/** A packet's way there and back, as plain data that crosses from a worker. */
export interface ToldTrace {
  from: string;
  to: string;
  source: string | null;
  target: string | null;
  answer: Answer;
  steps: TraceStep[];
  /** Why it did not go; null where it did. */
  reason: string | null;
}

/** Sends one packet between two devices of the drawing: the first of a tile, to the first address of the other. */
export function toldTrace(model: NetworkModel, from: string, to: string): ToldTrace {
  const instanceOf = (device: string) => [...model.instances.values()].find((one) => one.deviceId === device);
  const [source, target] = [instanceOf(from), instanceOf(to)];
  const told = { from: source?.name ?? from, to: target?.name ?? to, source: null, target: null, steps: [] };
  const address = target && model.layer3.nodes.get(target.id)?.attachments.flatMap((one) => one.addresses)[0]?.address;
  if (!source || !target || !address)
    return { ...told, answer: 'no', reason: `${told.to} has no address that can be read: nothing can be sent to it.` };
  const found = trace(model, source.id, target.id, address);
  const steps = (way: Way | null, which: TraceStep['way']): TraceStep[] =>
    (way?.hops ?? []).map((hop) => ({
      way: which,
      device: model.instances.get(hop.device)!.deviceId,
      name: model.instances.get(hop.device)!.name,
      in: hop.in,
      out: hop.out,
      decided: hop.decided,
      links: hop.frames.flatMap((one) => (one.kind === 'link' ? one.link : [])),
    }));
  return {
    ...told,
    source: found.source && formatAddress(found.source),
    target: formatAddress(address),
    answer: found.answer,
    steps: [...steps(found.request, 'request'), ...steps(found.reply, 'reply')],
    reason: found.reason?.text ?? null,
  };
}

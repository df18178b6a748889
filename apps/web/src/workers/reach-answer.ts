import { type Answer, type NetworkModel } from '@sobrin/core/engine';

/** Whether each device of the drawing is reached from one of them, and why not. */
export interface ReachAnswer {
  from: string;
  devices: Record<string, { answer: Answer; reason: string | null }>;
}

/** Asks for the first address of every device; of a tile the first member that fails speaks for all. */
export function reachAnswer(model: NetworkModel, from: string): ReachAnswer {
  const source = [...model.instances.values()].find((instance) => instance.deviceId === from);
  const devices: ReachAnswer['devices'] = {};
  if (!source) return { from, devices };
  for (const { id, deviceId } of model.instances.values()) {
    if (deviceId === from) continue;
    const address = model.layer3.nodes
      .get(id)
      ?.interfaceStates.flatMap((attachment) => attachment.addresses)[0]?.address;
    if (!address) continue;
    const { answer, reason } = model.reach.ask(source.id, { device: id, address });
    if (devices[deviceId]?.answer === 'no') continue;
    devices[deviceId] = { answer, reason: reason?.text ?? null };
  }
  return { from, devices };
}

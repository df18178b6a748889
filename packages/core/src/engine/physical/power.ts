import { type LinkEnd } from '../../topology';
import { type Instance, type Reason } from '../devices';
import { type Channel } from './channels';
import { type End, type Judged } from './ends';

/** Whether a device takes its power from a cable. */
const isFed = ({ model }: Instance): boolean => {
  let found = fedModels.get(model);
  if (found === undefined) fedModels.set(model, (found = model.ports.some((port) => port.poe === 'sink')));
  return found;
};
const fedModels = new WeakMap<Instance['model'], boolean>();

/** What a port takes that does not say less: class 0 of IEEE 802.3-2018 table 33-9. */
const MOST_WATTS = 15.4;

const noFeed = ({ name }: Instance, spent: Instance | undefined): string =>
  spent
    ? `${name} gets no power: ${spent.name} feeds ${spent.model.poeWatts} W in all, and its first ports take them. Move it to another switch, or give it a supply of its own.`
    : `${name} gets no power: no port that feeds is connected to it, and it has no supply of its own.`;

/**
 * Who has no power: switched off, a device with power bays and no supply in them, or a device fed over its cable
 * (IEEE 802.3 clause 33) that no powered source feeds, or that one feeds which has nothing left after its first ports. `powered: true` stands for a supply of its own.
 */
export function unpoweredInstances(
  channels: readonly Channel[],
  instances: ReadonlyMap<string, Instance>,
  judged: ReadonlyMap<string, Judged>,
  endOf: (end: LinkEnd) => End | null,
): Map<string, Reason> {
  const dark = new Map<string, Reason>();
  const fed = new Set<string>();
  /** Who wants to be fed by whom, at which port. */
  const wishes = new Map<Instance, { sink: Instance; port: string; watts: number }[]>();
  const sinks = new Set([...instances.values()].filter(isFed));
  for (const channel of sinks.size ? channels : []) {
    const judgement = judged.get(channel.id);
    if (!judgement || 'reason' in judgement) continue;
    const [a, b] = [endOf(channel.a), endOf(channel.b)];
    if (!a || !b) continue;
    for (const [sink, source] of [
      [a, b],
      [b, a],
    ] as const)
      if (
        sink.port.facts.poe === 'sink' &&
        source.port.facts.poe === 'source' &&
        source.instance.device.powered !== false
      ) {
        const there = wishes.get(source.instance) ?? [];
        const watts = sink.instance.device.powered === undefined ? (sink.port.facts.watts ?? MOST_WATTS) : 0;
        there.push({ sink: sink.instance, port: source.port.key, watts });
        wishes.set(source.instance, there);
      }
  }
  /** Sources that had no more to give, by who wanted it. */
  const spent = new Map<string, Instance>();
  for (const [source, all] of wishes) {
    const order = [...source.ports.keys()];
    let left = source.model.poeWatts ?? Infinity;
    for (const { sink, watts } of all.sort((a, b) => order.indexOf(a.port) - order.indexOf(b.port))) {
      if (watts > left) spent.set(sink.id, source);
      else {
        left -= watts;
        fed.add(sink.id);
      }
    }
  }
  for (const instance of instances.values()) {
    if (instance.model.class === 'passive') continue;
    const at = { device: instance.id };
    const powerBays = instance.model.bays
      ? Object.entries(instance.model.bays).filter(([, bay]) => bay.accepts.includes('power'))
      : [];
    if (instance.device.powered === false)
      dark.set(instance.id, { code: 'NO_POWER', text: `${instance.name} is switched off.`, at });
    else if (powerBays.length && !powerBays.some(([bay]) => instance.device.modules?.[bay] === 'power'))
      dark.set(instance.id, { code: 'NO_POWER', text: `${instance.name} has no power supply in its bays.`, at });
    else if (instance.device.powered === undefined && sinks.has(instance) && !fed.has(instance.id))
      dark.set(instance.id, {
        code: 'NO_POWER',
        text: noFeed(instance, spent.get(instance.id)),
        at,
      });
  }
  return dark;
}

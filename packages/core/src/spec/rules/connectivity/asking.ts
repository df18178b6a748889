import { type Address, contains, formatAddress, subnetOf } from '../../../address';
import {
  ECHO,
  type Instance,
  type Probe,
  type Reason,
  type Trace,
  attemptOf,
  splitInstanceId,
  trace as follow,
} from '../../../engine';
import { Maybe, type Problem } from '../../../topology';
import { Type } from '@sinclair/typebox';
import {
  type CheckContext,
  type Item,
  type Place,
  type Slot,
  about,
  absent,
  familiesFor,
  lost,
  met,
  placeOf,
} from '../../rule';
import { leaseFault, untranslatedAt } from './fault-place';
import { faultOnTheWire } from './wire-fault';

/** What is asked by: an echo where it is absent, else a first segment to a port (RFC 6335 service names are not used). */
export const Service = Maybe(Type.String({ pattern: '^(tcp|udp) [1-9][0-9]{0,4}$' }));
const serviceTrouble = (text: string): string | null => {
  const port = /^(?:tcp|udp) ([1-9][0-9]{0,4})$/.exec(text)?.[1];
  if (port === undefined) return `"${text}" is no service: write tcp or udp, and a port, as in "tcp 443".`;
  return Number(port) > 65535 ? `There is no port ${port}: they end at 65535.` : null;
};
export const serviceSlot = {
  type: 'text',
  title: 'By which service',
  before: ' by ',
  empty: 'tcp or udp and a port, as in “tcp 443”; nothing for any packet',
  problem: serviceTrouble,
} as const satisfies Slot;
export function probeOf(service: string | undefined): Probe {
  if (service === undefined) return ECHO;
  const [protocol, port] = service.split(' ');
  return { protocol: protocol as 'tcp' | 'udp', port: Number(port) };
}
export const serviceProblem = ({ service }: { readonly service?: string }): Problem[] => {
  const text = service === undefined ? null : serviceTrouble(service);
  return text === null ? [] : [{ place: 'service', text }];
};

/** A device that asks, and one that is asked at all of its addresses of a family, the main one first. */
export interface Pair {
  readonly from: Instance;
  readonly to: Instance;
  readonly family: 4 | 6;
  readonly addresses: readonly Address[];
  /** The roles that the two play. */
  readonly roles: readonly [string, string];
}

/** More pairs than this are put together by who asks: an item then stands for as many as it does. */
const MOST_PAIRS = 400;

/**
 * Goes through all pairs of two refs, in each family that the rule judges; `judge` gets a pair whose target has an
 * address. Missing devices and addresses are lost items, one for each, so that nothing is won by leaving them out.
 */
export function eachPair(
  context: CheckContext,
  rule: { readonly from: string; readonly to: string; readonly family?: '4' | '6' },
  judge: (pair: Pair) => Item,
  isMeant: (from: string, to: string) => boolean = () => true,
): Item[] {
  const pairs = context
    .roles(rule.from)
    .flatMap((source) =>
      context
        .roles(rule.to)
        .flatMap((target) => (source === target || !isMeant(source, target) ? [] : [[source, target] as const])),
    );
  if (!pairs.length) return [absent(`There is no pair of ${context.ref(rule.from)} and ${context.ref(rule.to)}.`)];
  const items = pairs.flatMap(([source, target]) => {
    const [from, to] = [context.device(source), context.device(target)];
    if (!from || !to)
      return about(absent(`Nothing in the drawing plays the part of ${context.roleName(from ? target : source)}.`), [
        source,
        target,
      ]);
    return familiesFor(context, rule, [source, target]).flatMap((family) => {
      const addresses = context.addresses(to, family).map((on) => on.address);
      return about(
        addresses.length
          ? judge({ from, to, family, addresses, roles: [source, target] })
          : absent(`${to.name} has no readable IPv${family} address.`, ...placesWithout(context, to, family)),
        [source, target],
        family,
      );
    });
  });
  return items.length > MOST_PAIRS ? putTogether(items) : items;
}

/** A device without an address, after whoever gives it none. */
const placesWithout = (context: CheckContext, device: Instance, family: 4 | 6): Place[] => {
  const fault = leaseFault(context, device, family);
  return [...(fault ? [fault] : []), placeOf(device)];
};

/** Items of who asks that are judged alike, as one that weighs as many. */
function putTogether(items: readonly Item[]): Item[] {
  const alike = new Map<string, Item[]>();
  for (const item of items) {
    const key = JSON.stringify([item.about?.roles[0], item.about?.family, item.met, item.code]);
    const known = alike.get(key);
    if (known) known.push(item);
    else alike.set(key, [item]);
  }
  return [...alike.values()].map((list) => {
    const [first] = list as [Item, ...Item[]];
    if (list.length === 1) return first;
    return {
      ...first,
      text: `${first.text.replace(/\.$/, '')}, and so for ${list.length - 1} more.`,
      about: { ...first.about, roles: first.about!.roles.slice(0, 1) },
      weight: list.length,
    };
  });
}

/** Whether something asked for is answered there, as a service or at all; null where that is not certain. */
export function answers(
  context: CheckContext,
  from: string,
  to: string,
  address: Address,
  probe: Probe,
): boolean | null {
  const { reach } = context.student;
  if (probe.protocol === 'icmp') {
    const { answer } = reach.answer(from, { device: to, address });
    return answer === 'uncertain' ? null : answer === 'yes';
  }
  const outcome = attemptOf(context.student, reach.ask(from, { device: to, address }, probe), probe);
  return outcome === null ? null : outcome === 'open';
}

/** The trace of just this pair: one of others that are alike has their names. */
export const traced = (
  { student }: CheckContext,
  from: Instance,
  to: Instance,
  address: Address,
  probe: Probe,
): Trace => follow(student, from.id, to.id, address, probe);

export const arrowOf = (pair: Pair, address: Address): string =>
  `${pair.from.name} → ${pair.to.name} (${formatAddress(address)})`;

/** Where a packet ended and why, as words and places: the place of the fault first. */
export function whyNot(
  context: CheckContext,
  { from }: Pick<Pair, 'from'>,
  trace: Trace,
): { why: string; at: Place[] } {
  const { reason } = trace;
  if (!reason) return { why: '', at: [] };
  const why = ` ${trace.direction === 'reply' ? 'The request arrives; the reply fails: ' : ''}${reason.text}`;
  const border = untranslatedAt(context, trace);
  if (border) {
    const name = context.student.instances.get(border.device ?? '')?.name ?? '';
    return { why: `${why} ${name} sends it out under its private address.`, at: [border] };
  }
  const wire = faultOnTheWire(context, trace);
  return { why, at: wire ? [wire] : placesOf(reason, from.id) };
}
const placesOf = ({ at }: Reason, asking: string): Place[] => {
  const place: Place = {
    ...(at.device !== undefined && splitInstanceId(at.device)),
    ...(at.device !== undefined && at.port !== undefined && { port: at.port }),
    ...(at.link !== undefined && { link: at.link }),
  };
  return at.link === undefined && (at.device === undefined || (at.device === asking && at.port === undefined))
    ? []
    : [place];
};

/** That a pair works: at whichever address of the one that is asked. */
export function works(context: CheckContext, pair: Pair, service?: string): Item {
  const { from, to, addresses } = pair;
  const probe = probeOf(service);
  const by = service === undefined ? '' : ` by ${service}`;
  const ends = [placeOf(from), placeOf(to)];
  const told = addresses.map((address) => answers(context, from.id, to.id, address, probe));
  const at = told.indexOf(true);
  if (at >= 0) return met(`${arrowOf(pair, addresses[at]!)} works${by}.`, ...ends);
  const address = addresses[Math.max(0, told.indexOf(null))]!;
  const trace = traced(context, from, to, address, probe);
  const { why, at: places } = whyNot(context, pair, trace);
  const text = arrowOf(pair, address);
  const code = trace.reason?.code ?? 'LOST';
  if (told.includes(null)) return { ...lost(`${text} is uncertain${by}.${why}`, ...places, ...ends), met: null, code };
  if (service !== undefined && trace.answer === 'yes')
    return lost(`${text} refuses ${service}: no such service runs there.`, placeOf(to), placeOf(from));
  return { ...lost(`${text} fails${by}.${why}`, ...places, ...ends), code };
}

/** Whether a device reaches anything beyond its own subnets; `false` where it tried. */
export function reachesBeyond(context: CheckContext, instance: Instance, family: 4 | 6): boolean {
  const own = context.addresses(instance, family).map(subnetOf);
  return context.student.reach
    .targets()
    .filter(
      ({ device, address }) =>
        device !== instance.id && address.family === family && !own.some((subnet) => contains(subnet, address)),
    )
    .some(({ device, address }) => answers(context, instance.id, device, address, ECHO) === true);
}

/** Whether any other device of the own subnets answers. */
export function reachesNeighbour(context: CheckContext, instance: Instance, family: 4 | 6): boolean {
  const own = context.addresses(instance, family).map(subnetOf);
  return context.student.reach
    .targets()
    .filter(({ device, address }) => device !== instance.id && own.some((subnet) => contains(subnet, address)))
    .some(({ device, address }) => answers(context, instance.id, device, address, ECHO) === true);
}

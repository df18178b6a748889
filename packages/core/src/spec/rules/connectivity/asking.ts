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
  type Packet,
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
/** More pairs are not judged: the requirement waits for a person. Where a packet of each is followed, and where not. */
const MOST_ASKED = 250_000;
/** Where devices are alike for few others, so that the packets of their pairs are followed one by one. */
const MOST_UNALIKE = 100_000;
export const MOST_FOLLOWED = 40_000;

/** What was told of pairs of who asks that are judged alike; null where each is told by itself. */
export type ToldAlike = Map<string, Item> | null;
type Judge = (pair: Pair, told: ToldAlike) => Item;
interface Asked {
  readonly from: string;
  readonly to: string;
  readonly family?: '4' | '6';
}

/**
 * Goes through all pairs of two refs, in each family that the rule judges; `judge` gets a pair whose target has an
 * address. Missing devices and addresses are lost items, one for each, so that nothing is won by leaving them out.
 */
export function forEachPair(
  context: CheckContext,
  rule: Asked,
  judge: Judge,
  take: (item: Item, isMany: boolean) => void,
  { isMeant = () => true, most = MOST_ASKED }: { isMeant?: (from: string, to: string) => boolean; most?: number } = {},
): void {
  const [sources, targets] = [context.roles(rule.from), context.roles(rule.to)];
  const isAsked = (source: string, target: string): boolean => source !== target && isMeant(source, target);
  const bound = classesOf(context) ** 2 > MOST_UNALIKE ? Math.min(most, MOST_UNALIKE) : most;
  let n = 0;
  if (sources.length * targets.length <= bound)
    for (const source of sources) for (const target of targets) if (isAsked(source, target)) n++;
  if (sources.length * targets.length > bound)
    return take(
      {
        ...lost(`${sources.length} × ${targets.length} pairs are asked: at most ${bound} are judged.`),
        met: null,
        code: 'UNCERTAIN',
      },
      false,
    );
  if (!n) return take(absent(`There is no pair of ${context.ref(rule.from)} and ${context.ref(rule.to)}.`), false);
  const told: ToldAlike = n > MOST_PAIRS ? new Map<string, Item>() : null;
  const tell = (items: Item[]): void => {
    for (const item of items) take(item, told !== null);
  };
  for (const source of sources)
    for (const target of targets) {
      if (!isAsked(source, target)) continue;
      const [from, to] = [context.device(source), context.device(target)];
      const roles = [source, target] as const;
      if (!from || !to) {
        const missing = context.roleName(from ? target : source);
        tell(about(absent(`Nothing in the drawing plays the part of ${missing}.`), roles));
        continue;
      }
      for (const family of familiesFor(context, rule, roles)) {
        const addresses = context.addresses(to, family).map((on) => on.address);
        const item = addresses.length
          ? judge({ from, to, family, addresses, roles }, told)
          : absent(`${to.name} has no readable IPv${family} address.`, ...placesWithout(context, to, family));
        tell(about(item, roles, family));
      }
    }
}

/** Whether a device sends nothing in a family: whoever it asks, nobody answers, for the one reason. */
const isSilent = ({ layer3 }: CheckContext['student'], { id }: Instance, family: 4 | 6): boolean =>
  !(layer3.nodes.get(id)?.interfaceStates ?? []).some(
    ({ up, addresses }) => up && addresses.some(({ address }) => address.family === family),
  );

/** How many sorts of devices there are that send something. */
function classesOf({ student }: CheckContext): number {
  const silent = [...student.instances.values()].filter(
    (instance) => isSilent(student, instance, 4) && isSilent(student, instance, 6),
  ).length;
  return Math.max(0, student.reach.classCount - silent);
}

/** The items of all pairs; very many are put together by who asks, each then weighs as many as it stands for. */
export function eachPair(
  context: CheckContext,
  rule: Asked,
  judge: Judge,
  options?: Parameters<typeof forEachPair>[4],
): Item[] {
  const items: Item[] = [];
  const alike = new Map<string, { first: Item; n: number }>();
  forEachPair(
    context,
    rule,
    judge,
    (item, isMany) => {
      if (!isMany) return void items.push(item);
      const key = `${item.about?.roles[0]} ${item.about?.family} ${item.met} ${item.code}`;
      const known = alike.get(key);
      if (known) known.n++;
      else alike.set(key, { first: item, n: 1 });
    },
    options,
  );
  for (const { first, n } of alike.values())
    items.push(
      n === 1
        ? first
        : {
            ...first,
            text: `${first.text.replace(/\.$/, '')}, and so for ${n - 1} more.`,
            about: { ...first.about, roles: first.about!.roles.slice(0, 1) },
            weight: n,
          },
    );
  return items;
}

/** A device without an address, after whoever gives it none. */
const placesWithout = (context: CheckContext, device: Instance, family: 4 | 6): Place[] => {
  const fault = leaseFault(context, device, family);
  return [...(fault ? [fault] : []), placeOf(device)];
};

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

export const packetOf = (from: Instance, to: Instance, address: Address, service?: string): Packet => ({
  from: from.id,
  to: to.id,
  address: formatAddress(address),
  ...(service !== undefined && { probe: probeOf(service) }),
});

/** The devices and links that a packet, and its answer, came by. */
export function readBy({ request, reply }: Trace): Place[] {
  const hops = [...request.hops, ...(reply?.hops ?? [])];
  const devices = new Set(
    hops.flatMap(({ device, frames }) => [
      device,
      ...frames.flatMap((step) => (step.kind === 'bridge' ? step.device : [])),
    ]),
  );
  const links = new Set(
    hops.flatMap(({ frames }) => frames.flatMap((step) => (step.kind === 'link' ? step.link : []))),
  );
  return [...[...devices].map((id) => splitInstanceId(id)), ...[...links].map((link) => ({ link }))];
}

/** Where a packet ended and why, as words and places: the place of the fault first; and all that it came by. */
export function whyNot(
  context: CheckContext,
  { from }: Pick<Pair, 'from'>,
  trace: Trace,
): { why: string; at: Place[]; reads: Place[] } {
  const { reason } = trace;
  const reads = readBy(trace);
  if (!reason) return { why: '', at: [], reads };
  const why = ` ${trace.direction === 'reply' ? 'The request arrives; the reply fails: ' : ''}${reason.text}`;
  const border = untranslatedAt(context, trace);
  if (border) {
    const name = context.student.instances.get(border.device ?? '')?.name ?? '';
    return { why: `${why} ${name} sends it out under its private address.`, at: [border], reads };
  }
  const wire = faultOnTheWire(context, trace);
  return { why, at: wire ? [wire] : placesOf(reason, from.id), reads };
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
export function works(context: CheckContext, pair: Pair, service?: string, alike: ToldAlike = null): Item {
  const { from, to, addresses } = pair;
  if (alike && isSilent(context.student, from, pair.family))
    return tellOnce(alike, `${from.id} ${pair.family} silent`, () =>
      failing(context, pair, addresses[0]!, false, service),
    );
  const probe = probeOf(service);
  const told = addresses.map((address) => answers(context, from.id, to.id, address, probe));
  const at = told.indexOf(true);
  const address = addresses[at >= 0 ? at : Math.max(0, told.indexOf(null))]!;
  const code = at >= 0 ? 'MET' : context.student.reach.ask(from.id, { device: to.id, address }, probe).reason?.code;
  return tellOnce(alike, `${from.id} ${pair.family} ${told.includes(null)} ${code}`, () =>
    at >= 0
      ? met(
          `${arrowOf(pair, address)} works${service === undefined ? '' : ` by ${service}`}.`,
          placeOf(from),
          placeOf(to),
        )
      : failing(context, pair, address, told.includes(null), service),
  );
}

/** Of pairs that are put together one is told for all of them. */
export function tellOnce(alike: ToldAlike, key: string, tell: () => Item): Item {
  if (!alike) return tell();
  let item = alike.get(key);
  if (!item) alike.set(key, (item = tell()));
  return item;
}

function failing(context: CheckContext, pair: Pair, address: Address, isOpen: boolean, service?: string): Item {
  const { from, to } = pair;
  const by = service === undefined ? '' : ` by ${service}`;
  const ends = [placeOf(from), placeOf(to)];
  const trace = traced(context, from, to, address, probeOf(service));
  const { why, at: places, reads } = whyNot(context, pair, trace);
  const text = arrowOf(pair, address);
  const code = trace.reason?.code ?? 'LOST';
  const packet = packetOf(from, to, address, service);
  if (isOpen)
    return { ...lost(`${text} is uncertain${by}.${why}`, ...places, ...ends), met: null, code, reads, packet };
  if (service !== undefined && trace.answer === 'yes')
    return {
      ...lost(`${text} refuses ${service}: no such service runs there.`, placeOf(to), placeOf(from)),
      reads,
      packet,
    };
  return { ...lost(`${text} fails${by}.${why}`, ...places, ...ends), code, reads, packet };
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

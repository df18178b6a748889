import { Type } from '@sinclair/typebox';
import { contains, subnetOf } from '../../../address';
import { type Instance, type NetworkModel, type ReasonCode } from '../../../engine';
import { Closed, Maybe, OneOf } from '../../../topology';
import { type CheckContext, type Item, Ref, absent, defineRule, lost, met, placeOf } from '../../rule';
import { Family, familySlot } from '../family';
import { Whose, strangersIn, whoseSlot } from '../whose';
import {
  type Pair,
  Service,
  type ToldAlike,
  answers,
  arrowOf,
  eachPair,
  packetOf,
  probeOf,
  reachesBeyond,
  reachesNeighbour,
  serviceProblem,
  serviceSlot,
  tellOnce,
  traced,
  whyNot,
} from './asking';

/** Nothing is kept apart by these on purpose: something is missing. */
const MISSING: ReadonlySet<ReasonCode> = new Set<ReasonCode>([
  'NO_ROUTE',
  'NO_GATEWAY',
  'GATEWAY_OUTSIDE',
  'NEXT_HOP_UNREACHABLE',
  'NO_ANSWER',
  'NOT_FORWARDING',
  'NOT_CONNECTED',
  'INTERFACE_DOWN',
  'NO_ADDRESS',
  'ADDRESS_UNREADABLE',
  'ROUTE_LOOP',
  'ROUTE_UNSTABLE',
]);

export const apartRule = defineRule({
  kind: 'apart',
  family: 'connectivity',
  title: 'Kept apart',
  schema: Closed({
    kind: Type.Literal('apart'),
    from: Ref,
    to: Ref,
    family: Family,
    service: Service,
    /** Whether no packet may arrive, or no answer may come back. */
    what: Maybe(OneOf('answer')),
    /** Whether a missing route keeps apart as well. */
    unrouted: Maybe(OneOf('counts')),
    whose: Whose,
  }),
  slots: {
    from: { type: 'ref' },
    what: {
      type: 'choice',
      options: [
        { value: '', text: 'must not reach', choice: 'must not reach: no packet arrives' },
        { value: 'answer', text: 'must get no answer from' },
      ],
    },
    to: { type: 'ref' },
    family: familySlot,
    service: serviceSlot,
    unrouted: {
      type: 'choice',
      title: 'What counts',
      quiet: ', ',
      options: [
        { value: '', text: 'both must be seen working' },
        { value: 'counts', text: 'be it for want of a route', choice: 'a missing route counts as well' },
      ],
    },
    whose: whoseSlot,
  },
  fresh: { kind: 'apart', from: '@hosts', to: '@hosts' },
  sentence: '{from} {what} {to} over {family}{service}{unrouted}{whose}.',
  problems: serviceProblem,
  // A dead wire keeps everything apart: both sides must be seen working before their separation counts.
  evaluate: (rule, context) => {
    const seen = new Map<string, string | null>();
    const dead = (instance: Instance, role: string, family: 4 | 6): string | null => {
      const key = `${role} ${family}`;
      let known = seen.get(key);
      if (known === undefined) seen.set(key, (known = showsNothing(context, instance, role, family)));
      return known;
    };
    const items = eachPair(context, rule, (pair, told) => {
      const ends = [pair.from, pair.to] as const;
      for (const [at, instance] of ends.entries()) {
        const why = dead(instance, pair.roles[at]!, pair.family);
        if (why !== null)
          return absent(
            `${pair.from.name} – ${pair.to.name} earns nothing yet: ${why}, so its being apart shows nothing.`,
            placeOf(instance),
          );
      }
      return separation(context, pair, rule, told);
    });
    return rule.whose === 'asked' ? items : [...items, ...strangers(context, rule)];
  },
});

type Apart = Readonly<{ service?: string; what?: 'answer'; unrouted?: 'counts' }>;

/** One pair of which both are seen working. */
function separation(context: CheckContext, pair: Pair, rule: Apart, told: ToldAlike): Item {
  if (!told) return separated(context, pair, rule);
  // By the class of packet that each of its addresses is asked by.
  const probe = probeOf(rule.service);
  const classes = pair.addresses.map((address) => {
    const { answer, reached, reason } = context.student.reach.ask(pair.from.id, { device: pair.to.id, address }, probe);
    return `${answer} ${reached} ${reason?.code}`;
  });
  return tellOnce(told, `${pair.from.id} ${pair.family} ${classes.join()}`, () => separated(context, pair, rule));
}

function separated(context: CheckContext, pair: Pair, { service, what, unrouted }: Apart): Item {
  const probe = probeOf(service);
  const ends = [placeOf(pair.from), placeOf(pair.to)];
  let kept: Item | null = null;
  for (const address of pair.addresses) {
    const text = arrowOf(pair, address);
    const trace = traced(context, pair.from, pair.to, address, probe);
    const { why, at, reads } = whyNot(context, pair, trace);
    const code = trace.reason?.code ?? 'LOST';
    const packet = packetOf(pair.from, pair.to, address, service);
    if (trace.answer === 'yes') return { ...lost(`${text} works, but should not.`, ...ends), reads, packet };
    if (trace.answer === 'uncertain')
      return { ...lost(`${text} is uncertain.${why}`, ...at, ...ends), met: null, code, reads, packet };
    if (trace.reached && what !== 'answer')
      return {
        ...lost(`${text}: the packet arrives, and only its answer is dropped.${why}`, ...at, ...ends),
        code: 'REQUEST_ARRIVES',
        reads,
        packet,
      };
    if (unrouted !== 'counts' && trace.reason && MISSING.has(code as ReasonCode) && !isSoByDesign(context, pair, code))
      return {
        ...absent(`${text} earns nothing: nothing keeps them apart but what is missing.${why}`, ...at, ...ends),
        code,
        packet,
      };
    kept ??= { ...met(`${text} is kept apart.${why}`, ...at, ...ends), code };
  }
  return kept!;
}

/** Whether the reference keeps two roles apart in the same way. */
function isSoByDesign({ reference }: CheckContext, { roles: [from, to], family }: Pair, code: string): boolean {
  return addressesOf(reference, to, family).some(
    (address) => reference.reach.ask(from, { device: to, address }).reason?.code === code,
  );
}
const addressesOf = ({ layer3 }: NetworkModel, id: string, family: 4 | 6) =>
  (layer3.nodes.get(id)?.interfaceStates ?? []).flatMap(({ addresses }) =>
    addresses.flatMap((on) => (on.address.family === family ? [on.address] : [])),
  );

/**
 * Why the separation of a device shows nothing: it does not work. That it works is seen by a reach beyond its own subnet
 * that the spec asks of it; where it asks none, by any; and by a neighbour only where the design gives it no way out.
 */
function showsNothing(context: CheckContext, instance: Instance, role: string, family: 4 | 6): string | null {
  const asked = context.askedBeyond(role, family);
  if (asked.length)
    return asked.some(([from, to]) => pairWorks(context, from, to, family))
      ? null
      : `${instance.name} reaches nothing that it should`;
  if (context.isOwn(role) || context.reference.layer3.nodes.get(role)?.table.lookup({ family, value: 0n }).length)
    return reachesBeyond(context, instance, family) ? null : `${instance.name} reaches nothing beyond its own subnet`;
  return reachesNeighbour(context, instance, family) ? null : `${instance.name} reaches none of its neighbours`;
}

function pairWorks(context: CheckContext, from: string, to: string, family: 4 | 6): boolean {
  const [asking, asked] = [context.device(from), context.device(to)];
  return (
    asking !== null &&
    asked !== null &&
    context
      .addresses(asked, family)
      .some((on) => answers(context, asking.id, asked.id, on.address, probeOf(undefined)) === true)
  );
}

/** Hosts nobody asked for that stand where something is kept apart, or reach it. */
function strangers(context: CheckContext, rule: Apart & Readonly<{ to: string; family?: '4' | '6' }>): Item[] {
  const kept = context.roles(rule.to).flatMap((role) => context.device(role) ?? []);
  const others = strangersIn(context).filter(({ model }) => model.class === 'end');
  const families = rule.family === undefined ? ([4, 6] as const) : [rule.family === '4' ? (4 as const) : (6 as const)];
  return others.flatMap((other): Item[] => {
    for (const family of families) {
      const own = context.addresses(other, family);
      for (const device of kept)
        for (const { address, length } of context.addresses(device, family)) {
          const among = own.some((on) => contains(subnetOf({ address, length }), on.address));
          if (among)
            return [
              lost(
                `${other.name}, which nobody asked for, stands in the subnet of ${device.name}.`,
                placeOf(other),
                placeOf(device),
              ),
            ];
          if (
            own.length &&
            context.student.reach.answer(other.id, { device: device.id, address }, probeOf(rule.service)).reached
          )
            return [
              lost(`${other.name}, which nobody asked for, reaches ${device.name}.`, placeOf(other), placeOf(device)),
            ];
        }
    }
    return [];
  });
}

import { Type } from '@sinclair/typebox';
import { type Address, contains, formatAddress, subnetOf } from '../../address';
import { type Instance, type Trace, numberOf, splitInstanceId } from '../../engine';
import { Closed } from '../../topology';
import {
  type CheckContext,
  type Item,
  Ref,
  absent,
  defineRule,
  eachRole,
  lost,
  mainAddress,
  met,
  placeOf,
} from '../rule';
import { Family, familyOf, familySlot } from './family';

interface Pair {
  from: Instance;
  to: Instance;
  address: Address;
}

/**
 * Goes through all pairs of two refs; `judge` gets a pair whose target has an address. Missing devices and addresses are
 * lost items, one for each, so that nothing is won by leaving them out.
 */
function eachPair(context: CheckContext, from: string, to: string, family: 4 | 6, judge: (pair: Pair) => Item): Item[] {
  const [sources, targets] = [context.roles(from), context.roles(to)];
  const items: Item[] = [];
  for (const source of sources)
    for (const target of targets) {
      if (source === target) continue;
      const [first, second] = [context.device(source), context.device(target)];
      if (!first || !second)
        items.push(absent(`Nothing in the drawing plays the part of ${context.roleName(first ? target : source)}.`));
      else {
        const address = mainAddress(context, second, family);
        items.push(
          address
            ? judge({ from: first, to: second, address })
            : { ...lost(`${second.name} has no readable IPv${family} address.`, placeOf(second)), grounded: false },
        );
      }
    }
  return items.length ? items : [absent(`There is no pair of ${context.ref(from)} and ${context.ref(to)}.`)];
}

const ask = (context: CheckContext, { from, to, address }: Pair): Trace =>
  context.student.reach.ask(from.id, { device: to.id, address });

/** Where a trace ended, as places to look at. */
function traceItem(pair: Pair, trace: Trace, wanted: 'yes' | 'no'): Item {
  const arrow = `${pair.from.name} → ${pair.to.name} (${formatAddress(pair.address)})`;
  const places = [placeOf(pair.from), placeOf(pair.to)];
  const { reason } = trace;
  const why = reason
    ? ` ${trace.direction === 'reply' ? 'The request arrives; the reply fails: ' : ''}${reason.text}`
    : '';
  const at =
    reason?.at.device && reason.at.device !== pair.from.id
      ? [{ ...splitInstanceId(reason.at.device), ...(reason.at.port && { port: reason.at.port }) }]
      : [];
  if (trace.answer === 'uncertain')
    return { text: `${arrow} is uncertain.${why}`, met: null, places: [...places, ...at], grounded: true };
  if (trace.answer === wanted)
    return met(wanted === 'yes' ? `${arrow} works.` : `${arrow} is kept apart.${why}`, ...places);
  return lost(wanted === 'yes' ? `${arrow} fails.${why}` : `${arrow} works, but should not.`, ...places, ...at);
}

export const reachRule = defineRule({
  kind: 'reach',
  family: 'connectivity',
  title: 'Reaches',
  schema: Closed({ kind: Type.Literal('reach'), from: Ref, to: Ref, family: Family }),
  slots: { from: { type: 'ref' }, to: { type: 'ref' }, family: familySlot },
  fresh: { kind: 'reach', from: '@hosts', to: '@hosts', family: '4' },
  sentence: '{from} can reach {to} over {family}.',
  evaluate: (rule, context) =>
    eachPair(context, rule.from, rule.to, familyOf(rule), (pair) => traceItem(pair, ask(context, pair), 'yes')),
});

export const withinRule = defineRule({
  kind: 'within',
  family: 'connectivity',
  title: 'All of a group reach one another',
  schema: Closed({ kind: Type.Literal('within'), who: Ref, family: Family }),
  slots: { who: { type: 'ref' }, family: familySlot },
  fresh: { kind: 'within', who: '@hosts', family: '4' },
  sentence: '{who} can all reach one another over {family}.',
  evaluate: (rule, context) =>
    eachPair(context, rule.who, rule.who, familyOf(rule), (pair) => traceItem(pair, ask(context, pair), 'yes')),
});

/** The answer of a host's gateway; a host without one has none. */
function gatewayTrace(context: CheckContext, instance: Instance): Item {
  const node = context.student.layer3.nodes.get(instance.id);
  const via = node?.table.lookup({ family: 4, value: 0n })[0]?.via;
  if (!via) {
    const refused = node?.refused[0];
    return { ...lost(refused?.text ?? `${instance.name} has no gateway in use.`, placeOf(instance)), grounded: false };
  }
  const holder = context.student.layer3.owners.get(numberOf(via))?.[0]?.instance;
  if (!holder)
    return lost(`Nobody has the address ${formatAddress(via)}, the gateway of ${instance.name}.`, placeOf(instance));
  const pair = { from: instance, to: context.student.instances.get(holder)!, address: via };
  return traceItem(pair, ask(context, pair), 'yes');
}

export const reachesGatewayRule = defineRule({
  kind: 'reachesGateway',
  family: 'connectivity',
  title: 'Hosts reach their gateway',
  schema: Closed({ kind: Type.Literal('reachesGateway'), who: Ref }),
  slots: { who: { type: 'ref' } },
  fresh: { kind: 'reachesGateway', who: '@hosts' },
  sentence: '{who} can reach the gateway.',
  evaluate: (rule, context) => eachRole(context, rule.who, (instance) => gatewayTrace(context, instance)),
});

export const apartRule = defineRule({
  kind: 'apart',
  family: 'connectivity',
  title: 'Kept apart',
  schema: Closed({ kind: Type.Literal('apart'), from: Ref, to: Ref, family: Family }),
  slots: { from: { type: 'ref' }, to: { type: 'ref' }, family: familySlot },
  fresh: { kind: 'apart', from: '@hosts', to: '@hosts', family: '4' },
  sentence: '{from} must not reach {to} over {family}.',
  // A dead wire keeps everything apart: both sides must be seen working before their separation counts.
  evaluate: (rule, context) => {
    const witness = new Map<string, boolean>();
    const works = (instance: Instance): boolean => {
      let known = witness.get(instance.id);
      if (known === undefined)
        witness.set(
          instance.id,
          (known = gatewayTrace(context, instance).met === true || reachesNeighbour(context, instance)),
        );
      return known;
    };
    return eachPair(context, rule.from, rule.to, familyOf(rule), (pair) => {
      const dead = [pair.from, pair.to].find((instance) => !works(instance));
      return dead
        ? {
            ...lost(
              `${pair.from.name} – ${pair.to.name} earns nothing yet: ${dead.name} reaches nobody, so its being apart shows nothing.`,
              placeOf(dead),
            ),
            grounded: false,
          }
        : traceItem(pair, ask(context, pair), 'no');
    });
  },
});

/** Where there is no gateway: whether any other device of the own subnet answers. */
function reachesNeighbour(context: CheckContext, instance: Instance): boolean {
  const subnets = context.addresses(instance, 4).map(subnetOf);
  return [...context.student.instances.values()].some(
    (other) =>
      other.id !== instance.id &&
      context
        .addresses(other, 4)
        .some(
          (on) =>
            subnets.some((subnet) => contains(subnet, on.address)) &&
            ask(context, { from: instance, to: other, address: on.address }).answer === 'yes',
        ),
  );
}

export const pathThroughRule = defineRule({
  kind: 'pathThrough',
  family: 'connectivity',
  title: 'The path leads through a device',
  schema: Closed({ kind: Type.Literal('pathThrough'), from: Ref, to: Ref, via: Ref }),
  slots: { from: { type: 'ref' }, to: { type: 'ref' }, via: { type: 'ref' } },
  fresh: { kind: 'pathThrough', from: '@hosts', to: '@hosts', via: '@network' },
  sentence: 'Packets from {from} to {to} pass {via}.',
  evaluate: (rule, context) => {
    const via = new Set(context.roles(rule.via).flatMap((role) => context.device(role)?.id ?? []));
    return eachPair(context, rule.from, rule.to, 4, (pair) => {
      const trace = ask(context, pair);
      if (trace.answer !== 'yes') return traceItem(pair, trace, 'yes');
      const passed = trace.request.hops.find(
        (hop) => via.has(hop.device) || hop.frames.some((step) => step.kind === 'bridge' && via.has(step.device)),
      );
      const arrow = `${pair.from.name} → ${pair.to.name}`;
      return passed
        ? met(`${arrow} passes ${context.ref(rule.via)}.`, placeOf(pair.from))
        : lost(`${arrow} works, but not through ${context.ref(rule.via)}.`, placeOf(pair.from), placeOf(pair.to));
    });
  },
});

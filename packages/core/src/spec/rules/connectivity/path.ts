import { Type } from '@sinclair/typebox';
import { ECHO, type Trace } from '../../../engine';
import { Closed, Maybe, OneOf } from '../../../topology';
import { type CheckContext, type Item, Ref, defineRule, lost, met, placeOf } from '../../rule';
import { Family, familySlot } from '../family';
import { type Pair, eachPair, traced, works } from './asking';

/** Whether a packet on its way there goes through one of some devices: as a router, or as a switch that passes it on. */
const passes = (trace: Trace, through: ReadonlySet<string>): boolean =>
  trace.request.hops.some(
    (hop) => through.has(hop.device) || hop.frames.some((step) => step.kind === 'bridge' && through.has(step.device)),
  );

export const pathThroughRule = defineRule({
  kind: 'pathThrough',
  family: 'connectivity',
  title: 'The path leads through a device, or avoids it',
  schema: Closed({
    kind: Type.Literal('pathThrough'),
    from: Ref,
    to: Ref,
    via: Ref,
    family: Family,
    way: Maybe(OneOf('avoid')),
  }),
  slots: {
    from: { type: 'ref' },
    to: { type: 'ref' },
    way: {
      type: 'choice',
      options: [
        { value: '', text: 'pass' },
        { value: 'avoid', text: 'avoid' },
      ],
    },
    via: { type: 'ref' },
    family: { ...familySlot, quiet: ' over ', title: 'Which addresses' },
  },
  fresh: { kind: 'pathThrough', from: '@hosts', to: '@hosts', via: '@network' },
  sentence: 'Packets from {from} to {to} {way} {via}{family}.',
  evaluate: (rule, context) => {
    const via = new Set(context.roles(rule.via).flatMap((role) => context.device(role)?.id ?? []));
    return eachPair(context, rule, (pair) => judged(context, pair, via, rule));
  },
});

function judged(
  context: CheckContext,
  pair: Pair,
  via: ReadonlySet<string>,
  { via: ref, way }: { readonly via: string; readonly way?: 'avoid' },
): Item {
  const item = works(context, pair);
  if (item.met !== true) return item;
  const arrow = `${pair.from.name} → ${pair.to.name}`;
  const ends = [placeOf(pair.from), placeOf(pair.to)];
  const ways = pair.addresses
    .map((address) => traced(context, pair.from, pair.to, address, ECHO))
    .filter(({ answer }) => answer === 'yes');
  const through = ways.filter((trace) => passes(trace, via)).length;
  if (way === 'avoid')
    return through
      ? lost(`${arrow} works, but through ${context.ref(ref)}.`, ...ends)
      : met(`${arrow} works without ${context.ref(ref)}.`, ...ends);
  return through
    ? met(`${arrow} passes ${context.ref(ref)}.`, ...ends)
    : lost(`${arrow} works, but not through ${context.ref(ref)}.`, ...ends);
}

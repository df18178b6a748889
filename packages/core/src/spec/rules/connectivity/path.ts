import { Type } from '@sinclair/typebox';
import { type Address } from '../../../address';
import { plural } from '../../../plural';
import {
  ECHO,
  type Instance,
  type NetworkModel,
  type Switchable,
  type Trace,
  analyse,
  instanceId,
  partName,
  splitInstanceId,
  switchOff,
} from '../../../engine';
import {
  type Command,
  type Topology,
  Closed,
  Count,
  Maybe,
  OneOf,
  applyCommand,
  canonicalJson,
} from '../../../topology';
import {
  type CheckContext,
  type Item,
  type Place,
  Ref,
  absent,
  compared,
  defineRule,
  lost,
  met,
  placeOf,
} from '../../rule';
import { instanceLinks } from '../links';
import { Family, familySlot } from '../family';
import { type Pair, MOST_FOLLOWED, eachPair, forEachPair, packetOf, readBy, traced, works } from './asking';

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
    return eachPair(context, rule, (pair) => judged(context, pair, via, rule), { most: MOST_FOLLOWED });
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
  const ways = waysOf(context, pair);
  const through = ways.filter(({ trace }) => passes(trace, via));
  const otherwise = (text: string, shown: Way | undefined): Item => ({
    ...lost(text, ...ends),
    reads: ways.flatMap(({ trace }) => readBy(trace)),
    ...(shown && { packet: packetOf(pair.from, pair.to, shown.address) }),
  });
  if (way === 'avoid')
    return through.length
      ? otherwise(`${arrow} works, but through ${context.ref(ref)}.`, through[0])
      : met(`${arrow} works without ${context.ref(ref)}.`, ...ends);
  return through.length
    ? met(`${arrow} passes ${context.ref(ref)}.`, ...ends)
    : otherwise(`${arrow} works, but not through ${context.ref(ref)}.`, ways[0]);
}

interface Way {
  readonly address: Address;
  readonly trace: Trace;
}
/** How packets of a pair go, by each address that answers. */
const waysOf = (context: CheckContext, { from, to, addresses }: Pair): Way[] =>
  addresses
    .map((address) => ({ address, trace: traced(context, from, to, address, ECHO) }))
    .filter(({ trace }) => trace.answer === 'yes');

export const hopsRule = defineRule({
  kind: 'hops',
  family: 'connectivity',
  title: 'The path is short',
  schema: Closed({ kind: Type.Literal('hops'), from: Ref, to: Ref, n: Count, family: Family }),
  slots: {
    from: { type: 'ref' },
    to: { type: 'ref' },
    n: { type: 'number', min: 0, max: 64 },
    family: { ...familySlot, quiet: ' over ', title: 'Which addresses' },
  },
  fresh: { kind: 'hops', from: '@hosts', to: '@hosts', n: 3 },
  sentence: 'Packets from {from} to {to} pass at most {n} routers{family}.',
  one: 'Packets from {from} to {to} pass at most {n} router{family}.',
  evaluate: (rule, context) =>
    eachPair(
      context,
      rule,
      (pair) => {
        const working = works(context, pair);
        if (working.met !== true) return working;
        // Both ends are hops as well.
        const routersOf = ({ trace: { request } }: Way): number => Math.max(0, request.hops.length - 2);
        const shortest = waysOf(context, pair).reduce((one, other) =>
          routersOf(other) < routersOf(one) ? other : one,
        );
        const least = routersOf(shortest);
        const item = compared(
          least <= rule.n,
          `${pair.from.name} → ${pair.to.name} passes ${plural(least, 'router')}.`,
          { found: least, wanted: rule.n },
          placeOf(pair.from),
          placeOf(pair.to),
        );
        return { ...item, packet: packetOf(pair.from, pair.to, shortest.address) };
      },
      { most: MOST_FOLLOWED },
    ),
});

/** More parts than these are not tried: the requirement then waits for a person. */
const MOST_FAILURES = 64;
/** Devices of all the drawings together in which one part is missing. */
const MOST_TRIED = 20_000;

export const survivesRule = defineRule({
  kind: 'survives',
  family: 'connectivity',
  title: 'Reaches whatever fails',
  schema: Closed({
    kind: Type.Literal('survives'),
    from: Ref,
    to: Ref,
    what: OneOf('link', 'device'),
    of: Ref,
    family: Family,
  }),
  slots: {
    from: { type: 'ref' },
    to: { type: 'ref' },
    what: {
      type: 'choice',
      options: [
        { value: 'link', text: 'link' },
        { value: 'device', text: 'device' },
      ],
    },
    of: { type: 'ref' },
    family: { ...familySlot, quiet: ' over ', title: 'Which addresses' },
  },
  fresh: { kind: 'survives', from: '@hosts', to: '@hosts', what: 'link', of: '@network' },
  sentence: 'There is still a way from {from} to {to}{family} when any one {what} between or of {of} fails.',
  // A way before, and one after everything has settled. What hangs on one cable or switch alone is left out: no design of the
  // rest could save it.
  evaluate: (rule, context) => {
    const { student } = context;
    const of = new Set(context.roles(rule.of).flatMap((role) => context.devices(role).map(({ id }) => id)));
    if (!of.size) return [absent(`Nothing in the drawing plays the part of ${context.ref(rule.of)}.`)];
    const parts: Switchable[] =
      rule.what === 'device'
        ? [...of].map((id) => ({ kind: 'device', id: splitInstanceId(id).device }))
        : Object.entries(student.topology.links).flatMap(([id, { a, b }]): Switchable[] =>
            of.has(instanceId(a)) && of.has(instanceId(b)) ? [{ kind: 'link', id }] : [],
          );
    const before = eachPair(context, rule, (pair, told) => works(context, pair, undefined, told));
    if (before.some((item) => item.met !== true)) return before;
    if (!parts.length) return [absent(`There is nothing of ${context.ref(rule.of)} that could fail.`)];
    const most = Math.min(MOST_FAILURES, Math.floor(MOST_TRIED / student.instances.size));
    if (parts.length > most)
      return [
        { ...lost(`${parts.length} parts could fail: at most ${most} are tried.`), met: null, code: 'UNCERTAIN' },
      ];
    return parts.flatMap((part): Item[] => {
      const after = without(student, part);
      if (!after) return [];
      const name = partName(student.topology, part);
      const place: Place = part.kind === 'link' ? { link: part.id } : part.kind === 'device' ? { device: part.id } : {};
      const failing: Item[] = [];
      const judgeOne = (pair: Pair): Item => {
        const isOwn =
          part.kind === 'device' && (hangsOn(student, pair.from, part.id) || hangsOn(student, pair.to, part.id));
        const left =
          isOwn ||
          pair.addresses.some(
            (address) => after.reach.answer(pair.from.id, { device: pair.to.id, address }).answer === 'yes',
          );
        return left
          ? met(`${pair.from.name} → ${pair.to.name}`, placeOf(pair.from))
          : lost(
              `Without ${name}: ${pair.from.name} → ${pair.to.name} fails.`,
              place,
              placeOf(pair.from),
              placeOf(pair.to),
            );
      };
      forEachPair(context, rule, judgeOne, (item) => void (item.met !== true && failing.push(item)), {
        most: MOST_FOLLOWED,
      });
      const [first] = failing;
      if (!first) return [met(`Without ${name} everything asked still works.`, place)];
      return [
        {
          ...first,
          about: { roles: [] },
          text:
            failing.length > 1 ? `${first.text.replace(/\.$/, '')}, and so do ${failing.length - 1} more.` : first.text,
        },
      ];
    });
  },
});

/** Whether a device has no other way than one device that it hangs on, or is that one. */
const hangsOn = (model: NetworkModel, instance: Instance, device: string): boolean =>
  instance.deviceId === device || instanceLinks(model, instance).every(({ other }) => other.device === device);

const cuts = new WeakMap<NetworkModel, Map<string, NetworkModel | null>>();
/** A drawing without a part, worked out once for all that is asked of it; null where it cannot be taken away. */
function without(model: NetworkModel, part: Switchable): NetworkModel | null {
  let known = cuts.get(model);
  if (!known) cuts.set(model, (known = new Map<string, NetworkModel | null>()));
  const key = canonicalJson(part);
  let after = known.get(key);
  if (after === undefined) {
    const cut = applied(model.topology, switchOff(model.topology, [part]));
    known.set(key, (after = cut && analyse(cut, model.options)));
  }
  return after;
}

/** A drawing after a command; null where it cannot be applied. */
function applied(topology: Topology, command: Command): Topology | null {
  const done = applyCommand(topology, command);
  return done.ok ? done.value.document : null;
}

import { Type } from '@sinclair/typebox';
import { type Instance, type Shape, countsOf } from '../../../engine';
import { Closed, Count, Line, OneOf } from '../../../topology';
import { Ref, absent, compared, defineRule, eachRole, few, lost, met, placeOf } from '../../rule';
import { isLike } from '../like';
import { COUNT_WORDS, compare, countOptions } from './devices';

export const namePatternRule = defineRule({
  kind: 'namePattern',
  family: 'components',
  title: 'Names follow a pattern',
  schema: Closed({ kind: Type.Literal('namePattern'), who: Ref, pattern: Line }),
  slots: {
    who: { type: 'ref' },
    pattern: {
      type: 'text',
      problem: (text) =>
        text.trim() === ''
          ? 'Write a pattern: # stands for digits, * for anything, ? for one letter, as in "PC-#".'
          : text.length > 80
            ? 'A pattern has at most 80 letters.'
            : null,
    },
  },
  fresh: { kind: 'namePattern', who: '@hosts', pattern: 'PC-#' },
  problems: (rule) =>
    rule.pattern.trim() === '' || rule.pattern.length > 80
      ? [{ place: 'pattern', text: 'A pattern has 1 to 80 letters.' }]
      : [],
  sentence: 'The names of {who} are like {pattern}.',
  evaluate: (rule, context) =>
    eachRole(context, rule.who, (instance) =>
      (isLike(instance.name, rule.pattern) ? met : lost)(
        isLike(instance.name, rule.pattern)
          ? `${instance.name} is.`
          : `${instance.name || 'A device without a name'} is not.`,
        placeOf(instance),
      ),
    ),
});

export const kitOnlyRule = defineRule({
  kind: 'kitOnly',
  family: 'components',
  title: 'Only equipment of the lab’s kit',
  schema: Closed({ kind: Type.Literal('kitOnly') }),
  slots: {},
  fresh: { kind: 'kitOnly' },
  sentence: 'Nothing is drawn but what the kit of the lab has, and no more of it than it has.',
  evaluate: (_rule, context) => {
    const devices = Object.entries(context.student.topology.devices);
    if (!devices.length) return [absent('Nothing is drawn.')];
    const count = new Map<string, Instance[]>();
    for (const instance of context.student.instances.values())
      count.set(instance.device.model, [...(count.get(instance.device.model) ?? []), instance]);
    return [...count].map(([model, instances]) => {
      const { name } = instances[0]!.model;
      const places = instances.map((instance) => placeOf(instance));
      if (!context.kit) return met(`The kit has ${name}.`, ...places);
      const allowed = Object.hasOwn(context.kit, model) ? context.kit[model] : undefined;
      if (!allowed) return lost(`The kit has no ${name}.`, ...places);
      return allowed.most !== undefined && instances.length > allowed.most
        ? lost(`${instances.length} of ${name}: the kit has ${allowed.most}.`, ...places)
        : met(`${instances.length} of ${name}.`, ...places);
    });
  },
});

export const kitCostRule = defineRule({
  kind: 'kitCost',
  family: 'components',
  title: 'Cost of the equipment',
  schema: Closed({ kind: Type.Literal('kitCost'), most: Type.Integer({ minimum: 1, maximum: 1_000_000_000 }) }),
  slots: { most: { type: 'number', min: 1, max: 1_000_000_000 } },
  fresh: { kind: 'kitCost', most: 10_000 },
  sentence: 'What is drawn costs at most {most} together, by the prices of the lab’s kit.',
  evaluate: (rule, context) => {
    const instances = [...context.student.instances.values()];
    if (!instances.length) return [absent('Nothing is drawn.')];
    const costOf = ({ device: { model } }: Instance): number | undefined =>
      context.kit && Object.hasOwn(context.kit, model) ? context.kit[model]!.cost : undefined;
    const without = instances.filter((instance) => costOf(instance) === undefined);
    if (without.length)
      return [
        {
          ...lost(`The kit says no price of ${without[0]!.model.name}.`, ...few(without).places),
          met: null,
          code: 'UNCERTAIN',
        },
      ];
    const cost = Math.round(100 * instances.reduce((sum, instance) => sum + costOf(instance)!, 0)) / 100;
    const text = `What is drawn costs ${cost}${context.mark(`, at most ${rule.most} is allowed`, '', rule.most)}.`;
    return [compared(cost <= rule.most, text, { found: cost, wanted: rule.most })];
  },
});

/** What is counted, in a reading that the sentence states. */
const READINGS = {
  domains: 'local networks (broadcast domains with hosts)',
  subnets: 'local networks (IPv4 subnets with hosts)',
  places: 'local networks (places with hosts)',
  legs: 'wide-area links (each leg drawn)',
  connections: 'wide-area links (each connection from end to end)',
} as const;

export const networkCountRule = defineRule({
  kind: 'networkCount',
  family: 'components',
  title: 'Number of local networks or wide-area links',
  schema: Closed({
    kind: Type.Literal('networkCount'),
    what: OneOf('domains', 'subnets', 'places', 'legs', 'connections'),
    op: OneOf('atLeast', 'exactly', 'atMost'),
    n: Count,
  }),
  slots: {
    op: { type: 'choice', options: countOptions },
    n: { type: 'number', min: 1, max: 5000 },
    what: {
      type: 'choice',
      options: Object.entries(READINGS).map(([value, text]) => ({
        value,
        text,
        one: text.replace(/(network|link)s/, '$1'),
      })),
    },
  },
  fresh: { kind: 'networkCount', what: 'subnets', op: 'exactly', n: 3 },
  sentence: 'There are {op} {n} {what}.',
  one: 'There is {op} {n} {what}.',
  evaluate: (rule, { student, mark }) => {
    const { localNetworks, wideLinks } = countsOf(student);
    const at = { domains: 0, subnets: 1, places: 2, legs: 0, connections: 1 }[rule.what];
    const readings = rule.what === 'legs' || rule.what === 'connections' ? wideLinks : localNetworks;
    const n = readings[at]?.n ?? 0;
    const text = `Counted ${n}${mark(`, wanted ${COUNT_WORDS[rule.op]} ${rule.n}`, '', rule.n)}.`;
    const item = compared(compare(rule.op, n, rule.n), text, { found: n, wanted: rule.n });
    return [n === 0 ? { ...absent(text), values: item.values! } : item];
  },
});

const SHAPES: readonly Shape[] = [
  'line',
  'bus',
  'star',
  'extended star',
  'tree',
  'ring',
  'full mesh',
  'partial mesh',
  'point to point',
  'single',
];
export const shapeRule = defineRule({
  kind: 'shape',
  family: 'components',
  title: 'The shape of a part',
  schema: Closed({ kind: Type.Literal('shape'), who: Ref, shape: OneOf(...SHAPES) }),
  slots: { who: { type: 'ref' }, shape: { type: 'choice', options: SHAPES.map((value) => ({ value, text: value })) } },
  fresh: { kind: 'shape', who: '@network', shape: 'star' },
  sentence: 'The shape of the network part with {who} is {shape}.',
  evaluate: (rule, context) => {
    const { shapes } = countsOf(context.student);
    const own = new Set(context.roles(rule.who).flatMap((role) => context.device(role)?.id ?? []));
    const found = shapes.filter(({ ids }) => ids.some((id) => own.has(id)));
    if (!found.length) return [absent(`Nothing of ${context.ref(rule.who)} is linked.`)];
    return found.map(({ ids, shape }) => {
      const instances = ids.flatMap((id) => context.student.instances.get(id) ?? []);
      return (shape === rule.shape ? met : lost)(
        `${instances
          .slice(0, 6)
          .map(({ name }) => name)
          .join(', ')}${instances.length > 6 ? ', …' : ''}: ${shape}.`,
        ...instances.map((instance) => placeOf(instance)),
      );
    });
  },
});

export const fedByCableRule = defineRule({
  kind: 'fedByCable',
  family: 'components',
  title: 'Powered over the cable',
  schema: Closed({ kind: Type.Literal('fedByCable'), who: Ref }),
  slots: { who: { type: 'ref' } },
  fresh: { kind: 'fedByCable', who: '@hosts' },
  sentence: 'The power of {who} comes over the cable.',
  // IEEE 802.3 clauses 33 and 145: a source at the other end that has enough left.
  evaluate: (rule, context) =>
    eachRole(context, rule.who, (instance) => {
      if (![...instance.ports.values()].some(({ facts }) => facts.poe === 'sink'))
        return lost(`${instance.name} takes no power over a cable.`, placeOf(instance));
      if (instance.device.powered !== undefined)
        return lost(
          `${instance.name} ${instance.device.powered ? 'has a supply of its own' : 'is switched off'}.`,
          placeOf(instance),
        );
      const dark = context.student.layer1.unpowered.get(instance.id);
      return dark
        ? lost(dark.text, placeOf(instance))
        : met(`${instance.name} is fed over its cable.`, placeOf(instance));
    }),
});

import { Type } from '@sinclair/typebox';
import { formatAddress } from '../../../address';
import { ECHO, type Instance, numberOf } from '../../../engine';
import { Closed } from '../../../topology';
import {
  type CheckContext,
  type Item,
  Ref,
  absent,
  defineRule,
  eachRoleAndFamily,
  lost,
  met,
  placeOf,
} from '../../rule';
import { wayOut } from '../addressing/shared';
import { Family, familySlot } from '../family';
import {
  Service,
  answers,
  arrowOf,
  eachPair,
  reachesBeyond,
  serviceProblem,
  serviceSlot,
  traced,
  whyNot,
  works,
} from './asking';

export const reachRule = defineRule({
  kind: 'reach',
  family: 'connectivity',
  title: 'Reaches',
  schema: Closed({ kind: Type.Literal('reach'), from: Ref, to: Ref, family: Family, service: Service }),
  slots: { from: { type: 'ref' }, to: { type: 'ref' }, family: familySlot, service: serviceSlot },
  fresh: { kind: 'reach', from: '@hosts', to: '@hosts' },
  sentence: '{from} can reach {to} over {family}{service}.',
  problems: serviceProblem,
  evaluate: (rule, context) => eachPair(context, rule, (pair) => works(context, pair, rule.service)),
});

/** Of pairs that fail, the fewest devices that are in all of them: one that is broken is one, not as many as it has peers. */
function toBlame(failing: readonly (readonly [string, string])[]): Set<string> {
  const blamed = new Set<string>();
  let left = failing;
  while (left.length) {
    const count = new Map<string, number>();
    for (const role of left.flat()) count.set(role, (count.get(role) ?? 0) + 1);
    const [worst] = [...count].reduce((most, next) => (next[1] > most[1] ? next : most));
    blamed.add(worst);
    left = left.filter((pair) => !pair.includes(worst));
  }
  return blamed;
}

export const withinRule = defineRule({
  kind: 'within',
  family: 'connectivity',
  title: 'All of a group reach one another',
  schema: Closed({ kind: Type.Literal('within'), who: Ref, family: Family }),
  slots: { who: { type: 'ref' }, family: familySlot },
  fresh: { kind: 'within', who: '@hosts' },
  sentence: '{who} can all reach one another over {family}.',
  // Shares count devices: one that reaches nobody is one that is lost, whatever the number of its pairs.
  evaluate: (rule, context) => {
    const pairs = eachPair(context, { ...rule, from: rule.who, to: rule.who }, (pair) => works(context, pair));
    if (context.roles(rule.who).length < 2) return pairs;
    const families = [...new Set(pairs.map((item) => item.about?.family))];
    return families.flatMap((family) => {
      const own = pairs.filter((item) => item.about?.family === family);
      const failing = own.filter((item) => item.met !== true);
      const blamed = toBlame(
        failing.flatMap(({ about }) =>
          about!.roles.length === 2 ? [[about!.roles[0]!, about!.roles[1]!] as const] : [],
        ),
      );
      return context.roles(rule.who).flatMap((role): Item[] => {
        const instance = context.device(role);
        const mine = failing.filter(({ about }) => about!.roles.includes(role));
        const item = blamed.has(role)
          ? (mine.find(({ met: isMet }) => isMet === false) ?? mine[0]!)
          : instance
            ? met(`${instance.name} reaches all others that can be reached.`, placeOf(instance))
            : null;
        return item ? [{ ...item, about: { roles: [role], ...(family !== undefined && { family }) } }] : [];
      });
    });
  },
});

/**
 * That a host has a gateway that answers on the wire (RFC 826, RFC 4861). It need not answer an echo: a filter that spares
 * nothing inside is right, where something beyond is reached.
 */
export function gatewayWorks(context: CheckContext, instance: Instance, family: 4 | 6): Item {
  const { layer2, layer3, instances } = context.student;
  const node = layer3.nodes.get(instance.id);
  const via = wayOut(context, instance, family);
  const words = family === 4 ? 'gateway' : 'IPv6 gateway';
  if (!via)
    return absent(
      (family === 4 ? node?.refused[0]?.text : undefined) ?? `${instance.name} has no ${words} in use.`,
      placeOf(instance),
    );
  const points = (node?.interfaceStates ?? []).flatMap(({ point }) => point ?? []);
  const owners = layer3.owners.get(numberOf(via)) ?? [];
  const holder = owners.find(({ point }) => point !== null && points.some((own) => layer2.meets(own, point)));
  const device = instances.get((holder ?? owners[0])?.instance ?? '');
  if (!device)
    return lost(`Nobody has the address ${formatAddress(via)}, the ${words} of ${instance.name}.`, placeOf(instance));
  const pair = { from: instance, to: device, family, addresses: [via], roles: ['', ''] } as const;
  const text = arrowOf(pair, via);
  const ends = [placeOf(instance), placeOf(device)];
  const answer = answers(context, instance.id, device.id, via, ECHO);
  if (answer === true) return met(`${text} works.`, ...ends);
  const trace = traced(context, instance, device, via, ECHO);
  if (holder && trace.reason?.code === 'FILTERED' && reachesBeyond(context, instance, family))
    return met(`${text} answers on the wire, and more is reached through it.`, ...ends);
  const { why, at } = whyNot(context, pair, trace);
  const item = lost(`${text} ${answer === null ? 'is uncertain' : 'fails'}.${why}`, ...at, ...ends);
  return { ...item, code: trace.reason?.code ?? 'LOST', ...(answer === null && { met: null }) };
}

export const reachesGatewayRule = defineRule({
  kind: 'reachesGateway',
  family: 'connectivity',
  title: 'Hosts reach their gateway',
  schema: Closed({ kind: Type.Literal('reachesGateway'), who: Ref }),
  slots: { who: { type: 'ref' } },
  fresh: { kind: 'reachesGateway', who: '@hosts' },
  sentence: '{who} can reach the gateway.',
  evaluate: (rule, context) =>
    eachRoleAndFamily(context, rule.who, {}, (instance, family) => gatewayWorks(context, instance, family)),
});

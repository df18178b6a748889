import { Type } from '@sinclair/typebox';
import { formatAddress } from '../../../address';
import { ECHO, type Instance, numberOf } from '../../../engine';
import { Closed } from '../../../topology';
import {
  type CheckContext,
  type Item,
  NETWORKS,
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
  forEachPair,
  packetOf,
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
  evaluate: (rule, context) => eachPair(context, rule, (pair, told) => works(context, pair, rule.service, told)),
});

/** Of pairs that fail, the fewest devices that are in all of them: one that is broken is one, not as many as it has peers. */
function toBlame(failing: readonly (readonly [string, string])[]): Set<string> {
  const partners = new Map<string, string[]>();
  for (const [one, other] of failing)
    for (const [role, partner] of [
      [one, other],
      [other, one],
    ] as const) {
      const known = partners.get(role);
      if (known) known.push(partner);
      else partners.set(role, [partner]);
    }
  const count = new Map([...partners].map(([role, list]) => [role, list.length]));
  const blamed = new Set<string>();
  for (;;) {
    const [worst, n] = [...count].reduce((most, next) => (next[1] > most[1] ? next : most), ['', 0]);
    if (!n) return blamed;
    blamed.add(worst);
    count.delete(worst);
    for (const partner of partners.get(worst)!) if (count.has(partner)) count.set(partner, count.get(partner)! - 1);
  }
}

export const withinRule = defineRule({
  kind: 'within',
  family: 'connectivity',
  title: 'All of a group reach one another',
  schema: Closed({ kind: Type.Literal('within'), who: Ref, family: Family }),
  slots: { who: { type: 'ref' }, family: familySlot },
  fresh: { kind: 'within', who: '@hosts' },
  sentence: '{who} can all reach one another over {family}.',
  evaluate: (rule, context) => {
    const asked = { ...rule, from: rule.who, to: rule.who };
    return context.roles(rule.who).length < 2
      ? eachPair(context, asked, (pair) => works(context, pair))
      : byDevice(context, asked, {});
  },
});

/** Shares count devices: one that reaches nobody is one that is lost, whatever the number of its pairs. */
function byDevice(
  context: CheckContext,
  asked: { readonly from: string; readonly to: string; readonly family?: '4' | '6' },
  { service, isMeant }: { service?: string | undefined; isMeant?: (from: string, to: string) => boolean },
): Item[] {
  /** By family the pairs that fail, and for each role one of its items that says why: what is lost before what is open. */
  const families = new Map<4 | 6 | undefined, { failing: [string, string][]; why: Map<string, Item> }>();
  const others: Item[] = [];
  forEachPair(
    context,
    asked,
    (pair, told) => works(context, pair, service, told),
    (item) => {
      const { roles: [one, other] = [], family } = item.about ?? {};
      if (one === undefined || other === undefined) return void others.push(item);
      let known = families.get(family);
      if (!known) families.set(family, (known = { failing: [], why: new Map<string, Item>() }));
      if (item.met === true) return;
      known.failing.push([one, other]);
      for (const role of [one, other]) {
        const before = known.why.get(role);
        if (!before || (before.met === null && item.met === false)) known.why.set(role, item);
      }
    },
    { ...(isMeant && { isMeant }) },
  );
  const items = [...families].flatMap(([family, { failing, why }]) => {
    const blamed = toBlame(failing);
    return context.roles(asked.from).flatMap((role): Item[] => {
      const instance = context.device(role);
      const item = blamed.has(role)
        ? why.get(role)!
        : instance
          ? met(`${instance.name} reaches all others that can be reached.`, placeOf(instance))
          : null;
      return item ? [{ ...item, about: { roles: [role], ...(family !== undefined && { family }) } }] : [];
    });
  });
  return [...others, ...items];
}

export const networksReachRule = defineRule({
  kind: 'networksReach',
  family: 'connectivity',
  title: 'Local networks reach one another',
  schema: Closed({ kind: Type.Literal('networksReach'), family: Family, service: Service }),
  slots: { family: familySlot, service: serviceSlot },
  fresh: { kind: 'networksReach' },
  sentence: 'Any two hosts of different local networks can reach one another over {family}{service}.',
  problems: serviceProblem,
  evaluate: (rule, context) => {
    const networks = context.roles(NETWORKS);
    if (networks.length < 2) return [absent('There are fewer than two local networks with hosts.')];
    const networkOf = new Map(networks.flatMap((ref) => context.roles(ref).map((role) => [role, ref] as const)));
    // A host that is on no network is on none of the others either, and reaches nobody.
    const isMeant = (from: string, to: string): boolean =>
      networkOf.get(from) === undefined || networkOf.get(from) !== networkOf.get(to);
    return byDevice(context, { ...rule, from: '@hosts', to: '@hosts' }, { service: rule.service, isMeant });
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
  const { why, at, reads } = whyNot(context, pair, trace);
  const item = lost(`${text} ${answer === null ? 'is uncertain' : 'fails'}.${why}`, ...at, ...ends);
  const packet = packetOf(instance, device, via);
  return { ...item, code: trace.reason?.code ?? 'LOST', reads, packet, ...(answer === null && { met: null }) };
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

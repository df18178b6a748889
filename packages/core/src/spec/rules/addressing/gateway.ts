import { Type } from '@sinclair/typebox';
import { formatAddress, formatPrefix, isLinkLocal, parseAddress, sameAddress, subnetOf } from '../../../address';
import { type Instance } from '../../../engine';
import { Closed, Line } from '../../../topology';
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
import { answersFor, liesIn, wayOut } from './shared';

/** The gateway as it is typed, whether it can be used or not; else the one that came with a lease or from a router. */
function gatewayText(context: CheckContext, instance: Instance, family: 4 | 6): string | null {
  const typed = instance.settings[family === 4 ? 'gateway4' : 'gateway6'];
  if (typed !== undefined) return typed;
  const learnt = wayOut(context, instance, family);
  return learnt && formatAddress(learnt);
}

/** The gateway of a host in one family: one of the routers, in the host's own subnet or on its own link. */
function judged(context: CheckContext, instance: Instance, family: 4 | 6, routers: readonly Instance[]): Item {
  const words = family === 4 ? 'gateway' : 'IPv6 gateway';
  const text = gatewayText(context, instance, family);
  if (text === null) return absent(`${instance.name} has no ${words}.`, placeOf(instance));
  const read = parseAddress(text);
  if (!read.ok) return lost(`The ${words} of ${instance.name}: ${read.error.text}`, placeOf(instance));
  const own = context.addresses(instance, family).map(subnetOf);
  if (!isLinkLocal(read.value) && !liesIn(own, read.value))
    return lost(
      `The ${words} ${text} of ${instance.name} lies outside its subnet ${own.map(formatPrefix).join(', ')}.`,
      placeOf(instance),
    );
  const holder = routers.find((router) => answersFor(context, router, read.value));
  return holder
    ? met(`The ${words} of ${instance.name} is ${holder.name} (${text}).`, placeOf(instance))
    : lost(
        `The ${words} ${text} of ${instance.name} is no address of ${routers.map((router) => router.name).join(' or ')}.`,
        placeOf(instance),
      );
}

export const gatewayRule = defineRule({
  kind: 'gateway',
  family: 'addressing',
  title: 'The gateway is the router',
  schema: Closed({ kind: Type.Literal('gateway'), who: Ref, router: Ref }),
  slots: { who: { type: 'ref' }, router: { type: 'ref' } },
  fresh: { kind: 'gateway', who: '@hosts', router: '@network' },
  sentence: 'The gateway of {who} is {router}, in their own subnet.',
  evaluate: (rule, context) => {
    const routers = context
      .roles(rule.router)
      .map((role) => context.device(role))
      .filter((instance) => instance !== null);
    if (!routers.length) return [absent(`Nothing in the drawing plays the part of ${context.ref(rule.router)}.`)];
    return eachRoleAndFamily(context, rule.who, {}, (instance, family) => judged(context, instance, family, routers));
  },
});

const LINK_LOCAL = 'link-local';
const gatewayTrouble = (text: string): string | null => {
  if (text.trim().toLowerCase() === LINK_LOCAL) return null;
  const read = parseAddress(text);
  return read.ok ? null : `${read.error.text} Write an address, or “link-local”.`;
};

export const gatewayIsRule = defineRule({
  kind: 'gatewayIs',
  family: 'addressing',
  title: 'The gateway is a given address',
  schema: Closed({ kind: Type.Literal('gatewayIs'), who: Ref, address: Line }),
  slots: { who: { type: 'ref' }, address: { type: 'text', problem: gatewayTrouble } },
  fresh: { kind: 'gatewayIs', who: '@hosts', address: LINK_LOCAL },
  problems: (rule) => {
    const text = gatewayTrouble(rule.address);
    return text === null ? [] : [{ place: 'address', text }];
  },
  sentence: 'The gateway of {who} is {address}.',
  evaluate: (rule, context) => {
    const wanted = parseAddress(rule.address);
    const family = wanted.ok ? wanted.value.family : 6;
    return eachRoleAndFamily(context, rule.who, { family: family === 4 ? '4' : '6' }, (instance) => {
      const text = gatewayText(context, instance, family);
      if (text === null) return absent(`${instance.name} has no IPv${family} gateway.`, placeOf(instance));
      const read = parseAddress(text);
      const isIt = read.ok && (wanted.ok ? sameAddress(read.value, wanted.value) : isLinkLocal(read.value));
      return (isIt ? met : lost)(`The gateway of ${instance.name} is ${text}.`, placeOf(instance));
    });
  },
});

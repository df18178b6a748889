import { Type } from '@sinclair/typebox';
import { formatPrefix, contains, subnetOf } from '../../../address';
import { type Instance, type Trace, instanceId, portId } from '../../../engine';
import { Closed, Maybe, OneOf } from '../../../topology';
import { type CheckContext, type Item, Ref, absent, defineRule, eachRole, lost, met, placeOf } from '../../rule';
import { eachLinkedPair } from '../cabling';
import {
  type Pair,
  Service,
  arrowOf,
  MOST_FOLLOWED,
  eachPair,
  probeOf,
  serviceProblem,
  serviceSlot,
  traced,
  whyNot,
} from '../connectivity/asking';
import { Family, familySlot } from '../family';
import { Vlan, vlanIfAny } from './switching';

/** Requirements about where something of the configuration stands: a blocked port, a filter, an interface. */

export const blockedPortRule = defineRule({
  kind: 'blockedPort',
  family: 'operation',
  title: 'The port that the spanning tree blocks',
  schema: Closed({ kind: Type.Literal('blockedPort'), who: Ref, to: Ref, vlan: Maybe(Vlan) }),
  slots: {
    who: { type: 'ref' },
    to: { type: 'ref' },
    vlan: {
      ...vlanIfAny,
      title: 'For which VLAN',
      before: ' for VLAN ',
      empty: 'a VLAN, or nothing for the tree of all others',
    },
  },
  fresh: { kind: 'blockedPort', who: '@network', to: '@network' },
  sentence: 'The spanning tree{vlan} blocks the port of {who} towards {to}.',
  evaluate: (rule, context) => {
    const { tree } = context.student.layer2;
    const { discarding } = rule.vlan === undefined ? tree.trees[0]! : tree.treeOf(rule.vlan);
    return eachLinkedPair(context, rule.who, rule.to, (links, first, second) => {
      // Of links side by side one may carry, where the tree blocks the others.
      const blocked = links.filter(({ mine }) => discarding.has(portId(instanceId(mine), mine.port)));
      const places = links.map(({ mine }) => ({ device: mine.device, port: mine.port }));
      return [
        blocked.length
          ? met(`${first.name} ${blocked[0]!.mine.port} towards ${second.name} is blocked.`, ...places)
          : lost(`${first.name} passes frames on towards ${second.name}.`, ...places, placeOf(first)),
      ];
    });
  },
});

export const filterPlaceRule = defineRule({
  kind: 'filterPlace',
  family: 'operation',
  title: 'A filter stands near its source or destination',
  schema: Closed({
    kind: Type.Literal('filterPlace'),
    from: Ref,
    to: Ref,
    near: OneOf('source', 'destination'),
    family: Family,
    service: Service,
  }),
  slots: {
    from: { type: 'ref' },
    to: { type: 'ref' },
    family: familySlot,
    service: serviceSlot,
    near: {
      type: 'choice',
      options: [
        { value: 'source', text: 'the source', choice: 'the source: for filters that look at both ends' },
        {
          value: 'destination',
          text: 'the destination',
          choice: 'the destination: for those that look at sources only',
        },
      ],
    },
  },
  fresh: { kind: 'filterPlace', from: '@hosts', to: '@hosts', near: 'source' },
  sentence: 'The filter that keeps {from} from {to} over {family}{service} stands at the router next to {near}.',
  problems: serviceProblem,
  evaluate: (rule, context) =>
    eachPair(
      context,
      rule,
      (pair) => {
        const address = pair.addresses[0]!;
        const trace = traced(context, pair.from, pair.to, address, probeOf(rule.service));
        const arrow = arrowOf(pair, address);
        const ends = [placeOf(pair.from), placeOf(pair.to)];
        const holder = context.student.instances.get(trace.request.hops.at(-1)?.device ?? '');
        if (trace.reached || trace.reason?.code !== 'FILTERED' || !holder) {
          const { why, at } = whyNot(context, pair, trace);
          return absent(`${arrow} is not stopped by a filter.${why}`, ...at, ...ends);
        }
        const isNear = rule.near === 'source' ? isFirstRouter(context, trace, holder) : standsBy(context, holder, pair);
        return (isNear ? met : lost)(
          `${arrow} is stopped at ${holder.name}${isNear ? '' : `, which is not next to the ${rule.near}`}.`,
          placeOf(holder),
          ...ends,
        );
      },
      { most: MOST_FOLLOWED },
    ),
});

/** Whether a packet went through no other router before. */
const isFirstRouter = ({ student }: CheckContext, trace: Trace, holder: Instance): boolean =>
  trace.request.hops.slice(1).filter(({ device }) => student.instances.has(device))[0]?.device === holder.id ||
  trace.request.hops[0]?.device === holder.id;

/** Whether a router has an interface in the subnet of the one that is asked. */
const standsBy = (context: CheckContext, router: Instance, { addresses, family }: Pair): boolean =>
  context.addresses(router, family).some((on) => addresses.some((address) => contains(subnetOf(on), address)));

const INTERFACE_KINDS = {
  port: 'a port itself',
  sub: 'a sub-interface',
  svi: 'a VLAN interface',
  bundle: 'a bundle of ports',
  loopback: 'a loopback',
  tunnel: 'a tunnel',
} as const;

export const interfaceKindRule = defineRule({
  kind: 'interfaceKind',
  family: 'operation',
  title: 'What an address lies on',
  schema: Closed({
    kind: Type.Literal('interfaceKind'),
    who: Ref,
    on: OneOf(...(Object.keys(INTERFACE_KINDS) as (keyof typeof INTERFACE_KINDS)[])),
  }),
  slots: {
    who: { type: 'ref' },
    on: { type: 'choice', options: Object.entries(INTERFACE_KINDS).map(([value, text]) => ({ value, text })) },
  },
  fresh: { kind: 'interfaceKind', who: '@network', on: 'sub' },
  sentence: 'An address of {who} lies on {on}.',
  evaluate: (rule, context) =>
    eachRole(context, rule.who, (instance): Item => {
      const states = context.student.layer3.nodes.get(instance.id)?.interfaceStates ?? [];
      const found = states.find(({ config, up, addresses }) => config.on.kind === rule.on && up && addresses.length);
      if (found)
        return met(
          `${instance.name} has ${formatPrefix(subnetOf(found.addresses[0]!))} on ${found.key}.`,
          placeOf(instance),
        );
      const down = instance.interfaces.find(([, { on }]) => on.kind === rule.on);
      return lost(
        down
          ? `${down[0]} of ${instance.name} is not up, or has no address.`
          : `${instance.name} has no address on ${INTERFACE_KINDS[rule.on]}.`,
        placeOf(instance),
      );
    }),
});

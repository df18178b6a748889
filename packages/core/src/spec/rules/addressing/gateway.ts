import { contains, formatAddress, formatPrefix, parseAddress, sameAddress, subnetOf } from '../../../address';
import { type Instance } from '../../../engine';
import { Closed } from '../../../topology';
import { type CheckContext, Ref, absent, defineRule, eachRole, lost, met, placeOf } from '../../rule';
import { Type } from '@sinclair/typebox';

/** The way out that came with a lease. */
function leasedGateway({ student }: CheckContext, { id }: Instance): string | undefined {
  const lease = [...student.layer3.leases.values()].find((lease) => lease.client.device === id && lease.router);
  return lease?.router ? formatAddress(lease.router) : undefined;
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
    return eachRole(context, rule.who, (instance) => {
      const text = instance.settings.gateway4 ?? leasedGateway(context, instance);
      if (!text) return { ...lost(`${instance.name} has no gateway.`, placeOf(instance)), grounded: false };
      const read = parseAddress(text);
      if (!read.ok) return lost(`The gateway of ${instance.name}: ${read.error.text}`, placeOf(instance));
      const own = context.addresses(instance, 4);
      if (!own.some((on) => contains(subnetOf(on), read.value)))
        return lost(
          `The gateway ${text} of ${instance.name} lies outside its subnet ${own.map((on) => formatPrefix(subnetOf(on))).join(', ')}.`,
          placeOf(instance),
        );
      const holder = routers.find((router) =>
        context.addresses(router, 4).some((on) => sameAddress(on.address, read.value)),
      );
      return holder
        ? met(`The gateway of ${instance.name} is ${holder.name} (${text}).`, placeOf(instance))
        : lost(
            `The gateway ${text} of ${instance.name} is no address of ${routers.map((router) => router.name).join(' or ')}.`,
            placeOf(instance),
          );
    });
  },
});

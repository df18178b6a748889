import { formatAddress, samePrefix, scopeOf, subnetOf } from '../../address';
import { type DrawingFaultOperator } from '../fault';
import { hostAddresses, typedAddresses } from '../places';
import { setGateways } from './gateways';

/** Hosts learn their routers by link-local addresses (RFC 4861 §6.1.2): a lab may ask for the same where they are typed. */
export const gatewayNotLinkLocal: DrawingFaultOperator = {
  kind: 'gatewayNotLinkLocal',
  title: 'An IPv6 gateway is not link-local',
  *faultsIn(topology) {
    const routers = [...typedAddresses(topology)].filter((typed) => typed.forwards && typed.family === 6);
    for (const { id, device, property, gateway } of setGateways(topology)) {
      if (property !== 'gateway6' || scopeOf(gateway) !== 'link-local') continue;
      const own = hostAddresses(topology).find((host) => host.device === id && host.family === 6);
      const router = own && routers.find(({ on }) => samePrefix(subnetOf(on), subnetOf(own.on)));
      if (router)
        yield {
          at: { device: id },
          text: `${device.name} has the gateway ${formatAddress(router.on.address)}, where a link-local one is asked for.`,
          commands: [{ kind: 'setSettings', device: id, set: { gateway6: formatAddress(router.on.address) } }],
        };
    }
  },
};

import { contains, formatAddress, subnetOf } from '../../address';
import { type DrawingFaultOperator } from '../fault';
import { hostAddresses } from '../places';
import { setGateways } from './gateways';

export const gatewayNotRouter: DrawingFaultOperator = {
  kind: 'gatewayNotRouter',
  title: 'A gateway is no router',
  *faultsIn(topology) {
    const hosts = hostAddresses(topology);
    for (const { id, device, property, own } of setGateways(topology)) {
      const other = own && hosts.find((host) => host.device !== id && contains(subnetOf(own), host.on.address));
      if (other)
        yield {
          at: { device: id },
          text: `${device.name} has the gateway ${formatAddress(other.on.address)}: that is ${other.name}, which passes nothing on.`,
          commands: [{ kind: 'setSettings', device: id, set: { [property]: formatAddress(other.on.address) } }],
        };
    }
  },
};

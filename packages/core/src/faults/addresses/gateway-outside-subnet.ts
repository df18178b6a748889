import { formatAddress } from '../../address';
import { type DrawingFaultOperator } from '../fault';
import { movedBeside } from '../places';
import { setGateways } from './gateways';

export const gatewayOutsideSubnet: DrawingFaultOperator = {
  kind: 'gatewayOutsideSubnet',
  title: 'A gateway lies outside the subnet',
  *faultsIn(topology) {
    for (const { id, device, property, gateway, own } of setGateways(topology)) {
      const beside = own && movedBeside(gateway, own.length);
      if (beside)
        yield {
          at: { device: id },
          text: `${device.name} has the gateway ${formatAddress(beside)}, which is not in its subnet.`,
          commands: [{ kind: 'setSettings', device: id, set: { [property]: formatAddress(beside) } }],
        };
    }
  },
};

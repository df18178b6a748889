import { type DrawingFaultOperator } from '../fault';
import { setGateways } from './gateways';

export const gatewayMissing: DrawingFaultOperator = {
  kind: 'gatewayMissing',
  title: 'A gateway is missing',
  *faultsIn(topology) {
    for (const { id, device, property } of setGateways(topology))
      yield {
        at: { device: id },
        text: `${device.name} has no ${property === 'gateway4' ? 'IPv4' : 'IPv6'} gateway.`,
        commands: [{ kind: 'setSettings', device: id, set: { [property]: null } }],
      };
  },
};

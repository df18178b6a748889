import { contains } from '../../address';
import { type DrawingFaultOperator } from '../fault';
import { typedAddresses } from '../places';
import { poolsOf } from './pools';

export const secondDhcpServer: DrawingFaultOperator = {
  kind: 'secondDhcpServer',
  title: 'A second DHCP server answers',
  *faultsIn(topology) {
    const typed = [...typedAddresses(topology)];
    const pools = [...poolsOf(topology)];
    for (const { id, device, property, pool, network } of pools) {
      const other = typed.find(
        (each) =>
          each.device !== id &&
          each.member === undefined &&
          contains(network, each.on.address) &&
          !pools.some((known) => known.id === each.device),
      );
      if (other)
        yield {
          at: { device: other.device },
          text: `${other.name} gives out addresses of ${pool.network} as well as ${device.name}.`,
          commands: [{ kind: 'setSettings', device: other.device, set: { [property]: [pool] } }],
        };
    }
  },
};

import { formatPrefix } from '../../address';
import { type DrawingFaultOperator } from '../fault';
import { besideOf } from '../places';
import { poolsOf, withPool } from './pools';

export const poolOfAnotherSubnet: DrawingFaultOperator = {
  kind: 'poolOfAnotherSubnet',
  title: 'A DHCP pool is for the wrong subnet',
  *faultsIn(topology) {
    for (const placed of poolsOf(topology)) {
      const beside = besideOf(placed.network);
      if (!beside) continue;
      const { ranges: _ranges, exclusions: _exclusions, reservations: _reservations, ...pool } = placed.pool;
      yield {
        at: { device: placed.id },
        text: `A DHCP pool of ${placed.device.name} is for ${formatPrefix(beside)} instead of ${placed.pool.network}.`,
        commands: [withPool(placed, { ...pool, network: formatPrefix(beside) })],
      };
    }
  },
};

import { formatAddress, usableRange } from '../../address';
import { type DrawingFaultOperator } from '../fault';
import { poolsOf, withPool } from './pools';

export const exhaustedPool: DrawingFaultOperator = {
  kind: 'exhaustedPool',
  title: 'A DHCP pool is exhausted',
  *faultsIn(topology) {
    for (const placed of poolsOf(topology)) {
      const only = placed.pool.ranges?.[0]?.to ?? formatAddress(usableRange(placed.network).to);
      const { exclusions: _exclusions, ...pool } = placed.pool;
      yield {
        at: { device: placed.id },
        text: `The DHCP pool of ${placed.device.name} for ${placed.pool.network} has one address to give.`,
        commands: [withPool(placed, { ...pool, ranges: [{ from: only, to: only }] })],
      };
    }
  },
};

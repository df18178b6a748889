import { contains } from '../../address';
import { type DrawingFaultOperator } from '../fault';
import { hostAddresses, placeOf } from '../places';
import { poolsOf } from './pools';

export const nobodyAnswers: DrawingFaultOperator = {
  kind: 'nobodyAnswers',
  title: 'A host waits for an address that nobody gives',
  *faultsIn(topology) {
    const pools = [...poolsOf(topology)];
    for (const typed of hostAddresses(topology)) {
      const { family, member, index, on, device, key } = typed;
      if (index > 0 || member !== undefined || pools.some(({ network }) => contains(network, on.address))) continue;
      const set =
        family === 4
          ? { v4: { dhcp: true } }
          : { v6: { ...typed.settings.v6, addresses: [], dhcp: 'stateful' as const } };
      yield {
        at: placeOf(typed),
        text: `${typed.name} waits for an IPv${family} address, and nobody gives one.`,
        commands: [{ kind: 'changeInterface', device, key, set }],
      };
    }
  },
};

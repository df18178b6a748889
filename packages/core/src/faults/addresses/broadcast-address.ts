import { formatAddress, lastOf, subnetOf } from '../../address';
import { type DrawingFaultOperator } from '../fault';
import { hostAddresses, placeOf, retypeTo } from '../places';

/** RFC 919: the last host number means all hosts of the subnet. RFC 3021 excepts subnets of two addresses. */
export const broadcastAddress: DrawingFaultOperator = {
  kind: 'broadcastAddress',
  title: 'A host has the broadcast address',
  *faultsIn(topology) {
    for (const typed of hostAddresses(topology)) {
      if (typed.family !== 4 || typed.on.length > 30) continue;
      const address = lastOf(subnetOf(typed.on));
      yield {
        at: placeOf(typed),
        text: `${typed.name} has ${formatAddress(address)}, the broadcast address of its subnet.`,
        commands: [retypeTo(typed, { address, length: typed.on.length })],
      };
    }
  },
};

import { firstOf, formatAddress, subnetOf } from '../../address';
import { type DrawingFaultOperator } from '../fault';
import { hostAddresses, placeOf, retypeTo } from '../places';

/** RFC 950: the host number zero stands for the subnet itself. RFC 3021 excepts subnets of two addresses. */
export const networkAddress: DrawingFaultOperator = {
  kind: 'networkAddress',
  title: 'A host has the address of its subnet',
  *faultsIn(topology) {
    for (const typed of hostAddresses(topology)) {
      if (typed.family !== 4 || typed.on.length > 30) continue;
      const address = firstOf(subnetOf(typed.on));
      yield {
        at: placeOf(typed),
        text: `${typed.name} has ${formatAddress(address)}, the address of the subnet itself.`,
        commands: [retypeTo(typed, { address, length: typed.on.length })],
      };
    }
  },
};

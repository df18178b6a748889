import { formatAddress } from '../../address';
import { type DrawingFaultOperator } from '../fault';
import { hostAddresses, movedBeside, placeOf, retypeTo } from '../places';

export const addressOutsideSubnet: DrawingFaultOperator = {
  kind: 'addressOutsideSubnet',
  title: 'An address lies outside its subnet',
  *faultsIn(topology) {
    for (const typed of hostAddresses(topology)) {
      const address = movedBeside(typed.on.address, typed.on.length);
      if (address)
        yield {
          at: placeOf(typed),
          text: `${typed.name} has ${formatAddress(address)}, which is in the subnet beside the one that it is in.`,
          commands: [retypeTo(typed, { address, length: typed.on.length })],
        };
    }
  },
};

import { sameAddress, samePrefix, subnetOf } from '../../address';
import { type DrawingFaultOperator } from '../fault';
import { hostAddresses, placeOf, retypeTo, typedAddresses } from '../places';

export const duplicateAddress: DrawingFaultOperator = {
  kind: 'duplicateAddress',
  title: 'Two devices have one address',
  *faultsIn(topology) {
    const all = [...typedAddresses(topology)];
    for (const typed of hostAddresses(topology)) {
      const other = all.find(
        ({ on, name }) =>
          name !== typed.name &&
          samePrefix(subnetOf(on), subnetOf(typed.on)) &&
          !sameAddress(on.address, typed.on.address),
      );
      if (other)
        yield {
          at: placeOf(typed),
          text: `${typed.name} has the address of ${other.name}.`,
          commands: [retypeTo(typed, other.on)],
        };
    }
  },
};

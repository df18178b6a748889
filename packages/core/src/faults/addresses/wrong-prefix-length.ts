import { bitsOf } from '../../address';
import { type DrawingFaultOperator } from '../fault';
import { placeOf, retypeTo, typedAddresses } from '../places';

/** Three shorter, as 25 for 28, and two longer: the one may work by luck, the other cuts off most of the subnet. */
const OFF_BY = [-3, 2];

export const wrongPrefixLength: DrawingFaultOperator = {
  kind: 'wrongPrefixLength',
  title: 'A prefix length is wrong',
  *faultsIn(topology) {
    for (const typed of typedAddresses(topology))
      for (const by of OFF_BY) {
        const length = typed.on.length + by;
        if (length < 1 || length > bitsOf(typed.family)) continue;
        yield {
          at: placeOf(typed),
          text: `${typed.name} ${typed.key} has the prefix length ${length}, where its subnet has ${typed.on.length}.`,
          commands: [retypeTo(typed, { address: typed.on.address, length })],
        };
      }
  },
};

import { formatInterfaceAddress } from '../../address';
import { type DrawingFaultOperator } from '../fault';
import { placeOf, retype, typedAddresses } from '../places';

export const addressMissing: DrawingFaultOperator = {
  kind: 'addressMissing',
  title: 'An address is missing',
  *faultsIn(topology) {
    for (const typed of typedAddresses(topology))
      yield {
        at: placeOf(typed),
        text: `${typed.name} ${typed.key} does not have ${formatInterfaceAddress(typed.on)}.`,
        commands: [retype(typed, null)],
      };
  },
};

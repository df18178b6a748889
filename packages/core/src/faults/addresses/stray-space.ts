import { formatInterfaceAddress } from '../../address';
import { type DrawingFaultOperator } from '../fault';
import { placeOf, retype, typedAddresses } from '../places';

export const straySpace: DrawingFaultOperator = {
  kind: 'straySpace',
  title: 'A space has come into an address',
  *faultsIn(topology) {
    for (const typed of typedAddresses(topology)) {
      const text = formatInterfaceAddress(typed.on).replace(/([.:])([^.:]*)$/, '$1 $2');
      yield {
        at: placeOf(typed),
        text: `At ${typed.name} ${typed.key} “${text}” is typed, with a space in it.`,
        commands: [retype(typed, text)],
      };
    }
  },
};

import { formatInterfaceAddress } from '../../address';
import { type DrawingFaultOperator } from '../fault';
import { placeOf, retype, typedAddresses } from '../places';

export const prefixTwice: DrawingFaultOperator = {
  kind: 'prefixTwice',
  title: 'The prefix is typed into the address',
  *faultsIn(topology) {
    for (const typed of typedAddresses(topology)) {
      const text = `${formatInterfaceAddress(typed.on)}/${typed.on.length}`;
      yield {
        at: placeOf(typed),
        text: `At ${typed.name} ${typed.key} “${text}” is typed: the prefix stands in it twice.`,
        commands: [retype(typed, text)],
      };
    }
  },
};

import { contains, formatPrefix, prefixOf, samePrefix, subnetOf } from '../../address';
import { type DrawingFaultOperator } from '../fault';
import { placeOf, retypeTo, typedAddresses } from '../places';

export const overlappingSubnets: DrawingFaultOperator = {
  kind: 'overlappingSubnets',
  title: 'Two subnets overlap',
  *faultsIn(topology) {
    const routers = [...typedAddresses(topology)].filter((typed) => typed.forwards);
    for (const typed of routers) {
      const mine = subnetOf(typed.on);
      const others = routers.filter(({ on, family }) => family === typed.family && !samePrefix(subnetOf(on), mine));
      // The fewest bits that must go until the subnet reaches into another.
      for (let length = typed.on.length - 1; length >= Math.max(1, typed.on.length - 8); length--) {
        const wide = prefixOf(typed.on.address, length);
        const other = others.find(({ on }) => contains(wide, on.address));
        if (!other) continue;
        yield {
          at: placeOf(typed),
          text: `The subnet of ${typed.name} ${typed.key} is ${formatPrefix(wide)}, and overlaps ${formatPrefix(subnetOf(other.on))}.`,
          commands: [retypeTo(typed, { address: typed.on.address, length })],
        };
        break;
      }
    }
  },
};

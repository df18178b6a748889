import { bitsOf, formatPrefix, prefixOf, rangeSize, usableRange } from '../../address';
import { type PlanFaultOperator } from '../fault';
import { prefixesOf } from './blocks';

export const subnetTooSmall: PlanFaultOperator = {
  kind: 'subnetTooSmall',
  title: 'A subnet is too small for the later number',
  *faultsIn({ plan, brief }) {
    for (const { id, block, property, family, prefix } of prefixesOf(plan)) {
      const group = brief.groups?.find((each) => each.id === block.group);
      if (!group || family !== 4) continue;
      for (let length = prefix.length + 1; length < bitsOf(family) - 1; length++) {
        const small = prefixOf(prefix, length);
        if (rangeSize(usableRange(small)) >= BigInt(group.later)) continue;
        yield {
          at: { block: id },
          text: `${block.name} has ${formatPrefix(small)}, without room for ${group.later}.`,
          commands: [{ kind: 'setBlock', id, set: { [property]: formatPrefix(small) } }],
        };
        break;
      }
    }
  },
};

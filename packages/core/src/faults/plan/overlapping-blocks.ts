import { formatPrefix, overlaps } from '../../address';
import { type PlanFaultOperator } from '../fault';
import { prefixesOf } from './blocks';

export const overlappingBlocks: PlanFaultOperator = {
  kind: 'overlappingBlocks',
  title: 'Two blocks of the plan overlap',
  *faultsIn({ plan }) {
    const all = prefixesOf(plan);
    for (const { id, block, property, prefix } of all) {
      const other = all.find(
        (each) => each.id !== id && each.prefix.family === prefix.family && !overlaps(each.prefix, prefix),
      );
      if (other)
        yield {
          at: { block: id },
          text: `${block.name} has the space of ${other.block.name}.`,
          commands: [{ kind: 'setBlock', id, set: { [property]: formatPrefix(other.prefix) } }],
        };
    }
  },
};

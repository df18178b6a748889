import { formatPrefix, parsePrefix } from '../../address';
import { type PlanFaultOperator } from '../fault';
import { prefixesOf } from './blocks';

export const insideIsProvider: PlanFaultOperator = {
  kind: 'insideIsProvider',
  title: 'An inside range is the provider’s',
  *faultsIn({ plan, brief }) {
    const outside = (brief.outside ?? []).flatMap((text) => {
      const read = parsePrefix(text);
      return read.ok ? [read.value] : [];
    });
    for (const { id, block, property, family } of prefixesOf(plan)) {
      const range = outside.find((each) => each.family === family);
      if (range)
        yield {
          at: { block: id },
          text: `${block.name} has ${formatPrefix(range)}, which is the provider’s.`,
          commands: [{ kind: 'setBlock', id, set: { [property]: formatPrefix(range) } }],
        };
    }
  },
};

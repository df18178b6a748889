import { type PlanFaultOperator } from '../fault';
import { entriesById } from '../../topology';

export const planDiffers: PlanFaultOperator = {
  kind: 'planDiffers',
  title: 'Plan and drawing disagree',
  *faultsIn({ plan }) {
    const named = entriesById(plan.addresses).filter(([, { name }]) => name !== '');
    for (const [at, [address, entry]] of named.entries()) {
      const other = named[(at + 1) % named.length]![1];
      if (other.name !== entry.name)
        yield {
          at: { address },
          text: `The plan has ${address} for ${other.name} instead of ${entry.name}.`,
          commands: [{ kind: 'setAddress', address, set: { ...entry, name: other.name } }],
        };
    }
  },
};

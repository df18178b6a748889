import { filterWords } from '../../topology';
import { type DrawingFaultOperator } from '../fault';
import { filtersOf, withRules } from './filters';

export const filterTooStrict: DrawingFaultOperator = {
  kind: 'filterTooStrict',
  title: 'A filter denies too much',
  *faultsIn(topology) {
    for (const placed of filtersOf(topology))
      for (const [at, rule] of placed.filter.rules.entries())
        if (rule.action === 'permit' && rule.enabled !== false)
          yield {
            at: { device: placed.id },
            text: `Rule ${at + 1} of the ${filterWords(placed.key)} of ${placed.device.name}, which lets something through, is missing.`,
            commands: [
              withRules(
                placed,
                placed.filter.rules.filter((_rule, index) => index !== at),
              ),
            ],
          };
  },
};

import { filterWords } from '../../topology';
import { type DrawingFaultOperator } from '../fault';
import { filtersOf, withRules } from './filters';

export const filterTooLax: DrawingFaultOperator = {
  kind: 'filterTooLax',
  title: 'A filter denies too little',
  *faultsIn(topology) {
    const any = { kind: 'any' } as const;
    for (const placed of filtersOf(topology)) {
      const { key, device, filter } = placed;
      yield {
        at: { device: placed.id },
        text: `The ${filterWords(key)} of ${device.name} lets everything through by its first rule.`,
        commands: [withRules(placed, [{ action: 'permit', proto: 'ip', src: any, dst: any }, ...filter.rules])],
      };
      for (const [at, rule] of filter.rules.entries())
        if (rule.action === 'deny' && rule.enabled !== false)
          yield {
            at: { device: placed.id },
            text: `Rule ${at + 1} of the ${filterWords(key)} of ${device.name}, which denies something, is missing.`,
            commands: [
              withRules(
                placed,
                filter.rules.filter((_rule, index) => index !== at),
              ),
            ],
          };
    }
  },
};

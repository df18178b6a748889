import { fittingMedium } from '../../engine';
import { type DrawingFaultOperator } from '../fault';
import { linkName, pluggedEnds } from '../places';

/** Straight for crossover and the other way round (IEEE 802.3 clause 14.5.2). Ports that find their pairing hide it. */
export const wrongCable: DrawingFaultOperator = {
  kind: 'wrongCable',
  title: 'The wrong cable joins two devices',
  *faultsIn(topology) {
    for (const { link, cable, side, facts, otherFacts } of pluggedEnds(topology)) {
      if (side === 'b' || (cable.medium !== 'straight' && cable.medium !== 'crossover')) continue;
      const right = fittingMedium({ ...facts, auto: false }, { ...otherFacts, auto: false });
      const medium = right === 'straight' ? 'crossover' : 'straight';
      if (right !== null && cable.medium !== medium)
        yield {
          at: { link },
          text: `${linkName(topology, cable)} is a ${medium === 'straight' ? 'straight-through' : 'crossover'} cable, and should not be.`,
          commands: [{ kind: 'setLink', id: link, set: { medium } }],
        };
    }
  },
};

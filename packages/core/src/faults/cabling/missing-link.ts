import { entriesById } from '../../topology';
import { type DrawingFaultOperator } from '../fault';
import { linkName } from '../places';

export const missingLink: DrawingFaultOperator = {
  kind: 'missingLink',
  title: 'A link is missing',
  *faultsIn(topology) {
    for (const [id, link] of entriesById(topology.links))
      yield {
        at: { device: link.a.device },
        text: `The link ${linkName(topology, link)} is missing.`,
        commands: [{ kind: 'disconnect', ids: [id] }],
      };
  },
};

import { type DrawingFaultOperator } from '../fault';
import { endPlace, pluggedEnds } from '../places';
import { fastest, otherPorts, plugInto } from './replugging';

export const slowPort: DrawingFaultOperator = {
  kind: 'slowPort',
  title: 'A slow port is cabled to a fast one',
  *faultsIn(topology) {
    for (const plugged of pluggedEnds(topology)) {
      const slower = otherPorts(topology, plugged).find(
        (port) => fastest(port) < Math.min(fastest(plugged.facts), fastest(plugged.otherFacts)),
      );
      if (slower)
        yield {
          at: endPlace(plugged),
          text: `The link is in ${plugged.device.name} ${slower.key}, a slower port than the one at its other end.`,
          commands: [plugInto(plugged, slower)],
        };
    }
  },
};

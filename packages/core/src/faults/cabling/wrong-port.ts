import { type DrawingFaultOperator } from '../fault';
import { endPlace, pluggedEnds } from '../places';
import { fastest, otherPorts, plugInto } from './replugging';

export const wrongPort: DrawingFaultOperator = {
  kind: 'wrongPort',
  title: 'A link is in the wrong port',
  *faultsIn(topology) {
    for (const plugged of pluggedEnds(topology)) {
      const like = otherPorts(topology, plugged).find((port) => fastest(port) === fastest(plugged.facts));
      if (like)
        yield {
          at: endPlace(plugged),
          text: `The link is in ${plugged.device.name} ${like.key} instead of ${plugged.end.port}.`,
          commands: [plugInto(plugged, like)],
        };
    }
  },
};

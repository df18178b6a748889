import { entriesById } from '../../topology';
import { type DrawingFaultOperator } from '../fault';
import { devicesOf } from '../places';

export const unconnectedDevice: DrawingFaultOperator = {
  kind: 'unconnectedDevice',
  title: 'A device is drawn but connected to nothing',
  *faultsIn(topology) {
    const links = entriesById(topology.links);
    for (const { id, device } of devicesOf(topology)) {
      const ids = links.filter(([, { a, b }]) => a.device === id || b.device === id).map(([link]) => link);
      if (ids.length)
        yield {
          at: { device: id },
          text: `${device.name} is connected to nothing.`,
          commands: [{ kind: 'disconnect', ids }],
        };
    }
  },
};

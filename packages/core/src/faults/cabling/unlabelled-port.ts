import { entriesById } from '../../topology';
import { type DrawingFaultOperator } from '../fault';
import { devicesOf } from '../places';

export const unlabelledPort: DrawingFaultOperator = {
  kind: 'unlabelledPort',
  title: 'A port has no label',
  *faultsIn(topology) {
    for (const { id, device } of devicesOf(topology))
      for (const [port, { label }] of entriesById(device.ports))
        if (label !== undefined)
          yield {
            at: { device: id, port },
            text: `${device.name} ${port} has no label.`,
            commands: [{ kind: 'changePort', device: id, port, set: { label: null } }],
          };
  },
};

import { rename } from '../../editing';
import { type DrawingFaultOperator } from '../fault';
import { devicesOf } from '../places';

export const duplicateName: DrawingFaultOperator = {
  kind: 'duplicateName',
  title: 'Two devices have one name',
  *faultsIn(topology) {
    const devices = devicesOf(topology);
    for (const { id, device, model } of devices) {
      const other = devices.find((each) => each.model.kind === model.kind && each.device.name !== device.name);
      if (other)
        yield {
          at: { device: id },
          text: `Two devices are called ${other.device.name}.`,
          commands: rename(topology, id, other.device.name),
        };
    }
  },
};

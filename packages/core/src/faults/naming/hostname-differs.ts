import { type DrawingFaultOperator } from '../fault';
import { devicesOf } from '../places';

export const hostnameDiffers: DrawingFaultOperator = {
  kind: 'hostnameDiffers',
  title: 'A name differs from the hostname',
  *faultsIn(topology) {
    for (const { id, device } of devicesOf(topology)) {
      const hostname = `${device.name}-old`;
      if (device.settings?.hostname !== undefined && hostname.length <= 80)
        yield {
          at: { device: id },
          text: `${device.name} calls itself ${hostname}.`,
          commands: [{ kind: 'setSettings', device: id, set: { hostname } }],
        };
    }
  },
};

import { type DrawingFaultOperator } from '../fault';
import { devicesOf } from '../places';

export const missingDevice: DrawingFaultOperator = {
  kind: 'missingDevice',
  title: 'A device is missing',
  *faultsIn(topology) {
    for (const { id, device } of devicesOf(topology))
      yield { at: {}, text: `${device.name} is missing.`, commands: [{ kind: 'removeDevices', ids: [id] }] };
  },
};

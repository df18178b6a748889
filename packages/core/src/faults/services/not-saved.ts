import { type DrawingFaultOperator } from '../fault';
import { devicesOf } from '../places';

export const notSaved: DrawingFaultOperator = {
  kind: 'notSaved',
  title: 'The configuration is not saved',
  *faultsIn(topology) {
    for (const { id, device } of devicesOf(topology)) {
      const { management } = device.settings ?? {};
      if (management && management.saved !== false)
        yield {
          at: { device: id },
          text: `${device.name} forgets its configuration when it is switched off.`,
          commands: [{ kind: 'setSettings', device: id, set: { management: { ...management, saved: false } } }],
        };
    }
  },
};

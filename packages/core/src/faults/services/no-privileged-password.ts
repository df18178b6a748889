import { type DrawingFaultOperator } from '../fault';
import { devicesOf } from '../places';

export const noPrivilegedPassword: DrawingFaultOperator = {
  kind: 'noPrivilegedPassword',
  title: 'The privileged mode has no password',
  *faultsIn(topology) {
    for (const { id, device } of devicesOf(topology)) {
      const { management } = device.settings ?? {};
      if (management && management.privileged !== 'none')
        yield {
          at: { device: id },
          text: `${device.name} lets everybody change everything: there is no privileged password.`,
          commands: [{ kind: 'setSettings', device: id, set: { management: { ...management, privileged: 'none' } } }],
        };
    }
  },
};

import { type DrawingFaultOperator } from '../fault';
import { devicesOf } from '../places';

export const noPrivilegedPassword: DrawingFaultOperator = {
  kind: 'noPrivilegedPassword',
  title: 'No password for changing settings',
  *faultsIn(topology) {
    for (const { id, device } of devicesOf(topology)) {
      const { management } = device.settings ?? {};
      if (management && management.privileged !== 'none')
        yield {
          at: { device: id },
          text: `${device.name} lets everybody change everything: there is no password for changing settings.`,
          commands: [{ kind: 'setSettings', device: id, set: { management: { ...management, privileged: 'none' } } }],
        };
    }
  },
};

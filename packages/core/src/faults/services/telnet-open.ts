import { type DrawingFaultOperator } from '../fault';
import { devicesOf } from '../places';

export const telnetOpen: DrawingFaultOperator = {
  kind: 'telnetOpen',
  title: 'Telnet is open',
  *faultsIn(topology) {
    for (const { id, device } of devicesOf(topology)) {
      const { management } = device.settings ?? {};
      if (management && management.telnet !== true)
        yield {
          at: { device: id },
          text: `${device.name} is reached by telnet, which anybody on the way can read.`,
          commands: [{ kind: 'setSettings', device: id, set: { management: { ...management, telnet: true } } }],
        };
    }
  },
};

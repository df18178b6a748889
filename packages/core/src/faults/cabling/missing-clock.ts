import { type DrawingFaultOperator } from '../fault';
import { endPlace, pluggedEnds } from '../places';

export const missingClock: DrawingFaultOperator = {
  kind: 'missingClock',
  title: 'Nobody gives the clock on a serial link',
  *faultsIn(topology) {
    for (const plugged of pluggedEnds(topology)) {
      const { device, port } = plugged.end;
      if (plugged.cable.medium === 'serial' && plugged.device.ports?.[port]?.clockEnd)
        yield {
          at: endPlace(plugged),
          text: `${plugged.device.name} ${port} gives no clock, and neither does the other end.`,
          commands: [{ kind: 'changePort', device, port, set: { clockEnd: null } }],
        };
    }
  },
};

import { type DrawingFaultOperator } from '../fault';
import { endPlace, pluggedEnds } from '../places';

export const portOff: DrawingFaultOperator = {
  kind: 'portOff',
  title: 'A port is left off',
  *faultsIn(topology) {
    for (const plugged of pluggedEnds(topology)) {
      const { device, port } = plugged.end;
      if (plugged.device.ports?.[port]?.enabled !== false)
        yield {
          at: endPlace(plugged),
          text: `${plugged.device.name} ${port} is switched off.`,
          commands: [{ kind: 'changePort', device, port, set: { enabled: false } }],
        };
    }
  },
};

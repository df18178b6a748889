import { type DrawingFaultOperator } from '../fault';
import { routersOf } from '../places';

export const forwardingOff: DrawingFaultOperator = {
  kind: 'forwardingOff',
  title: 'A router does not forward',
  *faultsIn(topology) {
    for (const { id, device } of routersOf(topology))
      for (const family of ['v4', 'v6'] as const)
        if (device.settings?.forwarding?.[family] !== false)
          yield {
            at: { device: id },
            text: `${device.name} does not forward IP${family}.`,
            commands: [
              {
                kind: 'setSettings',
                device: id,
                set: { forwarding: { ...device.settings?.forwarding, [family]: false } },
              },
            ],
          };
  },
};

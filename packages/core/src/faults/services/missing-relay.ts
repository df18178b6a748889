import { entriesById } from '../../topology';
import { type DrawingFaultOperator } from '../fault';
import { devicesOf } from '../places';

export const missingRelay: DrawingFaultOperator = {
  kind: 'missingRelay',
  title: 'A DHCP relay is missing',
  *faultsIn(topology) {
    for (const { id, device } of devicesOf(topology))
      for (const [key, { relays }] of entriesById(device.interfaces))
        if (relays?.length)
          yield {
            at: { device: id, port: key },
            text: `${device.name} ${key} passes no DHCP questions on.`,
            commands: [{ kind: 'changeInterface', device: id, key, set: { relays: null } }],
          };
  },
};

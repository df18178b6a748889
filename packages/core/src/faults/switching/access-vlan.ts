import { changeRole } from '../../editing';
import { type DrawingFaultOperator } from '../fault';
import { endPlace } from '../places';
import { bridgedEnds, vlansOf } from './ports';

export const accessVlan: DrawingFaultOperator = {
  kind: 'accessVlan',
  title: 'The VLAN of a port is wrong',
  *faultsIn(topology) {
    const vlans = vlansOf(topology);
    for (const plugged of bridgedEnds(topology)) {
      const { role, end, device } = plugged;
      const now = role.accessVlan ?? 1;
      const other = vlans.find((vlan) => vlan !== now) ?? now + 1;
      if (role.mode === 'access')
        yield {
          at: { ...endPlace(plugged), vlan: other },
          text: `${device.name} ${end.port} is in VLAN ${other} instead of ${now}.`,
          commands: [changeRole(device, end.device, end.port, { accessVlan: other })],
        };
    }
  },
};

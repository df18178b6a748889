import { changeRole } from '../../editing';
import { type DrawingFaultOperator } from '../fault';
import { endPlace } from '../places';
import { bridgedEnds, vlansOf } from './ports';

export const nativeVlan: DrawingFaultOperator = {
  kind: 'nativeVlan',
  title: 'The native VLAN differs at the ends of a trunk',
  *faultsIn(topology) {
    const vlans = vlansOf(topology);
    for (const plugged of bridgedEnds(topology)) {
      const { role, end, device } = plugged;
      const now = role.native ?? 1;
      const other = vlans.find((vlan) => vlan !== now) ?? now + 1;
      if (role.mode === 'trunk')
        yield {
          at: { ...endPlace(plugged), vlan: other },
          text: `The native VLAN of ${device.name} ${end.port} is ${other} instead of ${now}.`,
          commands: [changeRole(device, end.device, end.port, { native: other })],
        };
    }
  },
};

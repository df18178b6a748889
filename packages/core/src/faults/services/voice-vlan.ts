import { changeRole } from '../../editing';
import { type DrawingFaultOperator } from '../fault';
import { endPlace } from '../places';
import { bridgedEnds } from '../switching/ports';

export const voiceVlan: DrawingFaultOperator = {
  kind: 'voiceVlan',
  title: 'A port has no voice VLAN',
  *faultsIn(topology) {
    for (const plugged of bridgedEnds(topology)) {
      const { role, end, device } = plugged;
      if (role.voiceVlan !== undefined)
        yield {
          at: { ...endPlace(plugged), vlan: role.voiceVlan },
          text: `${device.name} ${end.port} tells its phone no voice VLAN.`,
          commands: [changeRole(device, end.device, end.port, { voiceVlan: undefined })],
        };
    }
  },
};

import { changeRole } from '../../editing';
import { type DrawingFaultOperator } from '../fault';
import { endPlace } from '../places';
import { bridgedEnds, vlansOf } from './ports';

export const trunkWithoutVlan: DrawingFaultOperator = {
  kind: 'trunkWithoutVlan',
  title: 'A trunk does not carry a VLAN',
  *faultsIn(topology) {
    const all = vlansOf(topology);
    for (const plugged of bridgedEnds(topology)) {
      const { role, end, device } = plugged;
      if (role.mode !== 'trunk') continue;
      const carried = role.allowed === undefined || role.allowed === 'all' ? all : role.allowed;
      for (const vlan of carried)
        yield {
          at: { ...endPlace(plugged), vlan },
          text: `${device.name} ${end.port} does not carry VLAN ${vlan}.`,
          commands: [changeRole(device, end.device, end.port, { allowed: carried.filter((each) => each !== vlan) })],
        };
    }
  },
};

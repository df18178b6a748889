import { type DrawingFaultOperator } from '../fault';
import { switchesOf } from '../places';

export const vlanNotCreated: DrawingFaultOperator = {
  kind: 'vlanNotCreated',
  title: 'A VLAN is not created on a switch',
  *faultsIn(topology) {
    for (const { id, device } of switchesOf(topology))
      for (const vlan of Object.keys(device.settings?.vlans ?? {})) {
        const { [vlan]: _gone, ...vlans } = device.settings?.vlans ?? {};
        yield {
          at: { device: id, vlan: Number(vlan) },
          text: `VLAN ${vlan} is not created on ${device.name}.`,
          commands: [{ kind: 'setSettings', device: id, set: { vlans: Object.keys(vlans).length ? vlans : null } }],
        };
      }
  },
};

import { cableBetween, countUp, hasFreePort, takenNames } from '../../editing';
import { entryOf } from '../../topology';
import { type DrawingFaultOperator } from '../fault';
import { devicesOf, pluggedEnds } from '../places';

export const copiedDevice: DrawingFaultOperator = {
  kind: 'copiedDevice',
  title: 'A copy of a device kept the address',
  *faultsIn(topology) {
    const ends = [...pluggedEnds(topology)];
    for (const { id, device, model } of devicesOf(topology)) {
      if (model.class !== 'end' || device.members || !device.interfaces) continue;
      const peer = ends.find(({ end }) => end.device === id)?.other;
      const copy = `${id}-copy`;
      if (!peer || entryOf(topology.devices, copy) || !hasFreePort(topology, { device: peer.device })) continue;
      const name = countUp(device.name, takenNames(topology));
      const added = { ...device, name, at: { x: device.at.x + 40, y: device.at.y + 40 } };
      const drawn = { ...topology, devices: { ...topology.devices, [copy]: added } };
      const link = cableBetween(drawn, { device: copy }, { device: peer.device });
      if (!link) continue;
      yield {
        at: { device: copy },
        text: `${name} is a copy of ${device.name}, and still has its address.`,
        commands: [
          { kind: 'addDevice', id: copy, device: added },
          { kind: 'connect', id: `${copy}-link`, link },
        ],
      };
    }
  },
};

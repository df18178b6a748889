import { entriesById } from '../../topology';
import { type DrawingFaultOperator } from '../fault';
import { devicesOf } from '../places';

export const natSides: DrawingFaultOperator = {
  kind: 'natSides',
  title: 'Inside and outside of a translation are mixed up',
  *faultsIn(topology) {
    for (const { id, device } of devicesOf(topology))
      for (const [key, { natSide }] of entriesById(device.interfaces))
        if (natSide !== undefined) {
          const other = natSide === 'inside' ? 'outside' : 'inside';
          yield {
            at: { device: id, port: key },
            text: `${device.name} ${key} is the ${other} of the translation instead of its ${natSide}.`,
            commands: [{ kind: 'changeInterface', device: id, key, set: { natSide: other } }],
          };
        }
  },
};

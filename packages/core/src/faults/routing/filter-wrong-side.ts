import { entriesById } from '../../topology';
import { type DrawingFaultOperator } from '../fault';
import { devicesOf } from '../places';

const SIDES = [
  ['filterIn4', 'filterOut4'],
  ['filterOut4', 'filterIn4'],
  ['filterIn6', 'filterOut6'],
  ['filterOut6', 'filterIn6'],
] as const;

export const filterWrongSide: DrawingFaultOperator = {
  kind: 'filterWrongSide',
  title: 'A filter sits on the wrong side',
  *faultsIn(topology) {
    for (const { id, device } of devicesOf(topology))
      for (const [key, interfaceConfig] of entriesById(device.interfaces))
        for (const [right, wrong] of SIDES)
          if (interfaceConfig[right] !== undefined && interfaceConfig[wrong] === undefined)
            yield {
              at: { device: id, port: key },
              text: `${device.name} ${key} asks its filter for what ${wrong.includes('In') ? 'comes in' : 'goes out'}, and should for the other way.`,
              commands: [
                { kind: 'changeInterface', device: id, key, set: { [right]: null, [wrong]: interfaceConfig[right] } },
              ],
            };
  },
};

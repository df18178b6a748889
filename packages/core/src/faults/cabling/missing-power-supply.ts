import { entriesById } from '../../topology';
import { type DrawingFaultOperator } from '../fault';
import { devicesOf } from '../places';

export const missingPowerSupply: DrawingFaultOperator = {
  kind: 'missingPowerSupply',
  title: 'A power supply is missing',
  *faultsIn(topology) {
    for (const { id, device } of devicesOf(topology)) {
      const bays = entriesById(device.modules).filter(([, module]) => module === 'power');
      if (!bays.length) continue;
      const commands = bays.flatMap(([bay]) => ({
        kind: 'edits' as const,
        edits: [{ path: ['devices', id, 'modules', bay] }],
      }));
      yield { at: { device: id }, text: `${device.name} has no power supply.`, commands };
    }
  },
};

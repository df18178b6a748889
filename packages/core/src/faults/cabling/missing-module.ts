import { setModule } from '../../editing';
import { entriesById } from '../../topology';
import { type DrawingFaultOperator } from '../fault';
import { devicesOf } from '../places';

export const missingModule: DrawingFaultOperator = {
  kind: 'missingModule',
  title: 'A module is missing',
  *faultsIn(topology) {
    for (const { id, device } of devicesOf(topology))
      for (const [bay, module] of entriesById(device.modules))
        if (module !== 'power')
          yield {
            at: { device: id },
            text: `${device.name} has nothing in ${bay}, and none of the links that went into it.`,
            commands: setModule(topology, id, bay, null),
          };
  },
};

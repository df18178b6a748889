import { type DrawingFaultOperator } from '../fault';
import { devicesOf } from '../places';

/** A documentation range (RFC 5737), which nobody inside has. */
const NOBODY = '192.0.2.0/24';

export const natSources: DrawingFaultOperator = {
  kind: 'natSources',
  title: 'The sources of a translation are wrong',
  *faultsIn(topology) {
    for (const { id, device } of devicesOf(topology)) {
      const nat = device.settings?.nat ?? [];
      for (const [at, rule] of nat.entries())
        if (rule.sources?.length)
          yield {
            at: { device: id },
            text: `Translation ${at + 1} of ${device.name} is for ${NOBODY}, whom nobody has.`,
            commands: [
              {
                kind: 'setSettings',
                device: id,
                set: { nat: nat.map((each, index) => (index === at ? { ...each, sources: [NOBODY] } : each)) },
              },
            ],
          };
    }
  },
};

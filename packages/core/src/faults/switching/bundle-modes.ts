import { entriesById } from '../../topology';
import { type DrawingFaultOperator } from '../fault';
import { devicesOf } from '../places';

/** A bundle that waits for the other end, or that asks nobody, forms with no end that does otherwise (IEEE 802.1AX §6.4). */
export const bundleModes: DrawingFaultOperator = {
  kind: 'bundleModes',
  title: 'The modes of a bundle do not form it',
  *faultsIn(topology) {
    for (const { id, device } of devicesOf(topology))
      for (const [key, bundle] of entriesById(device.settings?.bundles)) {
        const protocol = bundle.protocol === 'static' ? 'active' : 'static';
        yield {
          at: { device: id },
          text: `The bundle ${key} of ${device.name} is ${protocol}, and its other end is not.`,
          commands: [
            {
              kind: 'setSettings',
              device: id,
              set: { bundles: { ...device.settings?.bundles, [key]: { ...bundle, protocol } } },
            },
          ],
        };
      }
  },
};

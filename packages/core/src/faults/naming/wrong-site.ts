import { entriesById } from '../../topology';
import { type DrawingFaultOperator } from '../fault';
import { devicesOf } from '../places';

export const wrongSite: DrawingFaultOperator = {
  kind: 'wrongSite',
  title: 'A device is at the wrong site',
  *faultsIn(topology) {
    const sites = entriesById(topology.sites);
    for (const { id, device } of devicesOf(topology)) {
      const [other] = sites.filter(([site]) => site !== device.site);
      if (device.site !== undefined && other)
        yield {
          at: { device: id },
          text: `${device.name} stands at ${other[1].name} instead of ${topology.sites[device.site]?.name ?? 'its own site'}.`,
          commands: [{ kind: 'setDevice', id, set: { site: other[0] } }],
        };
    }
  },
};

import { entriesById } from '../../topology';
import { type DrawingFaultOperator } from '../fault';
import { routersOf } from '../places';

/** Routers of one wire that name different areas do not become neighbours (RFC 2328 §8.2). */
export const ospfArea: DrawingFaultOperator = {
  kind: 'ospfArea',
  title: 'An OSPF area is wrong',
  *faultsIn(topology) {
    for (const { id, device } of routersOf(topology)) {
      const { ospf } = device.settings ?? {};
      for (const [at, { prefix, area }] of (ospf?.networks ?? []).entries()) {
        const networks = ospf!.networks!.map((each, index) => (index === at ? { ...each, area: area + 1 } : each));
        yield {
          at: { device: id },
          text: `${device.name} has ${prefix} in OSPF area ${area + 1} instead of ${area}.`,
          commands: [{ kind: 'setSettings', device: id, set: { ospf: { ...ospf, networks } } }],
        };
      }
      for (const [key, interfaceConfig] of entriesById(device.interfaces))
        for (const version of ['ospf', 'ospf6'] as const) {
          const area = interfaceConfig[version]?.area;
          if (area !== undefined)
            yield {
              at: { device: id, port: key },
              text: `${device.name} ${key} is in OSPF area ${area + 1} instead of ${area}.`,
              commands: [
                {
                  kind: 'changeInterface',
                  device: id,
                  key,
                  set: { [version]: { ...interfaceConfig[version], area: area + 1 } },
                },
              ],
            };
        }
    }
  },
};

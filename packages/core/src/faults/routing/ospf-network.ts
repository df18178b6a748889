import { type DrawingFaultOperator } from '../fault';
import { routersOf } from '../places';

export const ospfNetwork: DrawingFaultOperator = {
  kind: 'ospfNetwork',
  title: 'OSPF does not speak of a subnet',
  *faultsIn(topology) {
    for (const { id, device } of routersOf(topology)) {
      const { ospf } = device.settings ?? {};
      for (const { prefix } of ospf?.networks ?? [])
        yield {
          at: { device: id },
          text: `OSPF of ${device.name} does not name ${prefix}.`,
          commands: [
            {
              kind: 'setSettings',
              device: id,
              set: { ospf: { ...ospf, networks: ospf!.networks!.filter((each) => each.prefix !== prefix) } },
            },
          ],
        };
    }
  },
};

import { type DrawingFaultOperator } from '../fault';
import { devicesOf } from '../places';

export const missingRoute: DrawingFaultOperator = {
  kind: 'missingRoute',
  title: 'A route, there or back, is missing',
  *faultsIn(topology) {
    for (const { id, device } of devicesOf(topology))
      for (const [at, route] of (device.settings?.routes ?? []).entries()) {
        const routes = device.settings!.routes!.filter((_route, index) => index !== at);
        yield {
          at: { device: id },
          text: `${device.name} has no route to ${route.prefix}.`,
          commands: [{ kind: 'setSettings', device: id, set: { routes: routes.length ? routes : null } }],
        };
      }
  },
};

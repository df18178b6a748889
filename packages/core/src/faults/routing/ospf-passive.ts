import { entriesById } from '../../topology';
import { type DrawingFaultOperator } from '../fault';
import { pluggedEnds, routersOf } from '../places';

/** A passive interface sends no hellos: its subnet is told, and nobody behind it becomes a neighbour. */
export const ospfPassive: DrawingFaultOperator = {
  kind: 'ospfPassive',
  title: 'An interface towards a router is passive',
  *faultsIn(topology) {
    const routers = new Set(routersOf(topology).map(({ id }) => id));
    const ends = [...pluggedEnds(topology)];
    for (const { id, device } of routersOf(topology))
      for (const [key, face] of entriesById(device.interfaces)) {
        const { on } = face;
        const port = on.kind === 'port' || on.kind === 'sub' ? on.port : null;
        const facing = ends.find(({ end }) => end.device === id && end.port === port);
        if (!facing || !routers.has(facing.other.device)) continue;
        for (const version of ['ospf', 'ospf6'] as const)
          if (device.settings?.[version] && !face[version]?.passive)
            yield {
              at: { device: id, port: key },
              text: `${device.name} ${key} is passive, and hears nothing of the router behind it.`,
              commands: [
                { kind: 'changeInterface', device: id, key, set: { [version]: { ...face[version], passive: true } } },
              ],
            };
      }
  },
};

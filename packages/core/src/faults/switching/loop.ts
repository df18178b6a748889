import { cableBetween, changePort } from '../../editing';
import { entryOf } from '../../topology';
import { type DrawingFaultOperator } from '../fault';
import { linkName } from '../places';
import { bridgedEnds } from './ports';

/** Without a spanning tree (IEEE 802.1Q clause 13) a second cable between two switches closes a circle. */
export const loop: DrawingFaultOperator = {
  kind: 'loop',
  title: 'A loop without spanning tree',
  *faultsIn(topology) {
    const ends = [...bridgedEnds(topology)];
    for (const { link, side, cable } of ends) {
      if (side === 'b' || !ends.some((end) => end.link === link && end.side === 'b')) continue;
      const [a, b] = [cable.a.device, cable.b.device];
      const second = a === b ? null : cableBetween(topology, { device: a }, { device: b });
      const id = `${link}-loop`;
      if (!second || entryOf(topology.links, id)) continue;
      const off = [a, b].map((device) => {
        const { spanningTree } = topology.devices[device]!.settings ?? {};
        return { kind: 'setSettings' as const, device, set: { spanningTree: { ...spanningTree, on: false } } };
      });
      // The second cable carries the VLANs of the first.
      const roles = (['a', 'b'] as const).map((end) =>
        changePort(second[end].device, second[end].port, {
          role: topology.devices[cable[end].device]!.ports?.[cable[end].port]?.role,
        }),
      );
      yield {
        at: { link: id },
        text: `${linkName(topology, { ...cable, ...second })} closes a loop, and neither switch runs the spanning tree.`,
        commands: [...off, ...roles, { kind: 'connect', id, link: second }],
      };
    }
  },
};

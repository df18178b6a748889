import { type DrawingFaultOperator } from '../fault';
import { pluggedEnds, switchesOf } from '../places';

/** The bridge with the least priority is the root of the spanning tree (IEEE 802.1Q §13.10). */
export const edgeRoot: DrawingFaultOperator = {
  kind: 'edgeRoot',
  title: 'An edge switch is the root of the spanning tree',
  *faultsIn(topology) {
    const switches = new Set(switchesOf(topology).map(({ id }) => id));
    const ends = [...pluggedEnds(topology)];
    for (const { id, device } of switchesOf(topology)) {
      const peers = ends.filter(({ end }) => end.device === id).map(({ other }) => other.device);
      const bridges = new Set(peers.filter((peer) => switches.has(peer)));
      if (bridges.size !== 1 || peers.length < 2 || device.settings?.spanningTree?.on === false) continue;
      const spanningTree = { ...device.settings?.spanningTree, priority: 0 };
      yield {
        at: { device: id },
        text: `${device.name} stands at the edge, and is the root of the spanning tree.`,
        commands: [{ kind: 'setSettings', device: id, set: { spanningTree } }],
      };
    }
  },
};

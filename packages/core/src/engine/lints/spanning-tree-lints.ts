import { type Instance, instanceId, type Reason } from '../devices';
import { type NetworkModel } from '../analysis';
import { type Physical, portId } from '../physical';
import { type Tree, type TreeBridge } from '../datalink';

/** What is unlikely to be meant of spanning trees: a root that chance or the edge has won, a VLAN that a tree cuts. */
export const treeLintsOf = (model: NetworkModel): Reason[] => [...roots(model), ...cutVlans(model)];

/** Roots, only where a tree has a loop to break: elsewhere it does not matter which switch is the root. */
function roots({ instances, layer1, layer2 }: NetworkModel): Reason[] {
  const [tree] = layer2.tree.trees;
  const atHosts = switchesAtHosts(layer1, instances);
  const name = (id: string): string => instances.get(id)!.name;
  return partsOf(tree!).flatMap((bridges): Reason[] => {
    const root = bridges.find((bridge) => bridge.instance === bridge.root)!;
    const rivals = bridges.filter((bridge) => bridge.priority === root.priority);
    const middle = bridges.filter((bridge) => !atHosts.has(bridge.instance));
    const better = middle.length === 1 ? name(middle[0]!.instance) : 'a switch in the middle';
    const at = { device: root.instance };
    if (rivals.length > 1)
      return [
        {
          code: 'ROOT_BY_CHANCE',
          text: `${listed(rivals.map((rival) => name(rival.instance)))} have the same spanning-tree priority, so their hardware addresses made ${name(root.instance)} the root: give ${better} a lower priority.`,
          at,
        },
      ];
    return atHosts.has(root.instance) && middle.length
      ? [
          {
            code: 'ROOT_AT_EDGE',
            text: `${name(root.instance)}, where hosts are connected, is the root of the spanning tree: give ${better} a lower priority.`,
            at,
          },
        ]
      : [];
  });
}

/** The bridges under each root, of trees that block a port. */
function partsOf({ bridges, ports }: Tree): TreeBridge[][] {
  const parts = new Map<string, TreeBridge[]>();
  for (const bridge of bridges.values()) parts.set(bridge.root, [...(parts.get(bridge.root) ?? []), bridge]);
  const looped = new Set(
    [...ports.values()]
      .filter(({ role }) => role === 'alternate' || role === 'backup')
      .map(({ instance }) => bridges.get(instance)!.root),
  );
  return [...parts].flatMap(([root, list]) => (looped.has(root) && list.length > 1 ? [list] : []));
}

function switchesAtHosts({ channels }: Physical, instances: ReadonlyMap<string, Instance>): Set<string> {
  const found = new Set<string>();
  for (const { a, b } of channels)
    for (const [mine, other] of [
      [a, b],
      [b, a],
    ] as const)
      if (instances.get(instanceId(other))?.model.class === 'end') found.add(instanceId(mine));
  return found;
}

const MOST_NAMES = 4;
function listed(names: readonly string[]): string {
  if (names.length > MOST_NAMES)
    return `${names.slice(0, MOST_NAMES).join(', ')} and ${names.length - MOST_NAMES} more`;
  return `${names.slice(0, -1).join(', ')} and ${names.at(-1)}`;
}

/** VLANs that go over a link which the tree blocks, and over no other way: one tree for all takes no heed of lists. */
function cutVlans({ instances, layer1, layer2 }: NetworkModel): Reason[] {
  return layer1.channels.flatMap(({ id: link, a, b }): Reason[] => {
    if (!layer1.links.get(link)?.up) return [];
    const ends = [a, b].map((end) => ({ id: instanceId(end), port: end.port }));
    const [here, there] = ends as [(typeof ends)[0], (typeof ends)[0]];
    const theirs = layer2.vlansAt(there.id, there.port);
    const vlans = layer2.vlansAt(here.id, here.port).filter((vlan) => {
      if (!theirs.includes(vlan)) return false;
      const roles = ends.map(({ id, port }) => layer2.tree.treeOf(vlan).ports.get(portId(id, port))?.role);
      if (!roles.includes('alternate')) return false;
      const points = ends.map(({ id }) => layer2.vlanPoint(id, vlan));
      return points.every((point) => point) && !layer2.hears(points[0]!.point, points[1]!.point);
    });
    if (!vlans.length) return [];
    const which = vlans.length === 1 ? `VLAN ${vlans[0]} is` : `VLANs ${vlans.join(', ')} are`;
    return [
      {
        code: 'VLAN_CUT',
        text: `${which} cut in two: the spanning tree blocks the link between ${instances.get(here.id)!.name} ${here.port} and ${instances.get(there.id)!.name} ${there.port}, and the other ways do not carry ${vlans.length === 1 ? 'it' : 'them'}.`,
        at: { link },
      },
    ];
  });
}

import { type Topology } from '../../topology';
import { type DataLink } from '../datalink';
import { type Instance, instanceId, interfaceMac } from '../devices';
import { type Node } from './node';

/** An address that a bridge has heard, by VLAN and port (IEEE 802.1Q 8.7). */
export interface Heard {
  readonly vlan: number;
  readonly mac: string;
  readonly port: string;
  /** The name of the device that has it. */
  readonly device: string;
}

/** What a bridge has heard once everybody has talked to everybody, VLAN by VLAN. */
export function heardBy(
  topology: Topology,
  layer2: DataLink,
  nodes: ReadonlyMap<string, Node>,
  instance: Instance,
): Heard[] {
  const vlans = new Set([...instance.ports.keys()].flatMap((port) => layer2.vlansAt(instance.id, port)));
  const portOf = (link: string): string | undefined => {
    const { a, b } = topology.links[link]!;
    return [a, b].find((end) => instanceId(end) === instance.id)?.port;
  };
  return [...vlans]
    .sort((a, b) => a - b)
    .flatMap((vlan) => {
      const here = layer2.vlanPoint(instance.id, vlan);
      if (!here) return [];
      return [...nodes.values()].flatMap((other) =>
        other.interfaceStates.flatMap((interfaceState) => {
          const { up, point } = interfaceState;
          if (other.instance === instance || !up || point === null || !layer2.hears(point, here.point)) return [];
          // Hubs and passive devices join several links: one of them is here.
          const port = layer2
            .way(here.point, point)
            .flatMap((step) => (step.kind === 'link' ? (portOf(step.link) ?? []) : []))[0];
          return port === undefined
            ? []
            : [{ vlan, mac: interfaceMac(other.instance, interfaceState), port, device: other.instance.name }];
        }),
      );
    });
}

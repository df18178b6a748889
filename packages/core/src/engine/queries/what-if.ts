import { type Topology } from '../../topology';

/** Something that can be switched off for a moment. */
export type Switchable =
  | { readonly kind: 'device'; readonly id: string }
  | { readonly kind: 'link'; readonly id: string }
  | { readonly kind: 'port'; readonly device: string; readonly port: string }
  | { readonly kind: 'filter'; readonly device: string; readonly filter: string };

/** A drawing in which some parts are off: without power, cut, shut, or let through. */
export function switchedOff(topology: Topology, parts: readonly Switchable[]): Topology {
  const [devices, links] = [{ ...topology.devices }, { ...topology.links }];
  for (const part of parts)
    switch (part.kind) {
      case 'device':
        if (devices[part.id]) devices[part.id] = { ...devices[part.id]!, powered: false };
        break;
      case 'link':
        if (links[part.id]) links[part.id] = { ...links[part.id]!, broken: true };
        break;
      case 'port': {
        const device = devices[part.device];
        if (!device) break;
        const ports = { ...device.ports, [part.port]: { ...device.ports?.[part.port], enabled: false } };
        devices[part.device] = { ...device, ports };
        break;
      }
      case 'filter': {
        const device = devices[part.device];
        if (!device) break;
        const interfaces = Object.fromEntries(
          Object.entries(device.interfaces ?? {}).map(([key, one]) => [
            key,
            Object.fromEntries(
              Object.entries(one).filter(([name, value]) => !(name.startsWith('filter') && value === part.filter)),
            ) as typeof one,
          ]),
        );
        devices[part.device] = { ...device, interfaces };
      }
    }
  return { ...topology, devices, links };
}

/** A part as people call it: by the names of devices and their ports. */
export function partName({ devices, links }: Topology, part: Switchable): string {
  const device = (id: string): string => devices[id]?.name ?? id;
  switch (part.kind) {
    case 'device':
      return device(part.id);
    case 'port':
      return `${device(part.device)} ${part.port}`;
    case 'filter':
      return `filter ${part.filter} of ${device(part.device)}`;
    case 'link': {
      const link = links[part.id];
      return link ? [link.a, link.b].map((end) => `${device(end.device)} ${end.port}`).join(' – ') : part.id;
    }
  }
}

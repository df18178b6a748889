import { type Edit } from '../../changes';
import { type Command, type Topology, entryOf, filterWords } from '../../topology';

/** Something that can be switched off for a moment. */
export type Switchable =
  | { readonly kind: 'device'; readonly id: string }
  | { readonly kind: 'link'; readonly id: string }
  | { readonly kind: 'port'; readonly device: string; readonly port: string }
  | { readonly kind: 'filter'; readonly device: string; readonly filter: string };

/** Switches parts of a drawing off: without power, cut, shut, or let through. Those that are not there stay away. */
export const switchOff = ({ devices, links }: Topology, parts: readonly Switchable[]): Command => ({
  kind: 'edits',
  edits: parts.flatMap((part): Edit[] => {
    switch (part.kind) {
      case 'device':
        return entryOf(devices, part.id) ? [{ path: ['devices', part.id, 'powered'], value: false }] : [];
      case 'link':
        return entryOf(links, part.id) ? [{ path: ['links', part.id, 'broken'], value: true }] : [];
      case 'port':
        return entryOf(devices, part.device)
          ? [{ path: ['devices', part.device, 'ports', part.port, 'enabled'], value: false }]
          : [];
      case 'filter':
        return Object.entries(entryOf(devices, part.device)?.interfaces ?? {}).flatMap(([key, settings]) =>
          Object.entries(settings)
            .filter(([name, value]) => name.startsWith('filter') && value === part.filter)
            .map(([name]) => ({ path: ['devices', part.device, 'interfaces', key, name] })),
        );
    }
  }),
});

/** A part as people call it: by the names of devices and their ports. */
export function partName({ devices, links }: Topology, part: Switchable): string {
  const device = (id: string): string => devices[id]?.name ?? id;
  switch (part.kind) {
    case 'device':
      return device(part.id);
    case 'port':
      return `${device(part.device)} ${part.port}`;
    case 'filter':
      return `${filterWords(part.filter)} of ${device(part.device)}`;
    case 'link': {
      const link = links[part.id];
      return link ? [link.a, link.b].map((end) => `${device(end.device)} ${end.port}`).join(' – ') : part.id;
    }
  }
}

import { type Device, type Link, type Topology } from '../topology';

/** A drawing without where things stand on it, how its cables bend and are labelled, and all that is said about it. */
export function withoutLayout(reference: Topology): Topology {
  const { format, version, sites, devices, links, models, fields } = reference;
  return {
    format,
    version,
    sites: mapped(sites, ({ area: _drawn, order: _place, ...site }) => site),
    devices: mapped(devices, ({ label: _label, pinned: _held, group: _moved, layer: _above, ...device }): Device => ({
      ...device,
      at: { x: 0, y: 0 },
    })),
    links: mapped(
      links,
      ({ bends: _bent, labelOffsets: _moved, label: _written, endTexts: _texts, ...link }): Link => link,
    ),
    ...defined({ models, fields }),
  };
}

const mapped = <From, To>(map: Readonly<Record<string, From>>, change: (value: From) => To): Record<string, To> =>
  Object.fromEntries(Object.entries(map).map(([id, value]) => [id, change(value)]));

/** Without what is there and undefined. */
export const defined = <T extends object>(values: T): T =>
  Object.fromEntries(Object.entries(values).filter(([, value]) => value !== undefined)) as T;

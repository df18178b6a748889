import { firstAddressText } from '../drawing';
import { type Topology, entriesById } from '../topology';

const quoted = (text: string): string =>
  `"${text.replaceAll('\\', '\\\\').replaceAll('"', '\\"').replaceAll(/\r?\n/g, '\\n')}"`;
const attributes = (of: Readonly<Record<string, string | number | undefined>>): string =>
  Object.entries(of)
    .flatMap(([key, value]) =>
      value === undefined ? [] : `${key}=${typeof value === 'number' ? value : quoted(value)}`,
    )
    .join(', ');
/** Graphviz counts in inches of 72 points, upwards. */
const POINTS_PER_INCH = 72;

/** A drawing in the DOT language of Graphviz (graphviz.org/doc/info/lang.html): sites are clusters, ports stand at the ends. */
export function writeDot(topology: Topology): string {
  const lines = [`graph ${quoted(topology.title ?? 'drawing')} {`, '  node [shape=box];'];
  const node = (id: string): string => {
    const device = topology.devices[id]!;
    const address = firstAddressText(device);
    const { x, y } = device.at;
    return `${quoted(id)} [${attributes({
      label: [device.name, address].filter(Boolean).join('\n'),
      name: device.name,
      model: device.model,
      address: address ?? undefined,
      pos: `${x / POINTS_PER_INCH},${-y / POINTS_PER_INCH}`,
    })}];`;
  };
  const within = (parent: string | undefined, indent: string): void => {
    for (const [id, site] of entriesById(topology.sites)) {
      if (site.parent !== parent) continue;
      lines.push(`${indent}subgraph ${quoted(`cluster ${id}`)} {`, `${indent}  label=${quoted(site.name)};`);
      within(id, `${indent}  `);
      for (const [device, found] of entriesById(topology.devices))
        if (found.site === id) lines.push(`${indent}  ${node(device)}`);
      lines.push(`${indent}}`);
    }
  };
  within(undefined, '  ');
  for (const [id, { site }] of entriesById(topology.devices)) if (site === undefined) lines.push(`  ${node(id)}`);
  for (const [id, { a, b, medium, cableId, label }] of entriesById(topology.links))
    lines.push(
      `  ${quoted(a.device)} -- ${quoted(b.device)} [${attributes({
        id,
        taillabel: a.port,
        headlabel: b.port,
        label: label ?? cableId,
        medium,
      })}];`,
    );
  return `${[...lines, '}'].join('\n')}\n`;
}

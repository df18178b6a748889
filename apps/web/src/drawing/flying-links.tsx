import { type Box, type Scene, clipped, holds, mediumForm } from '@sobrin/core/drawing';
import { type Topology } from '@sobrin/core/topology';
import { type LinkFact } from '../workers/facts';

/** Up to so many links are drawn one by one while their devices are carried; more of them in a few strokes. */
const FEW = 20;

/** The links of devices that are being carried, where they are many; null else. */
export function manyLinksOf(topology: Topology, ids: readonly string[] | undefined): ReadonlySet<string> | null {
  if (!ids?.length) return null;
  const carried = new Set(ids);
  const links = Object.entries(topology.links).filter(([, { a, b }]) => carried.has(a.device) || carried.has(b.device));
  return links.length > FEW ? new Set(links.map(([id]) => id)) : null;
}

/** Many links on the way: each form is one path, and what is written at them waits. */
export function FlyingLinks({
  scene,
  links,
  area,
  facts,
}: {
  scene: Scene;
  links: ReadonlySet<string>;
  /** What is in sight; null for everything. */
  area: Box | null;
  facts: Readonly<Record<string, LinkFact>> | null;
}) {
  const wires = new Map<string, string[]>();
  const chips = new Map<string, string[]>();
  const put = (into: Map<string, string[]>, key: string, d: string): void => {
    const list = into.get(key);
    if (list) list.push(d);
    else into.set(key, [d]);
  };
  for (const id of links) {
    const line = scene.lines.get(id);
    if (!line || line.medium === 'wireless') continue;
    const [from, to] = line.points;
    // What runs out of sight would make the layer large.
    const seen = area && from && to && line.points.length === 2 ? clipped(from, to, area) : line.points;
    if (!seen) continue;
    const { strokes, squareEnds } = mediumForm({ ...line, points: seen });
    for (const { d, width, core } of strokes) put(wires, `${width}${core ? ' core' : ''}`, d);
    const state = squareEnds ? 'plain' : (facts?.[id]?.state ?? 'plain');
    for (const { x, y } of [line.a, line.b])
      if (!area || holds(area, { x, y })) put(chips, state, `M${x - 4.25} ${y - 4.25}h8.5v8.5h-8.5z`);
  }
  return (
    <svg className="links flying" aria-hidden>
      {[...wires].map(([key, parts]) => (
        <path
          key={key}
          className={`wire${key.endsWith('core') ? ' core' : ''}`}
          strokeWidth={parseFloat(key)}
          d={parts.join('')}
        />
      ))}
      {[...chips].map(([state, parts]) => (
        <path key={state} className={`chip ${state}`} d={parts.join('')} />
      ))}
    </svg>
  );
}

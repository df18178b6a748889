import { byName } from '../../collation';
import { type Topology, entriesById, modelOf } from '../../topology';
import { type Grid, gridOf } from './grid';
import { type NetworkModel } from '../analysis';
import { type Switchable, partName } from './what-if';

/** What is cut off while one part is off. */
export interface Failure {
  readonly part: Switchable;
  readonly name: string;
  /**
   * Pairs that reach one another otherwise, and no more while it is off; those of a device that is off are not
   * counted.
   */
  readonly lost: number;
  readonly of: number;
  /** Devices that lose somebody, those that lose most first. */
  readonly cutOff: readonly string[];
}

/** What can fail alone: devices that others stand behind, then links. */
export const failingParts = (topology: Topology): Switchable[] => [
  ...entriesById(topology.devices)
    .filter(
      ([, device]) => modelOf(topology, device)?.class !== 'end' && modelOf(topology, device)?.class !== 'passive',
    )
    .map(([id]): Switchable => ({ kind: 'device', id })),
  ...entriesById(topology.links).map(([id]): Switchable => ({ kind: 'link', id })),
];

const usual = new WeakMap<NetworkModel, Grid>();
function usualGrid(model: NetworkModel): Grid {
  let grid = usual.get(model);
  if (!grid) usual.set(model, (grid = gridOf(model, { by: 'device' })));
  return grid;
}

/** Who cannot reach whom any more while a device or a link is off. */
export function failureOf(model: NetworkModel, part: Switchable): Failure {
  const [before, after] = [usualGrid(model), gridOf(model, { by: 'device', off: [part] })];
  const own = part.kind === 'device' ? part.id : null;
  const there = new Map(after.rows.map((row, at) => [row.id, at]));
  const losses = new Map<string, number>();
  let [lost, of] = [0, 0];
  for (const [row, from] of before.rows.entries())
    for (const [column, to] of before.rows.entries()) {
      if (from.id === own || to.id === own) continue;
      const reached = before.yes[row * before.rows.length + column]!;
      if (!reached) continue;
      of += reached;
      const [r, c] = [there.get(from.id), there.get(to.id)];
      const still = r === undefined || c === undefined ? 0 : after.yes[r * after.rows.length + c]!;
      if (still >= reached) continue;
      lost += reached - still;
      losses.set(from.name, (losses.get(from.name) ?? 0) + reached - still);
    }
  const cutOff = [...losses].sort((a, b) => b[1] - a[1] || byName(a[0], b[0])).map(([name]) => name);
  return { part, name: partName(model.topology, part), lost, of, cutOff };
}

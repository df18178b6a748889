import { analyse } from '../../engine';
import { type Variation } from '../../faults';
import { type Topology } from '../../topology';
import { coloursOf } from './colours';
import { graphOf } from './graph';
import { type RoleMatch, matchRoles } from './match';

/**
 * How many roles of a reference are found at their device in a varied drawing, up to the reference's symmetry: of roles
 * that nothing tells apart, any will do. Roles whose device is not drawn are not counted. For tests and benchmarks.
 */
export function rolesRight(
  reference: Topology,
  { topology, originOf }: Variation,
): { right: number; of: number; wrong: RoleMatch[] } {
  const model = analyse(reference);
  const graph = graphOf(model);
  const [colours] = coloursOf([graph], true) as [Int32Array];
  const colourOf = new Map(graph.ids.map((id, at) => [id, colours[at]!]));
  const deviceOf = (instance: string): string => {
    const [device, member] = instance.split('/') as [string, string?];
    const origin = originOf.get(device);
    return origin === undefined ? '' : member === undefined ? origin : `${origin}/${member}`;
  };
  const { roles } = matchRoles(model, analyse(topology));
  const wanted = new Map<number, number>();
  for (const id of graph.ids)
    if ([...originOf].some(([now, origin]) => topology.devices[now] && origin === id.split('/')[0]))
      wanted.set(colourOf.get(id)!, (wanted.get(colourOf.get(id)!) ?? 0) + 1);
  // Of roles that nothing tells apart so many are right as are played by devices of their sort.
  const wrong: RoleMatch[] = [];
  for (const match of roles) {
    const colour = colourOf.get(match.role)!;
    if (match.device !== null && colourOf.get(deviceOf(match.device)) === colour) continue;
    wrong.push(match);
  }
  let right = 0;
  for (const [colour, n] of wanted)
    right += Math.min(
      n,
      roles.filter(
        ({ role, device }) =>
          colourOf.get(role) === colour && device !== null && colourOf.get(deviceOf(device)) === colour,
      ).length,
    );
  return { right, of: [...wanted.values()].reduce((sum, n) => sum + n, 0), wrong };
}

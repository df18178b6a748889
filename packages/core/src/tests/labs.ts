import { type LabFile, type Rule } from '../spec';
import { type Topology } from '../topology';
import { twoLans } from './topologies';

const routersOf = ({ devices }: Topology): string[] =>
  Object.keys(devices).filter((id) => devices[id]!.model.endsWith('-router'));

/** A lab of one section with a requirement of two points for each rule: r0, r1, … */
export const labOf = (
  rules: readonly Rule[],
  reference: Topology = twoLans(),
  credit: 'all' | 'share' = 'share',
): LabFile => ({
  format: 'sobrin-lab',
  version: 9,
  title: 'test',
  brief: {},
  tasks: [],
  plan: { blocks: {} },
  reference,
  policy: {},
  spec: {
    groups: {
      both: { title: 'the hosts', roles: ['A', 'B'] },
      ...(routersOf(reference).length > 1 && { routers: { title: 'the routers', roles: routersOf(reference) } }),
    },
    sections: [
      { id: 's', title: 'S', requirements: rules.map((rule, at) => ({ id: `r${at}`, points: 2, credit, rule })) },
    ],
  },
});

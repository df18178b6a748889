import { type Layout, type LayoutTask } from './arrange';

/** What is asked of the layered layout of ELK (Eclipse Layout Kernel), in its own words. */
const OPTIONS = {
  'elk.algorithm': 'layered',
  'elk.direction': 'DOWN',
  'elk.partitioning.activate': 'true',
  // What is not linked within a site stands in the same tiers all the same.
  'elk.separateConnectedComponents': 'false',
  'elk.layered.nodePlacement.strategy': 'NETWORK_SIMPLEX',
  'elk.layered.considerModelOrder.strategy': 'NODES_AND_EDGES',
  'elk.layered.thoroughness': '20',
  'elk.spacing.nodeNode': '34',
  'elk.layered.spacing.nodeNodeBetweenLayers': '60',
  'elk.randomSeed': '1',
};

/** A task as a graph of ELK's. */
export const layeredGraph = ({ id, boxes, edges }: LayoutTask) => ({
  id: `task ${id}`,
  layoutOptions: OPTIONS,
  children: boxes.map(({ id: box, width, height, tier }) => ({
    id: box,
    width,
    height,
    layoutOptions: { 'elk.partitioning.partition': String(tier), 'elk.alignment': 'TOP' },
  })),
  edges: edges.map(({ id: edge, from, to }) => ({ id: edge, sources: [from], targets: [to] })),
});

/** Where a graph that was laid out has its boxes. */
export const layoutOf = ({ children = [] }: { children?: { id: string; x?: number; y?: number }[] }): Layout =>
  new Map(children.map(({ id, x = 0, y = 0 }) => [id, { x, y }]));

/**
 * Frames. In: instances and links that are up. Out: broadcast domains, the points where interfaces hear frames, bundles,
 * spanning trees, storms. Rules: VLANs and the rapid spanning tree of IEEE 802.1Q (§8.6, clause 13), bundles of IEEE
 * 802.1AX.
 */
export * from './datalink';
export { type EdgeEdit, edgeEditOf } from './edge-edit';
export { type VlanPolicy } from './passes';
export { UnionFind } from './union-find';
export { type Tree, type TreeBridge } from './spanning-tree';

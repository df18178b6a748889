/**
 * What one can ask. In: the model. Out: tables of a device, counts, the grid of a lab, domains of links, single failures,
 * what would be if something were off, and what would have to change.
 */
export * from './counts';
export * from './domains';
export * from './failures';
export * from './given';
export * from './grid';
export * from './hints';
export * from './plugging';
export * from './reach-digest';
export * from './tables';
export * from './what-if';

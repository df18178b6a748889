/**
 * Drill. In: a lab with reference and plan. Out: which known mistakes its spec notices and which it would miss, with sentences
 * that would notice them; where it would be unfair; and what parts of the lab earn.
 */
export * from './drill';
export { type HalfLab } from './halves';
export { type DrilledFault } from './outcomes';
export { type DrilledVariation } from './variations';

/**
 * Drafts of specs. In: a lab with reference, brief and plan. Out: sentences that it might ask, ranked by which planted
 * mistakes they would notice, and a spec with those that are taken.
 */
export * from './draft';
export { type DraftedLab } from './planted';
export * from './take';

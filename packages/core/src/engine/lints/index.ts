/**
 * Problems. In: the model. Out: what cannot work and what is unlikely to be meant, each with its place and a sentence.
 */
export { meantType } from './filter-lints';
export * from './problems';
export { interfaceNames } from './references';

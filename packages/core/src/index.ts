/**
 * What a program needs that reads labs and submissions, asks the engine and checks; and the words that everything shares.
 * Everything else has one entry point a folder: `@sobrin/core/engine` and so on.
 */
export { analyse, optionsOf, problemsOf, trace } from './engine';
export { readLabText, readSubmissionText } from './formats';
export { checkSubmission } from './spec';
export { emptyTopology } from './topology';
export * from './collation';
export * from './plural';
export * from './result';

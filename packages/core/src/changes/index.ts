export * from './apply';
export * from './edits';
export * from './footprint';

export * from './apply';
export * from './difference';
export * from './edits';
export * from './footprint';
export * from './merge';

export * from './address';
export * from './blocks';
export * from './format';
export * from './parse';
export * from './scope';

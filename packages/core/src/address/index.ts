export * from './address';
export * from './allocate';
export * from './blocks';
export * from './format';
export * from './parse';
export * from './scope';

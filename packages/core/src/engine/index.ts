export * from './datalink';
export * from './instances';
export * from './model';
export * from './network';
export * from './physical';
export * from './reach';
export * from './reason';
export * from './trace';

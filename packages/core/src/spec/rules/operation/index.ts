/** Requirements about how equipment is set and works: switching, routing, services, and the care that is taken. */
export * from './uses';
export * from './craft';
export * from './leases';
export * from './placing';
export * from './routing';
export * from './wireless';
export * from './switching';

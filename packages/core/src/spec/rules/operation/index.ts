/** Requirements about how equipment is set and works: switching, routing, services, and the care that is taken. */
export * from './craft';
export * from './placing';
export * from './routing';
export * from './services';
export * from './switching';

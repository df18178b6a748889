/** Requirements about what packets reach: whom, by which way, and whom they must not reach. */
export * from './apart';
export * from './path';
export * from './probe';
export * from './reach';

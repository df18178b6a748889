export * from './document';
export * from './kernel-case';
export * from './kernel-check';
export * from './schemas';

export * from './kernel-case';
export * from './kernel-check';

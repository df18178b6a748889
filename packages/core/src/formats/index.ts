export * from './csv-tables';
export * from './document';
export * from './kernel-case';
export * from './kernel-check';
export * from './migrate';
export * from './plan-table';
export * from './schemas';
export * from './yaml';

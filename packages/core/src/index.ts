export * from './address';
export * from './drawing';
export * from './engine';
export * from './formats';
export * from './result';
export * from './spec';
export * from './topology';

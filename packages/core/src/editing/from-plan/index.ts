export * from './take';
export * from './wish';

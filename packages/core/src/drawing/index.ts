export * from './areas';
export * from './lines';
export * from './media';
export * from './scene';
export * from './tiles';

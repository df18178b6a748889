export * from './areas';
export * from './legend';
export * from './lines';
export * from './media';
export * from './notes';
export * from './scene';
export * from './tiles';
export * from './vlans';

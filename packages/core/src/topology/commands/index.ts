export * from './apply';
export { Command, SimpleCommand } from './schema';

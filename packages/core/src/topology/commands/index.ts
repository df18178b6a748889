export * from './apply';
export * from './edits';
export { Command, SimpleCommand } from './schema';

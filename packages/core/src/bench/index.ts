/** What people type and read on the Bench: the command field, sheets, the kit and its starters, what has changed. */
export * from './command-field';
export * from './models';
export * from './notation';
export * from './sheets';
export * from './starters';

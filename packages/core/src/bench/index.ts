/** What people do on the Bench, as commands. Pure: the document and the wish go in, commands come out. */
export * from './addressing';
export * from './align';
export * from './arrange';
export * from './cabling';
export * from './change';
export * from './command-field';
export * from './copy';
export * from './groups';
export * from './kit-limits';
export * from './models';
export * from './move';
export * from './names';
export * from './notation';
export * from './place';
export * from './repairs';
export * from './shape';
export * from './sheets';
export { type PlanOfLab } from './next-addresses';

/**
 * What people do to a drawing, as commands. In: the drawing, what is chosen and what is meant, ids where new things come.
 * Out: commands that go when they are applied to that drawing, and sentences for what could not be done. Pure.
 */
export * from './addressing';
export * from './align';
export * from './arrange';
export * from './cabling';
export * from './causes';
export * from './change';
export * from './comments';
export * from './configuring';
export * from './copy';
export * from './disagreements';
export * from './drawing-changes';
export * from './from-plan';
export * from './groups';
export * from './interfaces';
export * from './kit-limits';
export * from './layered-graph';
export * from './links';
export * from './mends';
export * from './move';
export * from './names';
export { type PlanOfLab, NextAddresses } from './next-addresses';
export * from './notes';
export * from './place';
export * from './plan-differences';
export * from './repairs';
export * from './shape';
export * from './siblings';
export * from './sites';

/**
 * Who reaches whom. In: the layers below. Out: a verdict for every pair, worked out for classes of devices that are alike
 * in everything a way depends on, and equal to that of the trace.
 */
export * from './reach';

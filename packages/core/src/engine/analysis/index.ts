/**
 * All layers of one drawing together. In: a drawing, how the lab's equipment behaves, and what was worked out before an
 * edit. Out: the model that everything above asks.
 */
export * from './model';

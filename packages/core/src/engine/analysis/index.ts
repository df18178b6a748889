/**
 * All layers of one drawing together. In: a drawing, how the lab's equipment behaves, and changes. Out: the model that
 * everything above asks, and a session in which a drawing is changed and asked in turn.
 */
export { type NetworkModel, analyse } from './model';
export * from './options';
export * from './session';

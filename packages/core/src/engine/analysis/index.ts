/**
 * All layers of one drawing together. In: a drawing, how the lab's equipment behaves, and changes. Out: the model that
 * everything above asks, and a session in which a drawing is changed and asked in turn.
 */
export {
  DEFAULT_OPTIONS,
  type EngineOptions,
  type EquipmentPolicy,
  type NetworkModel,
  analyse,
  optionsOf,
} from './model';
export * from './session';

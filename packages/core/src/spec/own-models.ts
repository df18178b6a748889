import { type NetworkModel } from '../engine';
import { KIT, canonicalJson, entryOf } from '../topology';
import { type KeyedItem } from './evaluate';

/** Devices of models that neither the kit nor the lab has as they are, by id with the model's name. */
export function foreignModels(reference: NetworkModel, student: NetworkModel): ReadonlyMap<string, string> {
  if (!student.topology.models) return new Map();
  return new Map(
    [...student.instances.values()].flatMap(({ deviceId, device, model }) => {
      // The kit's own go before any that a drawing brings under the same name.
      if (entryOf(KIT, device.model)) return [];
      const wanted = entryOf(reference.topology.models, device.model);
      return wanted && canonicalJson(wanted) === canonicalJson(model) ? [] : [[deviceId, model.name] as const];
    }),
  );
}

/** What a device of a model of one's own does well proves nothing: a person decides. */
export function leftOpen(item: KeyedItem, foreign: ReadonlyMap<string, string>): KeyedItem {
  const model =
    item.met === true
      ? item.places.map(({ device }) => foreign.get(device ?? '')).find((name) => name !== undefined)
      : undefined;
  if (model === undefined) return item;
  return {
    ...item,
    met: null,
    code: 'UNCERTAIN',
    text: `${item.text} That is a device of a model which the lab does not have (${model}).`,
  };
}

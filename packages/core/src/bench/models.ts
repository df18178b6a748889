import { tagOf } from '../drawing';
import { type Model, type Topology, KIT } from '../topology';

/** Everyday words that find a model as well. */
const ALSO: Readonly<Record<string, string>> = {
  desktop: 'pc computer workstation ticket desk',
  laptop: 'notebook computer',
  till: 'cash register point of sale',
  turnstile: 'gate entrance',
  'access-point': 'wifi wireless ap',
  'provider-cloud': 'internet isp provider',
  'wan-cloud': 'wan circuit',
  phone: 'telephone voip',
  camera: 'cctv video',
  controller: 'winch plc control',
  sensor: 'weather probe iot',
  'home-gateway': 'wifi router',
};
export const MODEL_CLASSES: readonly Model['class'][] = ['intermediary', 'security', 'wireless', 'cloud', 'end'];

/** Models that all words of a search speak of, by name, kind, tag or everyday word, network devices first. */
export function findModels(topology: Topology, search: string): [string, Model][] {
  const words = search.toLowerCase().split(/\s+/).filter(Boolean);
  const found = Object.entries({ ...KIT, ...topology.models }).filter(([id, model]) => {
    const text = `${id} ${model.name} ${model.kind} ${ALSO[id] ?? ''} ${tagOf(model.kind)}`.toLowerCase();
    return words.every((word) => text.includes(word));
  });
  // A whole word counts more than a part of one: "pc" is a desktop before anything that has these letters in it.
  const whole = ([id, model]: [string, Model]): boolean => {
    const own = `${model.name} ${model.kind} ${ALSO[id] ?? ''} ${tagOf(model.kind)}`.toLowerCase().split(/[\s-]+/);
    return words.every((word) => own.includes(word));
  };
  const rank = (entry: [string, Model]): number =>
    (whole(entry) ? 0 : MODEL_CLASSES.length) + MODEL_CLASSES.indexOf(entry[1].class);
  return found.sort((a, b) => rank(a) - rank(b));
}

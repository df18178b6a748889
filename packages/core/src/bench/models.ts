import { tagOf } from '../drawing';
import { type Model, type Topology, KIT } from '../topology';

/** Everyday words that find a model as well. */
const ALSO: Readonly<Record<string, string>> = {
  desktop: 'pc computer workstation ticket desk host client terminal',
  laptop: 'notebook portable computer',
  server: 'nas file web mail database host dns dhcp ntp name pbx call telephony mail storage',
  printer: 'multifunction copier',
  tablet: 'pad handheld',
  smartphone: 'mobile cell cellphone',
  'l3-switch': 'layer-3 l3 multilayer routing distribution',
  'core-switch': 'backbone chassis',
  'access-switch-12': 'lan ethernet layer-2 l2',
  'border-router': 'edge wan internet',
  'modular-router': 'branch',
  hub: 'repeater',
  firewall: 'security appliance',
  till: 'cash register point of sale',
  turnstile: 'gate entrance',
  'access-point': 'wifi wireless wlan ap wap',
  'provider-cloud': 'internet isp provider',
  'wan-cloud': 'wan circuit',
  phone: 'telephone voip ip desk',
  camera: 'cctv video',
  controller: 'winch plc control',
  sensor: 'weather probe iot',
  'home-gateway': 'wifi wireless router residential soho',
  'wired-device': 'plain any other generic equipment',
  'patch-panel-24': 'patchpanel rack cabling passive',
  'outlet-2': 'wall socket jack faceplate cabling passive',
};
/** All words that find a model of the kit. */
export const modelWords = (): string[] =>
  Object.entries(KIT).flatMap(([id, { name, kind }]) =>
    `${name} ${kind} ${ALSO[id] ?? ''}`
      .toLowerCase()
      .split(/[^a-z0-9]+/)
      .filter((word) => word.length > 2),
  );
export const MODEL_CLASSES: readonly Model['class'][] = [
  'intermediary',
  'security',
  'wireless',
  'cloud',
  'end',
  'passive',
];

/** Models that all words of a search speak of, by name, kind, tag or everyday word, network devices first. */
export function findModels(topology: Topology, search: string): [string, Model][] {
  const words = search.toLowerCase().split(/\s+/).filter(Boolean);
  const isSaid = (text: string, word: string): boolean => singular(word).some((form) => text.includes(form));
  const found = Object.entries({ ...KIT, ...topology.models }).filter(([id, model]) => {
    const text = `${id} ${model.name} ${model.kind} ${ALSO[id] ?? ''} ${tagOf(model.kind)}`.toLowerCase();
    return words.every((word) => isSaid(text, word));
  });
  // A whole word counts more than a part of one: "pc" is a desktop before anything that has these letters in it.
  const whole = ([id, model]: [string, Model]): boolean => {
    const own = `${model.name} ${model.kind} ${ALSO[id] ?? ''} ${tagOf(model.kind)}`.toLowerCase().split(/[\s-]+/);
    return words.every((word) => singular(word).some((form) => own.includes(form)));
  };
  const rank = (entry: [string, Model]): number =>
    (whole(entry) ? 0 : MODEL_CLASSES.length) + MODEL_CLASSES.indexOf(entry[1].class);
  return found.sort((a, b) => rank(a) - rank(b));
}

/** A word as it is, and as one of what it may be the plural of: desktops, switches. */
const singular = (word: string): string[] => [
  word,
  ...(word.length > 3 && word.endsWith('s') ? [word.slice(0, -1)] : []),
  ...(word.length > 4 && word.endsWith('es') ? [word.slice(0, -2)] : []),
];

import { type Model } from '@sobrin/core/topology';

/** Classes of devices in the order in which people look for them, with their words. */
export const CLASSES: readonly (readonly [Model['class'], string])[] = [
  ['intermediary', 'Network devices'],
  ['security', 'Security'],
  ['wireless', 'Wireless'],
  ['cloud', 'Outside'],
  ['end', 'Hosts'],
  ['passive', 'Cabling'],
];

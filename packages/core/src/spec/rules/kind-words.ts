import { type DeviceKind } from '../../topology';

/** One and several of each kind. */
export const KIND_WORDS: Record<DeviceKind, readonly [string, string]> = {
  router: ['router', 'routers'],
  switch: ['switch', 'switches'],
  'l3-switch': ['layer-3 switch', 'layer-3 switches'],
  hub: ['hub', 'hubs'],
  firewall: ['firewall', 'firewalls'],
  'access-point': ['access point', 'access points'],
  'home-gateway': ['home gateway', 'home gateways'],
  modem: ['modem', 'modems'],
  converter: ['media converter', 'media converters'],
  segment: ['shared segment', 'shared segments'],
  cloud: ['cloud', 'clouds'],
  desktop: ['desktop', 'desktops'],
  laptop: ['laptop', 'laptops'],
  server: ['server', 'servers'],
  printer: ['printer', 'printers'],
  phone: ['phone', 'phones'],
  tablet: ['tablet', 'tablets'],
  smartphone: ['smartphone', 'smartphones'],
  camera: ['camera', 'cameras'],
  till: ['till', 'tills'],
  turnstile: ['turnstile', 'turnstiles'],
  controller: ['controller', 'controllers'],
  sensor: ['sensor', 'sensors'],
  device: ['wired device', 'wired devices'],
  'patch-panel': ['patch panel', 'patch panels'],
  outlet: ['outlet', 'outlets'],
};
/** "1 switch", "2 switches". */
export const kindWord = (kind: DeviceKind, n: number): string => KIND_WORDS[kind][n === 1 ? 0 : 1];
/** "a switch", "an access point". */
export const aKindOf = (kind: DeviceKind): string =>
  `${/^[aeiou]/.test(kindWord(kind, 1)) ? 'an' : 'a'} ${kindWord(kind, 1)}`;

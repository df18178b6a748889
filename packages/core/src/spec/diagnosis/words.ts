import { isTree, sameValue } from '../../changes';
import { filterWords } from '../../topology';

/** A thing of a device that can be set: the path to it within the device, such as `ports, p5, role`. */
export type Thing = readonly string[];

/** The device with the port or interface that a thing is of. */
export const atWords = (device: string, [map, key]: Thing): string =>
  map === 'ports' || map === 'interfaces' ? `${device} ${key}` : device;

/** How a thing is called, without its place: `VLANs`, `the gateway`. */
export function fieldWords(thing: Thing): string {
  const [map, key = '', property = ''] = thing;
  switch (map) {
    case 'ports':
      return PORT_WORDS[property] ?? property;
    case 'interfaces':
      return thing.length < 3 ? 'the interface' : (INTERFACE_WORDS[property] ?? property);
    case 'modules':
      return `bay ${key}`;
    case 'powered':
      return 'power';
    case 'settings':
      return settingWords(key, property);
    default:
      return thing.join(' ');
  }
}
function settingWords(key: string, property: string): string {
  switch (key) {
    case 'vlans':
      return `VLAN ${property}`;
    case 'routes':
      return `the route to ${property}`;
    case 'dhcpPools':
    case 'dhcp6Pools':
      return `the pool for ${property}`;
    case 'filters':
      return `the ${filterWords(property)}`;
    case 'bundles':
      return `the bundle ${property}`;
    case 'services':
      return `the service ${property}`;
    default:
      return `${SETTING_WORDS[key] ?? key}${property ? `, ${PART_WORDS[property] ?? property}` : ''}`;
  }
}
const PORT_WORDS: Readonly<Record<string, string>> = {
  enabled: 'on or off',
  speed: 'speed and duplex',
  label: 'the label',
  clockEnd: 'the clock',
  role: 'VLANs',
  stp: 'spanning tree',
  security: 'port security',
  radio: 'the wireless network',
};
const INTERFACE_WORDS: Readonly<Record<string, string>> = {
  on: 'what it lies on',
  enabled: 'on or off',
  v4: 'the IPv4 address',
  v6: 'the IPv6 address',
  ospf: 'OSPF',
  ospf6: 'OSPF for IPv6',
  rip: 'RIP',
  filterIn4: 'the filter for what comes in',
  filterOut4: 'the filter for what goes out',
  filterIn6: 'the filter for what comes in by IPv6',
  filterOut6: 'the filter for what goes out by IPv6',
  natSide: 'the side of the translation',
  relays: 'the DHCP relay',
  vrrp: 'the virtual gateway',
};
const SETTING_WORDS: Readonly<Record<string, string>> = {
  hostname: 'the hostname',
  forwarding: 'forwarding',
  gateway4: 'the gateway',
  gateway6: 'the IPv6 gateway',
  dns: 'the name server',
  ospf: 'OSPF',
  ospf6: 'OSPF for IPv6',
  rip: 'RIP',
  dnsRecords: 'the names it answers for',
  ssids: 'the wireless networks',
  nat: 'the translation',
  firewall: 'the firewall',
  spanningTree: 'spanning tree',
  management: 'management',
  telephony: 'telephony',
};
const PART_WORDS: Readonly<Record<string, string>> = {
  v4: 'IPv4',
  v6: 'IPv6',
  routerId: 'router id',
  privileged: 'the password for changing settings',
  callServer: 'call server',
};

/** What is wrong with a thing and what it should be. `undefined` stands for what is not there. */
export function sentenceFor(device: string, thing: Thing, found: unknown, wanted: unknown): string {
  const at = atWords(device, thing);
  const field = fieldWords(thing);
  const [now, then] = [valueWords(thing, found), valueWords(thing, wanted)];
  const [map, key, property] = thing;
  if (property === 'enabled' || map === 'powered') {
    if (found === false) return `${at} is switched off.`;
    return wanted === false ? `${at} should be switched off.` : `${at} should be on.`;
  }
  if (key === 'forwarding') {
    const family = property === 'v6' ? 'IPv6' : 'IPv4';
    return wanted === false ? `${at} forwards ${family}, and should not.` : `${at} does not forward ${family}.`;
  }
  if (map === 'ports' && property === 'role')
    return `${at} is ${now ?? 'in VLAN 1'}, and should be ${then ?? 'in VLAN 1'}.`;
  if (found === undefined) return `${at} lacks ${field}${then === null || then === 'on' ? '' : `: ${then}`}.`;
  if (wanted === undefined)
    return `${at} has ${field}${now === null || now === 'on' ? '' : ` (${now})`}, which should not be there.`;
  if (key === 'filters') return `${at}, ${field}: ${filterDifference(found as Rules, wanted as Rules)}.`;
  const lies = map === 'interfaces' && property === 'on' ? [found, wanted].map((on) => lyingWords(on as Tree)) : null;
  if (lies) return `${at} lies on ${lies[0]!}, and should lie on ${lies[1]!}.`;
  const differs = differenceWords(found, wanted);
  if (differs !== null && (now === then || !isAddressing(thing))) return `${at}, ${field}: ${differs}.`;
  return key === 'gateway4' || key === 'gateway6' || isAddressing(thing)
    ? `${at} has ${field} ${now}, and should have ${then}.`
    : `${at}: ${field} is ${now}, and should be ${then}.`;
}

/** Whether it is the addresses of an interface, all of which are told. */
const isAddressing = ([map, , property]: Thing): boolean =>
  map === 'interfaces' && (property === 'v4' || property === 'v6');

/** "port g1 with VLAN 21" */
const lyingWords = ({ kind, port, vlan, bundle }: Tree): string =>
  kind === 'sub'
    ? `port ${String(port)} with VLAN ${String(vlan)}`
    : kind === 'svi'
      ? `VLAN ${String(vlan)}`
      : kind === 'bundle'
        ? `the bundle ${String(bundle)}`
        : kind === 'port'
          ? `port ${String(port)}`
          : String(kind);

/** What of two values differs, property by property; null where they are no objects. */
function differenceWords(found: unknown, wanted: unknown): string | null {
  if (!isTree(found) || !isTree(wanted)) return entriesDiffer(found, wanted);
  const keys = [...new Set([...Object.keys(found), ...Object.keys(wanted)])];
  const parts = keys
    .filter((key) => !sameValue(found[key], wanted[key]))
    .map((key) => {
      const word = PROPERTY_WORDS[key] ?? key;
      const inner = differenceWords(found[key], wanted[key]);
      if (inner !== null) return `${word} ${inner}`;
      const none = [found[key], wanted[key]].some((value) => typeof value === 'boolean') ? 'off' : 'not set';
      const [now, then] = [found[key], wanted[key]].map((value) => (value === undefined ? none : plain(value)));
      return `${word} ${word.endsWith('s') ? 'are' : 'is'} ${now}, and should be ${then}`;
    });
  return parts.join('; ') || null;
}
/** Of two lists of entries the one that differs first. */
function entriesDiffer(found: unknown, wanted: unknown): string | null {
  if (!Array.isArray(found) || !Array.isArray(wanted)) return null;
  const [has, asks] = [found, wanted] as [unknown[], unknown[]];
  if (![...has, ...asks].every((entry) => typeof entry === 'object')) return null;
  const at = Math.max(
    0,
    [...has, ...asks].findIndex((_entry, nth) => !sameValue(has[nth], asks[nth])),
  );
  if (has.length !== asks.length)
    return has.length < asks.length ? `lacks entry ${at + 1}` : `has an entry ${at + 1} too many`;
  return `entry ${at + 1}: ${differenceWords(has[at], asks[at]) ?? 'is wrong'}`;
}
const PROPERTY_WORDS: Readonly<Record<string, string>> = {
  ranges: 'the range',
  exclusions: 'what is left out',
  router: 'the router',
  dns: 'the name server',
  network: 'the network',
  networks: 'the networks',
  sources: 'the sources',
  outsideInterface: 'the outside',
  protocol: 'the mode',
  passive: 'passive',
  area: 'the area',
  cost: 'the cost',
  hello: 'the hello interval',
  dead: 'the dead interval',
  routerId: 'the router id',
  addresses: 'the addresses',
  linkLocal: 'the link-local address',
  bpduGuard: 'the BPDU guard',
  maxMacs: 'the number of stations',
};

type Rules = { rules: readonly unknown[] };
/** Which line of a filter is not as it should be, counted from 1. */
function filterDifference({ rules: has }: Rules, { rules: asks }: Rules): string {
  const at = has.findIndex((rule, nth) => !sameValue(rule, asks[nth]));
  const line = (at < 0 ? Math.min(has.length, asks.length) : at) + 1;
  if (has.length < asks.length) return `line ${line} is missing`;
  return has.length > asks.length ? `line ${line} should not be there` : `line ${line} is wrong`;
}

/** A value in a few words; null where nothing is there. */
export function valueWords(thing: Thing, value: unknown): string | null {
  if (value === undefined) return null;
  const [map, key, property] = thing;
  if (map === 'ports' && property === 'role') return roleWords(value as Tree);
  if (map === 'interfaces' && thing.length < 3) return interfaceWords(value as Tree);
  if (map === 'interfaces' && (property === 'v4' || property === 'v6')) return layerWords(value as Tree);
  if (map === 'settings' && key === 'routes') return routeWords(value as Tree);
  if (map === 'settings' && key === 'filters') return rulesWords(value as Tree);
  return plain(value);
}

type Tree = Readonly<Record<string, unknown>>;
const roleWords = ({ kind, mode, accessVlan, voiceVlan, allowed, native }: Tree): string => {
  if (kind === 'routed') return 'routed';
  if (mode !== 'trunk')
    return `in VLAN ${plain(accessVlan ?? 1)}${voiceVlan === undefined ? '' : ` with voice VLAN ${plain(voiceVlan)}`}`;
  const vlans = allowed === undefined || allowed === 'all' ? 'all VLANs' : `VLAN ${(allowed as number[]).join(', ')}`;
  return `a trunk for ${vlans}${native === undefined ? '' : `, native ${plain(native)}`}`;
};
const interfaceWords = ({ v4, v6 }: Tree): string | null =>
  [v4, v6].flatMap((layer) => (layer === undefined ? [] : layerWords(layer as Tree))).join(' and ') || null;
const layerWords = ({ dhcp, slaac, addresses = [], linkLocal }: Tree): string => {
  const list = [...(addresses as string[]), ...(linkLocal === undefined ? [] : [plain(linkLocal)])];
  if (list.length) return list.join(', ');
  return dhcp === true || slaac === true || dhcp === 'stateful' ? 'automatic' : 'none';
};
const routeWords = ({ via, interface: out, distance }: Tree): string => {
  const way = via === undefined ? (out === undefined ? 'to nowhere' : `out of ${plain(out)}`) : `via ${plain(via)}`;
  return `${way}${distance === undefined ? '' : `, distance ${plain(distance)}`}`;
};
const rulesWords = ({ rules }: Tree): string => {
  const n = (rules as unknown[]).length;
  return `${n} ${n === 1 ? 'line' : 'lines'}`;
};

function plain(value: unknown): string {
  if (value === true) return 'on';
  if (value === false) return 'off';
  if (Array.isArray(value)) return value.map(plain).join(', ') || 'nothing';
  if (value === null || typeof value !== 'object') return String(value);
  return Object.entries(value)
    .map(([key, inner]) => (inner === true ? key : `${key} ${plain(inner)}`))
    .join(', ');
}

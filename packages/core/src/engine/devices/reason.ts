/** The closed list of reasons why something does not work or works only in part. */
export const REASONS = [
  // physical
  'NOT_CONNECTED',
  'PORT_TAKEN_TWICE',
  'PORT_OFF',
  'NO_POWER',
  'CABLE_BROKEN',
  'CONNECTOR_MISMATCH',
  'FIBRE_MISMATCH',
  'WRONG_PAIRING',
  'NO_COMMON_SPEED',
  'NO_NEGOTIATION',
  'CABLE_TOO_LONG',
  'NO_CLOCK',
  'TWO_CLOCKS',
  'RADIO_MISMATCH',
  'RADIO_KEY',
  'CONSOLE_CABLE',
  'DUPLEX_DIFFERS',
  'CHANNEL_OPEN',
  'CHANNEL_SPARE',
  // data link
  'NATIVE_MISMATCH',
  'ACCESS_VLAN_MISMATCH',
  'NATIVE_NOT_ALLOWED',
  'STORM',
  'BUNDLE_NOT_FORMED',
  'PORT_GUARDED',
  'PORT_SECURITY',
  'ROOT_BY_CHANCE',
  'ROOT_AT_EDGE',
  'VLAN_CUT',
  // network
  'ADDRESS_UNREADABLE',
  'NO_ADDRESS',
  'INTERFACE_DOWN',
  'NO_ROUTE',
  'NO_GATEWAY',
  'GATEWAY_OUTSIDE',
  'NEXT_HOP_UNREACHABLE',
  'FILTERED',
  'NO_ANSWER',
  'ONE_WAY_WIRE',
  'NOT_FORWARDING',
  'BEYOND_SCOPE',
  'NULL_ROUTE',
  'ROUTE_UNSTABLE',
  'ROUTE_LOOP',
  'BROADCAST_ADDRESS',
  'DUPLICATE_ADDRESS',
  'EQUAL_COST_DIFFERS',
  'WRONG_DEVICE_ANSWERS',
  'ADDRESS_NOT_USABLE',
  // names
  'NO_NAME',
  'NAME_TWICE',
  'HOSTNAME_DIFFERS',
  // what is unlikely to be meant
  'VLAN_NOT_CREATED',
  'TRUNK_WITHOUT_VLAN',
  'PREFIX_DIFFERS',
  'SUBNET_TWICE',
  'GATEWAY_NOT_ROUTER',
  'POOL_FOREIGN',
  'TELNET_OPEN',
  'NOT_PRIVATE',
  'SLOWER_PORT',
  'NO_VOICE_VLAN',
  'NOT_REGISTERED',
  'FORWARDING_OFF',
  'OSPF_DIFFERS',
  'ROUTER_ID_TWICE',
  'NO_RETURN_ROUTE',
  'DHCP_NOBODY',
  'DHCP_TWICE',
  'POOL_TOO_SMALL',
  'NAT_SIDE_MISSING',
  'NO_PRIVILEGED_PASSWORD',
  'NAMES_NOTHING',
  'ICMP_OTHER_FAMILY',
  // what this version of the engine does not compute: the answer is "uncertain", never a guess
  'NOT_COMPUTED',
] as const;
/** The name of a reason; it stands in stored results and does not change. */
export type ReasonCode = (typeof REASONS)[number];

/**
 * One reason with its sentence and the things it is about. `device` is an instance id (a device or a member of a
 * tile).
 */
export interface Reason {
  code: ReasonCode;
  text: string;
  at: { device?: string; port?: string; link?: string; vlan?: number };
}

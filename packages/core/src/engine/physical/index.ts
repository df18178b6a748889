/**
 * Cables. In: instances and links. Out: which links are up, at which speed and duplex, who has power, and why a link is
 * down. Rules: IEEE 802.3 (media, lengths, pairing, auto-negotiation in §28.2.3.1, §40.5.1 and clause 37, power in
 * clause 33), one DCE end, which gives the clock, on a serial line, networks and keys of wireless links.
 */
export { type Channel, portId } from './channels';
export { type End } from './ends';
export * from './physical';
export * from './suggest-link';

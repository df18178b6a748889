/**
 * Devices as the engine sees them. In: a drawing. Out: one instance for each device and each member of a tile, with its
 * ports and interfaces; the closed list of reasons; what a provider's cloud stands for; MAC addresses made from ids
 * (locally administered, IEEE 802-2014 §8.4).
 */
export * from './instances';
export * from './mac';
export * from './provider-cloud';
export * from './reason';

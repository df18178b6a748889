import { type Address, type Family, type InterfaceAddress } from '../../address';

/** An address that a server gave to an interface, with the way out that it told. */
export interface Lease {
  readonly address: InterfaceAddress;
  /** Who got it, and on which interface. */
  readonly client: { readonly device: string; readonly interface: string };
  readonly router: Address | null;
  /** Servers for names that it told. */
  readonly dns: readonly Address[];
  /** The device that gave it, and the address it was asked at. */
  readonly server: string;
  readonly serverAddress: Address;
  /** The relay that asked for the client, where the server is on another wire. */
  readonly relay: { readonly device: string; readonly interface: string; readonly address: Address } | null;
  /** Whether another server offers something else as well: which one is taken is not certain. */
  readonly rivals: boolean;
}
/** Leases by `leaseKey`. */
export type Leases = ReadonlyMap<string, Lease>;
/** The key of an interface's lease: leases of IPv4 and IPv6 are kept apart. */
export const leaseKey = (instance: string, key: string, family: Family = 4): string =>
  family === 4 ? `${instance} ${key}` : `${instance} ${key} 6`;

import { type Family, type InterfaceAddress, formatAddress, parseInterfaceAddress } from '../../address';
import { type Instance } from '../../engine';
import { type Interface, type PortConfig, type Settings } from '../../topology';

/** What is set on a device, whether on its tile or on the member itself. */
export interface Configured {
  readonly powered?: boolean | undefined;
  readonly modules?: Readonly<Record<string, string>> | undefined;
  readonly ports: Readonly<Record<string, PortConfig>>;
  readonly interfaces: Readonly<Record<string, Interface>>;
  readonly settings: Settings;
}

export const configuredOf = ({ device, ports, interfaces, settings }: Instance): Configured => ({
  powered: device.powered,
  modules: device.modules,
  ports: Object.fromEntries(
    [...ports].flatMap(([key, { config }]) => (Object.keys(config).length ? [[key, config]] : [])),
  ),
  // A cloud's own addresses are worked out, not set.
  interfaces: Object.fromEntries(
    interfaces.filter(
      ([key]) => device.interfaces?.[key] ?? Object.values(device.members ?? {}).some((each) => each.interfaces?.[key]),
    ),
  ),
  settings,
});

/** An address as it is typed on an interface, with its place among those of its family. */
export interface TypedIn {
  readonly on: InterfaceAddress;
  readonly family: Family;
  readonly index: number;
}
export const typedIn = ({ v4, v6 }: Interface): TypedIn[] =>
  ([4, 6] as const).flatMap((family) =>
    ((family === 4 ? v4 : v6)?.addresses ?? []).flatMap((text, index): TypedIn[] => {
      const read = parseInterfaceAddress(text);
      return read.ok ? [{ on: read.value, family, index }] : [];
    }),
  );

/** The addresses that are typed on a device, without their lengths. */
export const addressesOf = ({ interfaces }: Instance): string[] =>
  interfaces.flatMap(([, settings]) => typedIn(settings).map(({ on }) => formatAddress(on.address)));

import { type InterfaceAddress, type Prefix, parseInterfaceAddress, sameAddress, samePrefix } from '../../address';
import { type Interface } from '../../topology';
import { type Advertisement, type WayOut, advertisementsOf, autoconfigured, linkLocalOf } from './autoconfiguration';
import { type DataLink, type EdgeEdit } from '../datalink';
import { type Instance, type Reason } from '../devices';
import { type Leases, leaseKey } from './lease';
import { type InterfaceState, type AddressSets, addressSetsOf } from './node';
import { type Physical, portId } from '../physical';
import { type VirtualRouter, virtualRouters } from './vrrp';

/** A device with its interfaces as they stand, before it knows any routes. */
export interface DeviceInterfaces {
  readonly instance: Instance;
  readonly interfaceStates: readonly InterfaceState[];
  readonly addressSets: AddressSets;
  /** Addresses that could not be read. */
  readonly unreadable: readonly Reason[];
  /** Routers that told it of themselves. */
  readonly waysOut: readonly WayOut[];
}
export interface NetworkInterfaces {
  readonly all: ReadonlyMap<string, DeviceInterfaces>;
  readonly vrrp: readonly VirtualRouter[];
  /** What routers tell the hosts of their wires. */
  readonly advertisements: readonly Advertisement[];
}

/** @param before the same before an edit: interfaces that stand as they did stay the same values */
export function networkInterfacesOf(
  instances: ReadonlyMap<string, Instance>,
  layer1: Physical,
  layer2: DataLink,
  leases: Leases,
  before?: NetworkInterfaces,
): NetworkInterfaces {
  const typed = [...instances.values()].map((instance) => typedAt(instance, layer1, layer2, leases, before));
  const attached = typed.flatMap((device) => device.interfaceStates);
  const advertisements = advertisementsOf(attached, instances);
  const byDevice = advertisements.length
    ? typed.map((device) => withAdvertised(device, advertisements, layer2))
    : typed;
  const vrrp = virtualRouters(
    advertisements.length ? byDevice.flatMap((device) => device.interfaceStates) : attached,
    instances,
    layer2,
  );
  for (const { interfaceState, addresses, isActive } of vrrp)
    // Nobody has seen them yet: they were made a few lines ago.
    if (isActive) Object.assign(interfaceState, { virtual: [...(interfaceState.virtual ?? []), ...addresses] });
  const all = new Map(
    byDevice.map((device) => [device.instance.id, keptFrom(device, before?.all.get(device.instance.id))]),
  );
  return { all, vrrp, advertisements };
}

/**
 * The same after a small edit, without leases: only the devices it concerns are looked at. Undefined where one of them
 * says something of others.
 */
export function networkInterfacesAfter(
  { devices }: EdgeEdit,
  instances: ReadonlyMap<string, Instance>,
  layer1: Physical,
  layer2: DataLink,
  before: NetworkInterfaces,
): NetworkInterfaces | undefined {
  const { advertisements } = before;
  if (before.vrrp.length || advertisements.some(({ from }) => devices.has(from.instance))) return undefined;
  const all = new Map(before.all);
  for (const id of devices) {
    const device = typedAt(instances.get(id)!, layer1, layer2, NO_LEASES, before);
    if (device.interfaceStates.some(({ config }) => config.vrrp)) return undefined;
    if (advertisementsOf(device.interfaceStates, instances).length) return undefined;
    all.set(
      id,
      keptFrom(advertisements.length ? withAdvertised(device, advertisements, layer2) : device, before.all.get(id)),
    );
  }
  return { ...before, all };
}
const NO_LEASES: Leases = new Map();

/** Interfaces of a device as they stand with what is set and leased, before anybody told it anything. */
function typedAt(
  instance: Instance,
  layer1: Physical,
  layer2: DataLink,
  leases: Leases,
  before?: NetworkInterfaces,
): DeviceInterfaces {
  const old = before?.all.get(instance.id);
  const same = old?.instance === instance && !old.unreadable.length ? old : undefined;
  const unreadable: Reason[] = [];
  const interfaceStates = instance.interfaces.map(([key, config], at): InterfaceState => {
    const { point, up } = standing(instance, config, layer1, layer2);
    const known = same?.interfaceStates[at];
    const set = known?.typed ?? addressesOf(instance, key, config, unreadable);
    const given = up && leases.size ? givenTo(leases, instance.id, key) : NONE;
    if (known?.point === point && known.up === up && known.addresses === set && !given.length && !config.vrrp)
      return known;
    return {
      instance: instance.id,
      key,
      config,
      point,
      up,
      typed: set,
      addresses: given.length ? [...set, ...given] : set,
      linkLocal: known ? known.linkLocal : linkLocalOf(instance, key, config),
    };
  });
  return { instance, interfaceStates, unreadable, addressSets: NOTHING, waysOut: NO_WAYS };
}

const givenTo = (leases: Leases, instance: string, key: string): InterfaceAddress[] =>
  ([4, 6] as const).flatMap((family) => leases.get(leaseKey(instance, key, family))?.address ?? []);

/** What a device makes of the routers that it hears. */
function withAdvertised(
  device: DeviceInterfaces,
  advertisements: readonly Advertisement[],
  layer2: DataLink,
): DeviceInterfaces {
  const waysOut: WayOut[] = [];
  const interfaceStates = device.interfaceStates.map((each): InterfaceState => {
    const { addresses, routers, near } = autoconfigured(device.instance, each, advertisements, layer2);
    if (!routers.length) return each;
    const more = { ...each, addresses: [...each.addresses, ...addresses] };
    waysOut.push(
      ...near.map((prefix) => ({ prefix, via: null, out: more })),
      ...routers.map((via) => ({ prefix: EVERYWHERE, via, out: more })),
    );
    return more;
  });
  return waysOut.length ? { ...device, interfaceStates, waysOut } : device;
}

/** Where a router that tells of itself leads to. */
const EVERYWHERE: Prefix = { family: 6, value: 0n, length: 0 };
const NONE: readonly InterfaceAddress[] = [];
const NO_WAYS: readonly WayOut[] = [];
const NOTHING: AddressSets = { addresses: new Set(), broadcasts: new Set() };

/** A device whose interfaces stand as they did keeps them; virtual routers are judged anew each time. */
function keptFrom(made: DeviceInterfaces, old: DeviceInterfaces | undefined): DeviceInterfaces {
  if (!old || made.interfaceStates.length !== old.interfaceStates.length)
    return { ...made, addressSets: addressSetsOf(made.interfaceStates) };
  if (made.instance === old.instance && !made.waysOut.length && !old.waysOut.length && isSame(made, old)) return old;
  const same = made.interfaceStates.map((interfaceState, at) =>
    standsAs(interfaceState, old.interfaceStates[at]!) ? old.interfaceStates[at]! : interfaceState,
  );
  const waysOut = made.waysOut.map(({ out, ...way }) => ({ ...way, out: same[made.interfaceStates.indexOf(out)]! }));
  const sameWays =
    waysOut.length === old.waysOut.length &&
    waysOut.every(
      (wayOut, at) =>
        wayOut.via?.value === old.waysOut[at]!.via?.value &&
        samePrefix(wayOut.prefix, old.waysOut[at]!.prefix) &&
        wayOut.out === old.waysOut[at]!.out,
    );
  const all = same.every((interfaceState, at) => interfaceState === old.interfaceStates[at]);
  return {
    ...made,
    interfaceStates: all ? old.interfaceStates : same,
    addressSets: all ? old.addressSets : addressSetsOf(same),
    waysOut: sameWays ? old.waysOut : waysOut,
  };
}

const isSame = (made: DeviceInterfaces, old: DeviceInterfaces): boolean =>
  !made.unreadable.length &&
  made.interfaceStates.every((interfaceState, at) => interfaceState === old.interfaceStates[at]);

const standsAs = (interfaceState: InterfaceState, old: InterfaceState): boolean =>
  interfaceState.config === old.config &&
  interfaceState.key === old.key &&
  interfaceState.point === old.point &&
  interfaceState.up === old.up &&
  !interfaceState.config.vrrp?.length &&
  interfaceState.linkLocal?.value === old.linkLocal?.value &&
  interfaceState.addresses.length === old.addresses.length &&
  interfaceState.addresses.every((on, at) => {
    const there = old.addresses[at]!;
    return on === there || (on.length === there.length && sameAddress(on.address, there.address));
  });

/** Where an interface hears frames and whether it is up: a sub-interface follows its port, a VLAN interface its VLAN. */
function standing(
  instance: Instance,
  config: Interface,
  layer1: Physical,
  layer2: DataLink,
): { point: number | null; up: boolean } {
  const down = { point: null, up: false };
  if (layer1.unpowered.has(instance.id) || config.enabled === false) return down;
  const carrier = (port: string): boolean =>
    (layer1.atPort.get(portId(instance.id, port)) ?? []).some((id) => layer1.links.get(id)?.up);
  const { on } = config;
  switch (on.kind) {
    case 'loopback':
      return { point: null, up: true };
    case 'port':
    case 'sub': {
      if (!carrier(on.port) || instance.ports.get(on.port)?.switched) return down;
      return { point: layer2.portPoint(instance.id, on.port, wireTagOf(instance, config, layer2)), up: true };
    }
    case 'svi': {
      const vlan = layer2.vlanPoint(instance.id, on.vlan);
      return vlan?.up ? vlan : down;
    }
    case 'bundle': {
      if (!layer2.bundles.formed(instance.id, on.bundle)) return down;
      const ports = instance.settings.bundles?.[on.bundle]?.members ?? [];
      const port = ports.find((port) => carrier(port) && !instance.ports.get(port)?.switched);
      return port === undefined ? down : { point: layer2.portPoint(instance.id, port, 0), up: true };
    }
    case 'tunnel':
      return down; // the seam for tunnels
  }
}

/** The tag that frames of an interface on a port have: telephones take the VLAN for voice that their switch tells them. */
export function wireTagOf({ id, model }: Instance, { on }: Interface, layer2: DataLink): number {
  if (on.kind === 'sub') return on.untagged ? 0 : on.vlan;
  return on.kind === 'port' && model.kind === 'phone' ? layer2.voiceVlanAt(id, on.port) : 0;
}

function addressesOf(instance: Instance, key: string, config: Interface, refused: Reason[]): InterfaceAddress[] {
  const texts = [...(config.v4?.addresses ?? []), ...(config.v6?.addresses ?? [])];
  return texts.flatMap((text) => {
    const read = parseInterfaceAddress(text);
    if (read.ok) return [read.value];
    refused.push({
      code: 'ADDRESS_UNREADABLE',
      text: `${instance.name} ${key}: ${read.error.text}`,
      at: { device: instance.id, port: key },
    });
    return [];
  });
}

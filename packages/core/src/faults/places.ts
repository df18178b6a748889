import {
  type Address,
  type Family,
  type InterfaceAddress,
  type Prefix,
  bitsOf,
  formatInterfaceAddress,
  parseInterfaceAddress,
} from '../address';
import { instanceId } from '../engine';
import {
  type Command,
  type Device,
  type Interface,
  type Link,
  type LinkEnd,
  type Model,
  type PortFacts,
  type Topology,
  entriesById,
  entryOf,
  modelOf,
  portOf,
} from '../topology';

/** Places of a drawing where faults are made, in a fixed order. */

/** A typed address of an interface of a device, or of a member of its tile. */
export interface TypedAddress {
  readonly device: string;
  readonly member: string | undefined;
  /** The name of the device or member. */
  readonly name: string;
  readonly forwards: boolean;
  readonly key: string;
  readonly settings: Interface;
  readonly family: Family;
  /** Its place among the addresses of its family. */
  readonly index: number;
  readonly on: InterfaceAddress;
}

export function* typedAddresses(topology: Topology): Iterable<TypedAddress> {
  for (const { id, device, model } of devicesOf(topology)) {
    const forwards = model.forwards ?? false;
    yield* addressesIn(device.interfaces, { device: id, member: undefined, name: device.name, forwards });
    for (const [at, [member, each]] of entriesById(device.members).entries()) {
      const name = each.name ?? `${device.name}-${at + 1}`;
      yield* addressesIn(each.interfaces, { device: id, member, name, forwards });
    }
  }
}

function* addressesIn(
  interfaces: Device['interfaces'],
  owner: Pick<TypedAddress, 'device' | 'member' | 'name' | 'forwards'>,
): Iterable<TypedAddress> {
  for (const [key, settings] of entriesById(interfaces))
    for (const family of [4, 6] as const)
      for (const [index, text] of ((family === 4 ? settings.v4 : settings.v6)?.addresses ?? []).entries()) {
        const read = parseInterfaceAddress(text);
        if (read.ok) yield { ...owner, key, settings, family, index, on: read.value };
      }
}

/** The typed addresses of devices that packets end at. */
export const hostAddresses = (topology: Topology): TypedAddress[] =>
  [...typedAddresses(topology)].filter((typed) => !typed.forwards);

export const placeOf = ({ device, member, key }: TypedAddress): { device: string; port: string } => ({
  device: instanceId({ device, ...(member !== undefined && { member }) }),
  port: key,
});

/** Writes another text where an address is typed; null takes it away. */
export function retype(typed: TypedAddress, text: string | null): Command {
  const { device, member, key, settings, family, index } = typed;
  const layer = family === 4 ? 'v4' : 'v6';
  const addresses = (settings[layer]?.addresses ?? []).flatMap((old, at) => (at === index ? (text ?? []) : old));
  const owner = member === undefined ? [] : ['members', member];
  const path = ['devices', device, ...owner, 'interfaces', key, layer, 'addresses'];
  return { kind: 'edits', edits: [addresses.length ? { path, value: addresses } : { path }] };
}
export const retypeTo = (typed: TypedAddress, on: InterfaceAddress): Command =>
  retype(typed, formatInterfaceAddress(on));

/** The subnet beside: its number differs in the last bit. Null where there is none. */
export function besideOf({ family, value, length }: Prefix): Prefix | null {
  return length === 0 ? null : { family, value: value ^ (1n << BigInt(bitsOf(family) - length)), length };
}
/** The same host number in the subnet beside. */
export function movedBeside({ family, value }: Address, length: number): Address | null {
  return length === 0 ? null : { family, value: value ^ (1n << BigInt(bitsOf(family) - length)) };
}

export interface PlacedDevice {
  readonly id: string;
  readonly device: Device;
  readonly model: Model;
}
export const devicesOf = (topology: Topology): PlacedDevice[] =>
  entriesById(topology.devices).flatMap(([id, device]) => {
    const model = modelOf(topology, device);
    return model ? [{ id, device, model }] : [];
  });
export const routersOf = (topology: Topology): PlacedDevice[] =>
  devicesOf(topology).filter(({ model }) => model.forwards);
export const switchesOf = (topology: Topology): PlacedDevice[] =>
  devicesOf(topology).filter(({ model }) => model.bridges === 'vlan');

/** One end of a link with its port, and the end at the other side. */
export interface PluggedEnd {
  readonly link: string;
  readonly cable: Link;
  readonly side: 'a' | 'b';
  readonly end: LinkEnd;
  readonly other: LinkEnd;
  readonly device: Device;
  readonly facts: PortFacts;
  readonly otherFacts: PortFacts;
}
export function* pluggedEnds(topology: Topology): Iterable<PluggedEnd> {
  for (const [link, cable] of entriesById(topology.links))
    for (const [side, across] of [
      ['a', 'b'],
      ['b', 'a'],
    ] as const) {
      const [end, other] = [cable[side], cable[across]];
      const [device, peer] = [entryOf(topology.devices, end.device), entryOf(topology.devices, other.device)];
      const facts = device && portOf(topology, device, end.port);
      const otherFacts = peer && portOf(topology, peer, other.port);
      if (facts && otherFacts) yield { link, cable, side, end, other, device, facts, otherFacts };
    }
}
export const endPlace = ({ link, end }: PluggedEnd): { link: string; device: string; port: string } => ({
  link,
  device: instanceId(end),
  port: end.port,
});
/** "SW1 u1 – R1 g0" */
export function linkName({ devices }: Topology, { a, b }: Link): string {
  return [a, b].map((end) => `${entryOf(devices, end.device)?.name ?? end.device} ${end.port}`).join(' – ');
}

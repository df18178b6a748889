import { type Command, type Device, type Interface, entryOf } from '../topology';

/** Where an interface sits that is on no port alone. */
export type VirtualPlace = Extract<Interface['on'], { kind: 'loopback' | 'svi' | 'sub' }>;

/** What an interface of that kind is called: lo0 and so on, vlan20, g0.20. */
export function virtualInterfaceKey({ interfaces }: Device, on: VirtualPlace): string {
  if (on.kind === 'svi') return `vlan${on.vlan}`;
  if (on.kind === 'sub') return `${on.port}.${on.vlan}`;
  for (let number = 0; ; number++) if (!entryOf(interfaces, `lo${number}`)) return `lo${number}`;
}

/** A new interface for VLAN, sub-interface or loopback; null where it is there already. */
export function addVirtualInterface(
  device: Device,
  id: string,
  on: VirtualPlace,
): { key: string; command: Command } | null {
  const key = virtualInterfaceKey(device, on);
  if (entryOf(device.interfaces, key)) return null;
  return { key, command: { kind: 'setInterface', device: id, key, set: { on } } };
}

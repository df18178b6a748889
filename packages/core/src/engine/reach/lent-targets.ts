import { type Address, parseAddressOf, sameAddress } from '../../address';
import { type Layers } from '../forwarding';
import { numberOf } from '../network';

/** An address that can be asked for, with the device that answers. */
export interface Target {
  readonly device: string;
  readonly address: Address;
}

/**
 * Addresses that answer although no interface has them: of virtual routers, at whoever is active (RFC 9568 §8.1.2), and of
 * translations (RFC 3022), at the device behind them; where only ports are forwarded, at the device that forwards.
 */
export function lentTargets({ layer3 }: Layers): Target[] {
  const found: Target[] = [];
  const add = (device: string, address: Address): void => {
    if (!found.some((known) => known.device === device && sameAddress(known.address, address)))
      found.push({ device, address });
  };
  for (const { instance, interfaceStates } of layer3.nodes.values())
    for (const { virtual = [], addresses } of interfaceStates)
      for (const address of virtual)
        if (!addresses.some((on) => sameAddress(on.address, address))) add(instance.id, address);
  for (const { instance } of layer3.translators)
    for (const { kind, inside, outside } of instance.settings.nat ?? []) {
      const address = outside === undefined ? null : parseAddressOf(4, outside);
      if ((kind !== 'static' && kind !== 'portForward') || !address?.ok) continue;
      if (layer3.owners.has(numberOf(address.value))) continue;
      const behind = inside === undefined ? null : parseAddressOf(4, inside);
      const owners = kind === 'static' && behind?.ok ? layer3.owners.get(numberOf(behind.value)) : undefined;
      for (const { instance: device } of owners ?? [{ instance: instance.id }]) add(device, address.value);
    }
  return found;
}

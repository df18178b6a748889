import { type Address, type InterfaceAddress, contains, parseAddress, subnetOf } from '../../address';
import { type Topology } from '../../topology';
import { hostAddresses, type PlacedDevice, devicesOf } from '../places';

/** A gateway that a device has, in the subnet of one of its addresses where there is such a one. */
export interface SetGateway extends PlacedDevice {
  readonly property: 'gateway4' | 'gateway6';
  readonly gateway: Address;
  readonly own: InterfaceAddress | undefined;
}

export function* setGateways(topology: Topology): Iterable<SetGateway> {
  const typed = hostAddresses(topology);
  for (const placed of devicesOf(topology))
    for (const property of ['gateway4', 'gateway6'] as const) {
      const text = placed.device.settings?.[property];
      const gateway = text === undefined ? null : parseAddress(text);
      if (!gateway?.ok) continue;
      const own = typed.find(({ device, on }) => device === placed.id && contains(subnetOf(on), gateway.value))?.on;
      yield { ...placed, property, gateway: gateway.value, own };
    }
}

import { type Address, formatAddress, parseAddressOf } from '../../address';
import { type DataLink } from '../datalink';
import { judge } from '../filters';
import { type Instance } from '../devices';
import { type InterfaceState } from './node';

/** A router that takes part in a virtual router on one of its interfaces (RFC 9568). */
export interface VirtualRouter {
  readonly interfaceState: InterfaceState;
  readonly group: number;
  readonly addresses: readonly Address[];
  /** 255 where an address is its own (RFC 9568 5.2.4). */
  readonly priority: number;
  readonly isActive: boolean;
}

const [OWNER, USUAL] = [255, 100];
const ALL_ROUTERS: Address = { family: 4, value: 0xe0000012n };

/** Who is active for each virtual router, and who stands by: those that hear a better one (RFC 9568 6.4). */
export function virtualRouters(
  interfaceStates: readonly InterfaceState[],
  instances: ReadonlyMap<string, Instance>,
  layer2: DataLink,
): VirtualRouter[] {
  const speakers = interfaceStates.filter(({ up, point, config }) => up && point !== null && config.vrrp);
  const all = speakers.flatMap((interfaceState) =>
    interfaceState.config.vrrp!.map(({ group, addresses: texts, priority = USUAL }) => {
      const addresses = texts.flatMap((text) => {
        const read = parseAddressOf(text.includes(':') ? 6 : 4, text);
        return read.ok ? [read.value] : [];
      });
      const own = interfaceState.addresses.some((on) =>
        addresses.some((address) => formatAddress(address) === formatAddress(on.address)),
      );
      return { interfaceState, group, addresses, priority: own ? OWNER : priority };
    }),
  );
  return all.map((mine) => ({
    ...mine,
    isActive: !all.some(
      (other) =>
        other !== mine &&
        other.group === mine.group &&
        other.interfaceState.instance !== mine.interfaceState.instance &&
        isBetter(other, mine) &&
        isHeard(other.interfaceState, mine.interfaceState, instances, layer2),
    ),
  }));
}

/** The higher priority, and of equal ones the higher address of the interface (RFC 9568 6.4.3). */
function isBetter(first: Omit<VirtualRouter, 'isActive'>, second: Omit<VirtualRouter, 'isActive'>): boolean {
  const primary = ({ interfaceState }: Omit<VirtualRouter, 'isActive'>): bigint =>
    interfaceState.addresses[0]?.address.value ?? 0n;
  return first.priority === second.priority ? primary(first) > primary(second) : first.priority > second.priority;
}

function isHeard(
  from: InterfaceState,
  to: InterfaceState,
  instances: ReadonlyMap<string, Instance>,
  layer2: DataLink,
): boolean {
  const source = from.addresses.find((on) => on.address.family === 4)?.address;
  if (!layer2.hears(from.point!, to.point!)) return false;
  if (!source) return true;
  const packet = { source, destination: ALL_ROUTERS, protocol: 'vrrp' as const };
  return judge(instances.get(to.instance)!, to.config.filterIn4, packet)?.passes ?? true;
}

/** The MAC address of a virtual router (RFC 9568 7.3). */
export const virtualMac = (group: number, family: 4 | 6): string =>
  `00:00:5e:00:0${family === 4 ? 1 : 2}:${group.toString(16).padStart(2, '0')}`;

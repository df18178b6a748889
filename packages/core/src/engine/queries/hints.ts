import { type NetworkModel } from '../analysis';
import { type Reason, type ReasonCode } from '../devices';

/** What would have to change, by what stops a packet; `who` is the device where it ends. */
const HINTS: Readonly<Partial<Record<ReasonCode, (who: string) => string>>> = {
  NO_ADDRESS: (who) => `Give an interface of ${who} an address of this family.`,
  INTERFACE_DOWN: (who) =>
    `Bring an interface of ${who} up: plug its cable into a port that is on, and mend what its link says.`,
  NO_GATEWAY: (who) => `Set the gateway of ${who} to the router’s address in its own subnet.`,
  GATEWAY_OUTSIDE: (who) =>
    `Give ${who} a gateway in its own subnet, or correct its address or prefix length so that the gateway lies in it.`,
  ADDRESS_UNREADABLE: (who) => `Correct what cannot be read at ${who}.`,
  NO_ROUTE: (who) =>
    `Give ${who} a route to this destination, or a default route; where a protocol should teach it, look at its neighbours.`,
  NULL_ROUTE: (who) => `Take the null route away at ${who}, or add a longer prefix that leads on.`,
  ROUTE_UNSTABLE: (who) =>
    `Give the routes of ${who} next hops in connected subnets, so that none leans on another, and each router of OSPF an id of its own.`,
  NEXT_HOP_UNREACHABLE: (who) =>
    `Correct the next hop at ${who}, or bring the neighbour with this address up on the same wire and VLAN.`,
  NO_ANSWER: (who) =>
    `Bring the device with this address up on the wire of ${who}: same VLAN, link up, and the address in the same subnet on both sides.`,
  BEYOND_SCOPE: () => 'Give the device that sends an IPv6 address that is good beyond its own link.',
  ONE_WAY_WIRE: () => 'Let both ends of the trunk on the way send the same VLAN without a tag.',
  NOT_FORWARDING: (who) => `Let ${who} forward packets, or send them to a router instead.`,
  FILTERED: (who) => `Add a rule at ${who} that permits this before the one that denies it, if it is meant to pass.`,
  ROUTE_LOOP: (who) =>
    `Correct the routes at ${who} and its neighbour, which point at one another for this destination.`,
  BROADCAST_ADDRESS: () => 'Ask for the address of one device.',
  DUPLICATE_ADDRESS: () => 'Give one of the devices with this address another one.',
  WRONG_DEVICE_ANSWERS: (who) => `Give ${who}, or the device that was meant, another address.`,
  BUNDLE_NOT_FORMED: () => 'Let both ends of the bundle negotiate, or make both static.',
  STORM: () => 'Take one link out of the loop, or let the switches on it take part in the spanning tree.',
  DHCP_TWICE: () => 'Let one server give addresses on this wire, and switch the other off.',
  EQUAL_COST_DIFFERS: () => 'Mend the way that does not work, or take its route out.',
};

/** What would have to change so that a packet comes on; null where nobody can say. */
export function hintFor({ instances }: Pick<NetworkModel, 'instances'>, { code, at }: Reason): string | null {
  const who = at.device === undefined ? undefined : instances.get(at.device)?.name;
  return HINTS[code]?.(who ?? 'the device') ?? null;
}

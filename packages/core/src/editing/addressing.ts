import { type InterfaceAddress, type Prefix, formatAddress, samePrefix, subnetOf } from '../address';
import { portAddressText } from '../drawing';
import { type PlanNode, drawnAddresses, gatewayOf, isSubnet } from '../plan';
import { type Command, type Topology, applyCommand, isSwitched, modelOf, entryOf, portsOf } from '../topology';
import { setAddress } from './change';
import { type PlanOfLab, NextAddresses } from './next-addresses';

/** Where addresses are taken from: one by one from a first address on, or from a subnet of the plan. */
export type AddressSource =
  { kind: 'from'; first: InterfaceAddress } | { kind: 'plan'; plan: PlanOfLab; node: PlanNode };

/** Subnets of the plan whose name, VLAN or prefix has a text in it. */
export function subnetsLike({ tree }: PlanOfLab, text: string): PlanNode[] {
  const wanted = text.trim().toLowerCase();
  return tree.order
    .map((id) => tree.nodes.get(id)!)
    .filter(
      (node) =>
        isSubnet(node) &&
        node.block.standing !== 'kept-free' &&
        [node.block.name, node.block.prefix, node.block.vlan === undefined ? '' : `VLAN ${node.block.vlan}`].some(
          (text) => text.toLowerCase().includes(wanted),
        ),
    );
}

/**
 * Gives devices addresses, each at the port that is said, else at its first one that carries an address, and hosts the
 * gateway of the subnet. `left` are the devices for which there was no port or no address any more, `addresses` what was given, in order.
 */
export function giveAddresses(
  topology: Topology,
  devices: readonly string[],
  source: AddressSource,
  said?: string,
): { commands: Command[]; given: number; left: string[]; addresses: string[] } {
  const free = new NextAddresses(topology, source.kind === 'plan' ? source.plan : undefined);
  const commands: Command[] = [];
  const left: string[] = [];
  const addresses: string[] = [];
  let given = 0;
  for (const id of devices) {
    const device = entryOf(topology.devices, id);
    const port = device && !device.members && addressedPort(topology, id, said);
    const texts = port ? addressesFrom(free, source) : [];
    if (!device || !port || !texts.length) {
      left.push(id);
      continue;
    }
    given++;
    addresses.push(...texts);
    let draft = topology;
    for (const text of texts) {
      const command = setAddress(draft, id, port, text.includes(':') ? 6 : 4, text);
      const done = applyCommand(draft, command);
      if (done.ok) draft = done.value.document;
      commands.push(command);
    }
    if (modelOf(topology, device)?.forwards) continue;
    const gateways = gatewaysFor(topology, source);
    if (Object.keys(gateways).length) commands.push({ kind: 'setSettings', device: id, set: gateways });
  }
  return { commands, given, left, addresses };
}

/** The first port that carries an address: one with a cable before one without; of a router, one that still has none. */
export function addressedPort(topology: Topology, id: string, said?: string): string | undefined {
  const device = topology.devices[id]!;
  const ports = portsOf(topology, device).filter(
    (port) => port.connector !== 'console' && !isSwitched(topology, device, port),
  );
  const cabled = new Set(
    Object.values(topology.links).flatMap(({ a, b }) => [a, b].flatMap((end) => (end.device === id ? end.port : []))),
  );
  if (said !== undefined) return ports.find((port) => port.key === said)?.key;
  const inOrder = [...ports.filter((port) => cabled.has(port.key)), ...ports.filter((port) => !cabled.has(port.key))];
  const isOpen = ({ key }: { key: string }): boolean => portAddressText(topology, id, key) === null;
  return ((modelOf(topology, device)?.forwards && inOrder.find(isOpen)) || inOrder[0])?.key;
}

function addressesFrom(free: NextAddresses, source: AddressSource): string[] {
  if (source.kind === 'from') {
    const text = free.takeFrom(source.first);
    return text === null ? [] : [text];
  }
  return ([4, 6] as const).flatMap((family) => {
    const subnet = source.node.space[family];
    return (subnet && free.take(subnet)) ?? [];
  });
}

function gatewaysFor(topology: Topology, source: AddressSource): { gateway4?: string; gateway6?: string } {
  if (source.kind === 'plan') {
    const { node, plan } = source;
    const [four, six] = ([4, 6] as const).map((family) => {
      const prefix = node.space[family];
      return prefix ? gatewayOf(node.block, prefix, plan.brief) : null;
    });
    return { ...(four && { gateway4: formatAddress(four) }), ...(six && { gateway6: formatAddress(six) }) };
  }
  const router = routerIn(topology, subnetOf(source.first));
  if (!router) return {};
  return source.first.address.family === 4 ? { gateway4: router } : { gateway6: router };
}

/** The address of the router that stands in a subnet already. */
export function routerIn(topology: Topology, subnet: Prefix): string | null {
  const found = drawnAddresses(topology).find(
    (address) => address.isRouter && samePrefix(subnetOf(address.on), subnet),
  );
  return found ? formatAddress(found.on.address) : null;
}

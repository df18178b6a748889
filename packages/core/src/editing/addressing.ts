import {
  type Family,
  type InterfaceAddress,
  type Prefix,
  contains,
  formatAddress,
  parseAddress,
  parseInterfaceAddress,
  samePrefix,
  subnetOf,
} from '../address';
import { portAddressText } from '../drawing';
import { type PlanNode, gatewayOf, isGivenOut, isSubnet } from '../plan';
import {
  type Command,
  type Topology,
  applyCommand,
  isSwitched,
  modelOf,
  entriesById,
  entryOf,
  portsOf,
} from '../topology';
import { portInterface, setAddress } from './change';
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
        isGivenOut(node.block) &&
        [node.block.name, node.block.prefix, node.block.vlan === undefined ? '' : `VLAN ${node.block.vlan}`].some(
          (text) => text.toLowerCase().includes(wanted),
        ),
    );
}

interface Given {
  commands: Command[];
  given: number;
  /** The devices for which there was no port or no address any more. */
  left: string[];
  /** What was given, in order. */
  addresses: string[];
}

/**
 * Gives devices addresses, each at the port that is said, else at its first one that carries an address, and hosts the
 * gateway of the subnet. Addresses that they give up for the new ones are free again.
 */
export function giveAddresses(
  topology: Topology,
  devices: readonly string[],
  source: AddressSource,
  said?: string,
): Given {
  const ports = new Map(
    devices.flatMap((id) => {
      const device = entryOf(topology.devices, id);
      const port = device && !device.members && addressedPort(topology, id, said);
      return port ? [[id, port] as const] : [];
    }),
  );
  // Whoever gets none keeps the old ones, which then nobody else may have.
  const keeping = new Set(devices.filter((id) => !ports.has(id)));
  for (;;) {
    const result = giveFrom(topology, devices, source, ports, keeping);
    const more = result.left.filter((id) => !keeping.has(id));
    if (!more.length) return result;
    for (const id of more) keeping.add(id);
  }
}

function giveFrom(
  topology: Topology,
  devices: readonly string[],
  source: AddressSource,
  ports: ReadonlyMap<string, string>,
  keeping: ReadonlySet<string>,
): Given {
  const free = new NextAddresses(
    topology,
    source.kind === 'plan' ? source.plan : undefined,
    [...ports].flatMap(([id, port]) => (keeping.has(id) ? [] : givenUp(topology, id, port, source))),
  );
  const result: Given = { commands: [], given: 0, left: [], addresses: [] };
  for (const id of devices) {
    const port = ports.get(id);
    const texts = port && !keeping.has(id) ? addressesFrom(free, source) : [];
    if (!port || !texts.length) {
      result.left.push(id);
      continue;
    }
    result.given++;
    result.addresses.push(...texts);
    let draft = topology;
    for (const text of texts) {
      const command = setAddress(draft, id, port, text.includes(':') ? 6 : 4, text);
      const done = applyCommand(draft, command);
      if (done.ok) draft = done.value.document;
      result.commands.push(command);
    }
    if (modelOf(topology, topology.devices[id]!)?.forwards) continue;
    const gateways = gatewaysFor(topology, source);
    if (Object.keys(gateways).length) result.commands.push({ kind: 'setSettings', device: id, set: gateways });
  }
  return result;
}

/** The addresses of a port whose place new ones take: the first of each family that the source gives. */
function givenUp(topology: Topology, id: string, port: string, source: AddressSource): InterfaceAddress[] {
  const [, { v4, v6 }] = portInterface(topology.devices[id]!, port);
  const families: Family[] =
    source.kind === 'from'
      ? [source.first.address.family]
      : ([4, 6] as const).filter((family) => source.node.space[family]);
  return families.flatMap((family) => {
    const [text] = (family === 4 ? v4 : v6)?.addresses ?? [];
    const read = text === undefined ? null : parseInterfaceAddress(text);
    return read?.ok ? [read.value] : [];
  });
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
  // A trunk has its addresses at its sub-interfaces.
  const divided = new Set(
    Object.values(device.interfaces ?? {}).flatMap(({ on }) => (on.kind === 'sub' ? on.port : [])),
  );
  const isOpen = ({ key }: { key: string }): boolean =>
    !divided.has(key) && portAddressText(topology, id, key) === null;
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

/**
 * The address of the router that stands in a subnet already, one of the world outside as well: that which it shares with
 * others where it has one (RFC 9568), else its own.
 */
export function routerIn(topology: Topology, subnet: Prefix): string | null {
  const routers = entriesById(topology.devices).filter(([, device]) => modelOf(topology, device)?.forwards);
  for (const [, { interfaces }] of routers)
    for (const [, { v4, v6, vrrp = [] }] of entriesById(interfaces)) {
      const own = [...(v4?.addresses ?? []), ...(v6?.addresses ?? [])].flatMap((text) => {
        const read = parseInterfaceAddress(text);
        return read.ok && samePrefix(subnetOf(read.value), subnet) ? [read.value.address] : [];
      });
      if (!own.length) continue;
      const shared = vrrp.flatMap(({ addresses }) =>
        addresses.flatMap((text) => {
          const read = parseAddress(text);
          return read.ok && read.value.family === subnet.family && contains(subnet, read.value) ? [read.value] : [];
        }),
      );
      return formatAddress(shared[0] ?? own[0]!);
    }
  return null;
}

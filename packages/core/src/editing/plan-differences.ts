import { formatInterfaceAddress, parseAddress } from '../address';
import { portUses } from '../engine';
import { type Difference, type PlanCommand, type PlanTree, asInterface } from '../plan';
import { type Command, type Topology, entryOf, isSwitched } from '../topology';
import { rename, setAddress } from './change';

/** What makes the plan say what the drawing has; null where that is not possible. */
export function intoPlan(difference: Difference): PlanCommand | null {
  switch (difference.kind) {
    case 'onlyDrawn':
      return difference.noBlock
        ? null
        : { kind: 'takeAddresses', addresses: { [difference.address]: { name: difference.name } } };
    case 'otherName':
      return { kind: 'setAddress', address: difference.address, set: { name: difference.name } };
    case 'otherAddress':
      return {
        kind: 'batch',
        title: 'take over an address',
        commands: [
          { kind: 'freeAddresses', addresses: [difference.planned] },
          { kind: 'takeAddresses', addresses: { [difference.address]: { name: difference.name } } },
        ],
      };
    case 'onlyPlanned':
      return { kind: 'freeAddresses', addresses: [difference.address] };
    default:
      return null;
  }
}

/** What makes the drawing have what the plan says; null where that is not possible, or where a person must choose. */
export function intoDrawing(difference: Difference, tree: PlanTree, topology: Topology): Command[] | null {
  const { drawn } = difference;
  if (drawn?.member) return null;
  switch (difference.kind) {
    case 'otherAddress':
      return drawn && setTo(tree, topology, drawn.device, drawn.interface, difference.planned);
    case 'otherLength':
      return (
        drawn && [
          setAddress(
            topology,
            drawn.device,
            portOfInterface(topology, drawn.device, drawn.interface),
            drawn.on.address.family,
            formatInterfaceAddress({ address: drawn.on.address, length: difference.planned.length }),
          ),
        ]
      );
    case 'otherName': {
      const free = !Object.values(topology.devices).some((device) => device.name === difference.planned);
      return drawn && free ? rename(topology, drawn.device, difference.planned) : null;
    }
    case 'onlyPlanned': {
      const [id] =
        Object.entries(topology.devices).find(([, device]) => device.name === difference.name && !device.members) ?? [];
      if (id === undefined) return null;
      const interfaceConfig = freeInterface(topology, id, difference.address.includes(':') ? 6 : 4);
      return interfaceConfig === null ? null : setTo(tree, topology, id, interfaceConfig, difference.address);
    }
    default:
      return null;
  }
}

function setTo(
  tree: PlanTree,
  topology: Topology,
  device: string,
  interfaceConfig: string,
  address: string,
): Command[] | null {
  const read = parseAddress(address);
  const text = read.ok ? asInterface(tree, read.value) : null;
  if (!read.ok || text === null) return null;
  return [setAddress(topology, device, portOfInterface(topology, device, interfaceConfig), read.value.family, text)];
}

/** The port that an interface stands on; interfaces of ports are keyed by it where nothing else is set. */
function portOfInterface(topology: Topology, device: string, interfaceConfig: string): string {
  const on = entryOf(entryOf(topology.devices, device)?.interfaces, interfaceConfig)?.on;
  return on?.kind === 'port' ? on.port : interfaceConfig;
}

/** A port of a device that can carry an address and has none yet, a connected one first. */
function freeInterface(topology: Topology, id: string, family: 4 | 6): string | null {
  const device = topology.devices[id]!;
  const interfaces = Object.values(device.interfaces ?? {});
  const free = portUses(topology, id).filter(({ facts }) => {
    if (facts.connector === 'console' || isSwitched(topology, device, facts)) return false;
    const interfaceConfig = interfaces.find(
      (interfaceConfig) => interfaceConfig.on.kind === 'port' && interfaceConfig.on.port === facts.key,
    );
    return !(family === 4 ? interfaceConfig?.v4?.addresses : interfaceConfig?.v6?.addresses)?.length;
  });
  return (free.find((use) => use.links.length > 0) ?? free[0])?.facts.key ?? null;
}

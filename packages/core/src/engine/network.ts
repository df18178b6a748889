import {
  type Address,
  type InterfaceAddress,
  formatAddress,
  formatPrefix,
  parseInterfaceAddress,
  subnetOf,
} from '../address';
import { type Interface } from '../topology';
import { type DataLink } from './datalink';
import { type Instance } from './instances';
import { type Attachment, type Node, type Route, RouteTable } from './node';
import { type OspfState, ospf } from './ospf';
import { type Physical, portId } from './physical';
import { type Reason } from './reason';
import { ripRoutes } from './rip';
import { addStatics } from './statics';

/** An address that a server gave to an interface, with the way out that it told. */
export interface Lease {
  readonly address: InterfaceAddress;
  readonly router: Address | null;
  /** The device that gave it. */
  readonly server: string;
  /** Whether another server offers something else as well: which one is taken is not certain. */
  readonly rivals: boolean;
}
/** Leases by "device interface". */
export type Leases = ReadonlyMap<string, Lease>;
export const leaseKey = (instance: string, key: string): string => `${instance} ${key}`;

export interface Network {
  readonly nodes: ReadonlyMap<string, Node>;
  /** Active attachments by address text. */
  readonly owners: ReadonlyMap<string, readonly Attachment[]>;
  /** Devices that translate addresses. */
  readonly translators: readonly Node[];
  readonly leases: Leases;
  readonly ospf: OspfState;
}

/** Protocols take routes over from one another: after so many rounds what still changes is left as it is. */
const MOST_ROUNDS = 8;

/** Interfaces with their addresses and all routes, with the leases that are given. */
export function network(
  instances: ReadonlyMap<string, Instance>,
  layer1: Physical,
  layer2: DataLink,
  leases: Leases = new Map(),
): Network {
  const owners = new Map<string, Attachment[]>();
  const bases = [...instances.values()].map((instance): Omit<Node, 'table'> => {
    const refused: Reason[] = [];
    const attachments = instance.interfaces.map(([key, config]): Attachment => {
      const { point, up } = standing(instance, config, layer1, layer2);
      const addresses = addressesOf(instance, key, config, refused);
      const lease = leases.get(leaseKey(instance.id, key));
      if (lease && up) addresses.push(lease.address);
      return { instance: instance.id, key, config, point, up, addresses };
    });
    for (const attachment of attachments)
      if (attachment.up)
        for (const { address } of attachment.addresses) {
          const text = formatAddress(address);
          owners.set(text, [...(owners.get(text) ?? []), attachment]);
        }
    return { instance, attachments, refused };
  });
  const speedOf = ({ instance, config: { on } }: Attachment): number => {
    const port = on.kind === 'port' || on.kind === 'sub' ? on.port : null;
    const [link] = port === null ? [] : (layer1.atPort.get(portId(instance, port)) ?? []);
    return (link === undefined ? null : layer1.links.get(link)?.speedMbps) ?? 1000;
  };

  let learnt = new Map<string, Route[]>();
  let nodes = tabled(bases, leases, learnt);
  let database = ospf(nodes, layer2, speedOf);
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const rip = ripRoutes(nodes, layer2);
    const next = new Map(
      bases.map(({ instance: { id } }) => [id, [...(database.routes.get(id) ?? []), ...(rip.get(id) ?? [])]]),
    );
    if (textOf(next) === textOf(learnt)) break;
    learnt = next;
    nodes = tabled(bases, leases, learnt);
    // What nobody takes over from elsewhere does not change with the tables.
    if (!bases.some(({ instance }) => takesRoutesOver(instance))) break;
    database = ospf(nodes, layer2, speedOf);
  }
  const translators = [...nodes.values()].filter((one) => one.instance.settings.nat?.length);
  return { nodes, owners, translators, leases, ospf: database };
}

const takesRoutesOver = ({ settings: { ospf: area, rip } }: Instance): boolean =>
  [area, rip].some((one) => one?.redistribute?.length || one?.defaultOriginate);

const textOf = (learnt: ReadonlyMap<string, readonly Route[]>): string =>
  [...learnt]
    .map(
      ([id, routes]) =>
        `${id}: ${routes.map(({ prefix, source, metric, via, out }) => `${formatPrefix(prefix)} ${source} ${metric} ${via?.value} ${out?.key}`).join()}`,
    )
    .join('\n');

/** The routing table of every device: what is connected, what it has learnt, and what was typed. */
function tabled(
  bases: readonly Omit<Node, 'table'>[],
  leases: Leases,
  learnt: ReadonlyMap<string, readonly Route[]>,
): Map<string, Node> {
  return new Map(
    bases.map(({ instance, attachments, refused }) => {
      const table = new RouteTable();
      for (const out of attachments)
        if (out.up)
          for (const on of out.addresses)
            table.add({ prefix: subnetOf(on), source: 'connected', distance: 0, metric: 0, via: null, out });
      for (const route of learnt.get(instance.id) ?? []) table.add(route);
      for (const out of attachments) {
        const router = leases.get(leaseKey(instance.id, out.key))?.router;
        const prefix = { family: 4 as const, value: 0n, length: 0 };
        if (router && out.up) table.add({ prefix, source: 'dhcp', distance: 254, metric: 0, via: router, out });
      }
      const all = [...refused];
      addStatics(instance, attachments, table, all);
      return [instance.id, { instance, attachments, table, refused: all }];
    }),
  );
}
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
      return {
        point: layer2.portPoint(instance.id, on.port, on.kind === 'sub' && !on.untagged ? on.vlan : 0),
        up: true,
      };
    }
    case 'svi': {
      const vlan = layer2.vlanPoint(instance.id, on.vlan);
      return vlan?.up ? vlan : down;
    }
    case 'bundle': {
      if (!layer2.bundles.formed(instance.id, on.bundle)) return down;
      const ports = instance.settings.bundles?.[on.bundle]?.members ?? [];
      const port = ports.find((one) => carrier(one) && !instance.ports.get(one)?.switched);
      return port === undefined ? down : { point: layer2.portPoint(instance.id, port, 0), up: true };
    }
    case 'tunnel':
      return down; // the seam for tunnels
  }
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

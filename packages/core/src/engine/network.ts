import {
  type Address,
  type Family,
  type InterfaceAddress,
  formatAddress,
  formatPrefix,
  parseInterfaceAddress,
  subnetOf,
} from '../address';
import { type Interface } from '../topology';
import { advertisementsOf, autoconfigured, linkLocalOf } from './autoconf';
import { type DataLink } from './datalink';
import { type Instance } from './instances';
import { type Attachment, type Node, type Route, RouteTable } from './node';
import { type OspfState, ospf } from './ospf';
import { type Physical, portId } from './physical';
import { type Reason } from './reason';
import { ripRoutes } from './rip';
import { addStatics } from './statics';
import { type VirtualRouter, virtualRouters } from './vrrp';

/** An address that a server gave to an interface, with the way out that it told. */
export interface Lease {
  readonly address: InterfaceAddress;
  /** Who got it, and on which interface. */
  readonly client: { readonly device: string; readonly interface: string };
  readonly router: Address | null;
  /** Servers for names that it told. */
  readonly dns: readonly Address[];
  /** The device that gave it. */
  readonly server: string;
  /** Whether another server offers something else as well: which one is taken is not certain. */
  readonly rivals: boolean;
}
/** Leases by `leaseKey`. */
export type Leases = ReadonlyMap<string, Lease>;
export const leaseKey = (instance: string, key: string, family: Family = 4): string =>
  family === 4 ? `${instance} ${key}` : `${instance} ${key} 6`;

export interface Network {
  readonly nodes: ReadonlyMap<string, Node>;
  /** Active attachments by address text. */
  readonly owners: ReadonlyMap<string, readonly Attachment[]>;
  /** Devices that translate addresses. */
  readonly translators: readonly Node[];
  readonly leases: Leases;
  readonly ospf: OspfState;
  readonly ospf6: OspfState;
  readonly vrrp: readonly VirtualRouter[];
}

/** A router that told of itself, and where it was heard. */
interface WayOut {
  readonly via: Address;
  readonly out: Attachment;
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
  const typed = [...instances.values()].map((instance): Omit<Node, 'table'> => {
    const refused: Reason[] = [];
    const attachments = instance.interfaces.map(([key, config]): Attachment => {
      const { point, up } = standing(instance, config, layer1, layer2);
      const addresses = addressesOf(instance, key, config, refused);
      const given = ([4, 6] as const).flatMap(
        (family) => leases.get(leaseKey(instance.id, key, family))?.address ?? [],
      );
      if (up) addresses.push(...given);
      const linkLocal = linkLocalOf(instance, key, config);
      return { instance: instance.id, key, config, point, up, addresses, linkLocal };
    });
    return { instance, attachments, refused };
  });
  const advertised = new Map<string, WayOut[]>();
  const advertisements = advertisementsOf(
    typed.flatMap((one) => one.attachments),
    instances,
  );
  const bases = typed.map(({ instance, attachments, refused }): Omit<Node, 'table'> => ({
    instance,
    refused,
    attachments: !advertisements.length
      ? attachments
      : attachments.map((one): Attachment => {
          const { addresses, routers } = autoconfigured(instance, one, advertisements, layer2);
          if (!routers.length) return one;
          const made = { ...one, addresses: [...one.addresses, ...addresses] };
          const ways = routers.map((via) => ({ via, out: made }));
          advertised.set(instance.id, [...(advertised.get(instance.id) ?? []), ...ways]);
          return made;
        }),
  }));
  const attached = bases.flatMap((one) => one.attachments);
  const vrrp = virtualRouters(attached, instances, layer2);
  for (const { attachment, addresses, isActive } of vrrp)
    // Nobody has seen them yet: they were made a few lines ago.
    if (isActive) Object.assign(attachment, { virtual: [...(attachment.virtual ?? []), ...addresses] });
  for (const attachment of attached) {
    if (!attachment.up) continue;
    const fixed = attachment.addresses.map((on) => on.address);
    const texts = [...fixed, attachment.linkLocal, ...(attachment.virtual ?? [])].flatMap((one) =>
      one ? formatAddress(one) : [],
    );
    for (const text of new Set(texts)) owners.set(text, [...(owners.get(text) ?? []), attachment]);
  }
  const speedOf = ({ instance, config: { on } }: Attachment): number => {
    const port = on.kind === 'port' || on.kind === 'sub' ? on.port : null;
    const [link] = port === null ? [] : (layer1.atPort.get(portId(instance, port)) ?? []);
    return (link === undefined ? null : layer1.links.get(link)?.speedMbps) ?? 1000;
  };

  let learnt = new Map<string, Route[]>();
  let nodes = tabled(bases, leases, advertised, learnt);
  let [database, database6] = ([4, 6] as const).map((family) => ospf(nodes, layer2, speedOf, family)) as [
    OspfState,
    OspfState,
  ];
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const rip = ripRoutes(nodes, layer2);
    const next = new Map(
      bases.map(({ instance: { id } }) => [
        id,
        [...(database.routes.get(id) ?? []), ...(database6.routes.get(id) ?? []), ...(rip.get(id) ?? [])],
      ]),
    );
    if (textOf(next) === textOf(learnt)) break;
    learnt = next;
    nodes = tabled(bases, leases, advertised, learnt);
    // What nobody takes over from elsewhere does not change with the tables.
    if (!bases.some(({ instance }) => takesRoutesOver(instance))) break;
    database = ospf(nodes, layer2, speedOf, 4);
    database6 = ospf(nodes, layer2, speedOf, 6);
  }
  const translators = [...nodes.values()].filter((one) => one.instance.settings.nat?.length);
  return { nodes, owners, translators, leases, ospf: database, ospf6: database6, vrrp };
}

const takesRoutesOver = ({ settings: { ospf: area, ospf6: area6, rip } }: Instance): boolean =>
  [area, area6, rip].some((one) => one?.redistribute?.length || one?.defaultOriginate);

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
  advertised: ReadonlyMap<string, readonly WayOut[]>,
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
      const everywhere = { family: 6 as const, value: 0n, length: 0 };
      for (const { via, out } of advertised.get(instance.id) ?? [])
        table.add({ prefix: everywhere, source: 'ra', distance: 254, metric: 0, via, out });
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

import fc from 'fast-check';
import {
  type Device,
  type Interface,
  type Link,
  type Model,
  type Settings,
  type Topology,
  emptyTopology,
} from '../topology';

/** How a network is to be; each is built without a mistake. */
export interface NetworkShape {
  /** Routers in a ring or a row, each with its local networks. */
  routers: number;
  ring: boolean;
  routing: 'static' | 'ospf' | 'ospf areas' | 'rip' | 'ospf and rip';
  /** One for each local network. */
  lans: { router: number; kind: LanKind; hosts: number; dhcp: 'none' | 'here' | 'relayed'; six: boolean }[];
  /** Numbers from which ids are made: who comes first decides ties. */
  order: number[];
}
type LanKind = 'switch' | 'stick' | 'redundant' | 'bundle' | 'hub' | 'virtual';

export const networkShapes: fc.Arbitrary<NetworkShape> = fc.record({
  routers: fc.integer({ min: 1, max: 5 }),
  ring: fc.boolean(),
  routing: fc.constantFrom('static', 'ospf', 'ospf areas', 'rip', 'ospf and rip'),
  lans: fc.array(
    fc.record({
      router: fc.nat(9),
      kind: fc.constantFrom<LanKind[]>('switch', 'stick', 'redundant', 'bundle', 'hub', 'virtual'),
      hosts: fc.integer({ min: 1, max: 3 }),
      dhcp: fc.constantFrom('none', 'here', 'relayed'),
      six: fc.boolean(),
    }),
    { minLength: 1, maxLength: 5 },
  ),
  order: fc.array(fc.nat(999), { minLength: 60, maxLength: 60 }),
});

const copper = (key: string, switched: boolean) => ({
  key,
  connector: 'copper' as const,
  speeds: [1000],
  pairing: 'mdi' as const,
  auto: true,
  ...(switched && { switched }),
});
const model = (kind: Model['kind'], kinds: Partial<Model>, count: number): Model => ({
  name: kind,
  kind,
  class: kind === 'desktop' || kind === 'server' ? 'end' : 'intermediary',
  ports: Array.from({ length: count }, (_, at) => copper(`p${at}`, kinds.bridges === 'vlan')),
  ...kinds,
});

export interface BuiltNetwork {
  readonly topology: Topology;
  /** Hosts with the number of their local network. */
  readonly hosts: readonly { id: string; lan: number; link: string }[];
}

/** Builds a network in which everybody reaches everybody. */
export function built(shape: NetworkShape): BuiltNetwork {
  const topology = emptyTopology();
  topology.models = {
    router: model('router', { forwards: true }, 24),
    switch: model('switch', { bridges: 'vlan' }, 24),
    'plain-hub': model('hub', { bridges: 'hub' }, 24),
    host: model('desktop', {}, 2),
  };
  const hosts: { id: string; lan: number; link: string }[] = [];
  let made = 0;
  const device = (what: string, settings: Settings = {}, ports: Device['ports'] = {}): string => {
    const id = `${what}${String(shape.order[made % shape.order.length]).padStart(3, '0')}x${made++}`;
    topology.devices[id] = {
      name: `${what}${made}`,
      model: what,
      at: { x: made * 90, y: 0 },
      settings,
      ports,
      interfaces: {},
    };
    return id;
  };
  const used = new Map<string, number>();
  const port = (id: string): string => {
    used.set(id, (used.get(id) ?? -1) + 1);
    return `p${used.get(id)}`;
  };
  const cable = (a: string, b: string, more: Partial<Link> = {}): { id: string; a: string; b: string } => {
    const id = `l${String(shape.order[Object.keys(topology.links).length % shape.order.length]).padStart(3, '0')}x${Object.keys(topology.links).length}`;
    const ends = { a: port(a), b: port(b) };
    topology.links[id] = {
      a: { device: a, port: ends.a },
      b: { device: b, port: ends.b },
      medium: 'straight',
      ...more,
    };
    return { id, ...ends };
  };
  const interfaceConfig = (id: string, key: string, config: Interface): void =>
    void (topology.devices[id]!.interfaces![key] = config);
  const settings = (id: string, more: Settings): void =>
    void (topology.devices[id]!.settings = { ...topology.devices[id]!.settings, ...more });
  const role = (id: string, key: string, vlan: number | 'trunk'): void =>
    void (topology.devices[id]!.ports![key] = {
      role:
        vlan === 'trunk' ? { kind: 'switched', mode: 'trunk' } : { kind: 'switched', mode: 'access', accessVlan: vlan },
    });
  const protocolOf = (at: number): ('ospf' | 'rip')[] => {
    if (shape.routing === 'rip') return ['rip'];
    if (shape.routing === 'ospf and rip') return at === 0 ? ['ospf', 'rip'] : [at % 2 ? 'ospf' : 'rip'];
    return shape.routing === 'static' ? [] : ['ospf'];
  };

  // Routers in a ring or a row; with both protocols all stand around the first, which takes over what each knows.
  const star = shape.routing === 'ospf and rip' || shape.routing === 'static';
  const routers = Array.from({ length: shape.routers }, () => device('router'));
  const transfers: { a: number; b: number; net: number }[] = [];
  for (let at = 1; at < routers.length; at++) transfers.push({ a: star ? 0 : at - 1, b: at, net: at });
  if (shape.ring && !star && routers.length > 2) transfers.push({ a: routers.length - 1, b: 0, net: routers.length });
  for (const { a, b, net } of transfers) {
    const ends = cable(routers[a]!, routers[b]!);
    const area = shape.routing === 'ospf areas' ? { ospf: { area: 0 } } : {};
    const six = (nth: number) => ({ addresses: [`2001:db8:ff:${net}::${nth}/64`], enabled: true });
    interfaceConfig(routers[a]!, ends.a, {
      on: { kind: 'port', port: ends.a },
      v4: { addresses: [`10.255.${net}.1/30`] },
      v6: six(1),
      ...area,
    });
    interfaceConfig(routers[b]!, ends.b, {
      on: { kind: 'port', port: ends.b },
      v4: { addresses: [`10.255.${net}.2/30`] },
      v6: six(2),
      ...area,
    });
  }
  for (const [at, id] of routers.entries()) {
    const networks = [{ prefix: '10.0.0.0/8', area: 0 }];
    const both = protocolOf(at).length > 1;
    settings(id, {
      ...(protocolOf(at).includes('ospf') && {
        ospf: { routerId: `1.1.1.${at + 1}`, networks, ...(both && { redistribute: ['rip' as const] }) },
      }),
      ...(protocolOf(at).includes('rip') && {
        rip: { networks: ['10.0.0.0/8'], ...(both && { redistribute: ['ospf' as const] }) },
      }),
    });
  }

  const networksAt = new Map<number, { four: string; six: string }[]>();
  for (const [lan, { router: wanted, kind, hosts: count, dhcp, six }] of shape.lans.entries()) {
    const at = wanted % routers.length;
    const router = routers[at]!;
    const [four, prefix6] = [`10.${lan + 1}.0`, `2001:db8:${lan + 1}:1`];
    const vlan = 10 + lan;
    networksAt.set(at, [...(networksAt.get(at) ?? []), { four: `${four}.0/24`, six: `${prefix6}::/64` }]);
    const inner: Interface = {
      on: { kind: 'port', port: '' },
      v4: { addresses: [`${four}.1/24`] },
      ...(six && { v6: { addresses: [`${prefix6}::1/64`], enabled: true } }),
      ...(shape.routing === 'ospf areas' && { ospf: { area: at } }),
    };
    const access = kind === 'hub' ? device('plain-hub') : device('switch');
    const up = cable(router, access);
    if (kind === 'stick') {
      role(access, up.b, 'trunk');
      interfaceConfig(router, `${up.a}.${vlan}`, { ...inner, on: { kind: 'sub', port: up.a, vlan } });
    } else {
      if (kind !== 'hub') role(access, up.b, vlan);
      interfaceConfig(router, up.a, { ...inner, on: { kind: 'port', port: up.a } });
    }
    const switches = [access];
    if (kind === 'redundant') {
      const others = [device('switch'), device('switch')];
      for (const [a, b] of [
        [access, others[0]],
        [access, others[1]],
        [others[0], others[1]],
      ] as [string, string][]) {
        const link = cable(a, b);
        role(a, link.a, 'trunk');
        role(b, link.b, 'trunk');
      }
      switches.push(...others);
    }
    if (kind === 'bundle') {
      const other = device('switch');
      const members = [cable(access, other), cable(access, other)];
      for (const { a, b } of members) {
        role(access, a, 'trunk');
        role(other, b, 'trunk');
      }
      settings(access, { bundles: { up: { members: members.map((member) => member.a), protocol: 'active' } } });
      settings(other, { bundles: { down: { members: members.map((member) => member.b), protocol: 'passive' } } });
      switches.push(other);
    }
    let gateway = `${four}.1`;
    if (kind === 'virtual') {
      gateway = `${four}.254`;
      topology.devices[router]!.interfaces![up.a]!.vrrp = [{ group: 1, addresses: [gateway], priority: 120 }];
    }
    if (dhcp !== 'none') {
      const pool = { network: `${four}.0/24`, ranges: [{ from: `${four}.100`, to: `${four}.199` }], router: gateway };
      const server = dhcp === 'here' ? router : routers[0]!;
      settings(server, { dhcpPools: [...(topology.devices[server]!.settings!.dhcpPools ?? []), pool] });
      const key = kind === 'stick' ? `${up.a}.${vlan}` : up.a;
      if (server !== router) topology.devices[router]!.interfaces![key]!.relays = [`10.255.${star ? at : 1}.1`];
    }
    for (let host = 0; host < count; host++) {
      const id = device('host');
      const where = switches[host % switches.length]!;
      const link = cable(id, where);
      if (kind !== 'hub') role(where, link.b, vlan);
      interfaceConfig(id, link.a, {
        on: { kind: 'port', port: link.a },
        v4: dhcp === 'none' ? { addresses: [`${four}.${10 + host}/24`] } : { dhcp: true },
        ...(six && { v6: host % 2 ? { addresses: [`${prefix6}::${10 + host}/64`], enabled: true } : { slaac: true } }),
      });
      settings(id, {
        ...(dhcp === 'none' && { gateway4: gateway }),
        ...(six && host % 2 && { gateway6: `${prefix6}::1` }),
      });
      hosts.push({ id, lan, link: link.id });
    }
  }

  // What no protocol tells is typed: by the star's spokes a default, by its middle each network; IPv6 along the row.
  for (const [at, id] of routers.entries()) {
    const routes: NonNullable<Settings['routes']> = [];
    for (const [there, networks] of networksAt) {
      if (there === at) continue;
      const step = nextTo(at, there, star);
      for (const { four, six } of networks) {
        if (shape.routing === 'static') routes.push({ prefix: four, via: `10.255.${step.net}.${step.nth}` });
        routes.push({ prefix: six, via: `2001:db8:ff:${step.net}::${step.nth}` });
      }
    }
    if (shape.routing === 'static')
      for (const { a, b, net } of transfers)
        if (a !== at && b !== at) {
          const step = nextTo(at, b, star);
          routes.push({ prefix: `10.255.${net}.0/30`, via: `10.255.${step.net}.${step.nth}` });
        }
    for (const { a, b, net } of transfers)
      if (a !== at && b !== at) {
        const far = Math.abs(a - at) < Math.abs(b - at) ? a : b;
        const step = nextTo(at, star ? b : far, star);
        routes.push({ prefix: `2001:db8:ff:${net}::/64`, via: `2001:db8:ff:${step.net}::${step.nth}` });
      }
    if (routes.length) settings(id, { routes });
  }
  return { topology, hosts };
}

/** The transfer network and the side of it by which a router goes on to another one. */
function nextTo(at: number, there: number, star: boolean): { net: number; nth: 1 | 2 } {
  if (star) return at === 0 ? { net: there, nth: 2 } : { net: at, nth: 1 };
  return there > at ? { net: at + 1, nth: 2 } : { net: at, nth: 1 };
}

import { type Static, Type } from '@sinclair/typebox';
import {
  AddressText,
  Closed,
  Count,
  Id,
  Key,
  KeyedBy,
  Line,
  ListOf,
  MapOf,
  Maybe,
  Name,
  OneOf,
  VlanId,
} from './schema-parts';

const OspfArea = Type.Integer({ minimum: 0, maximum: 4_294_967_295 });
const Distance = Type.Integer({ minimum: 1, maximum: 255 });

/** Where a route sends packets: to an address, out of an interface, both, or nowhere (neither: a null route). */
export const StaticRoute = Closed({
  prefix: AddressText,
  via: Maybe(AddressText),
  interface: Maybe(Key),
  distance: Maybe(Distance),
});

const OspfNetwork = Closed({ prefix: AddressText, area: OspfArea });
export const Ospf = Closed({
  routerId: Maybe(AddressText),
  networks: Maybe(ListOf(OspfNetwork)),
  areas: Maybe(
    MapOf(
      Closed({
        type: OneOf('normal', 'stub', 'totally-stub', 'nssa'),
        announceDefault: Maybe(
          Type.Boolean({ description: 'whether a router that joins a not-so-stubby area tells a default there' }),
        ),
      }),
    ),
  ),
  redistribute: Maybe(ListOf(OneOf('connected', 'static', 'rip'), 3)),
  externalType: Maybe(Type.Union([Type.Literal(1), Type.Literal(2)])),
  defaultOriginate: Maybe(OneOf('if-present', 'always')),
  referenceMbps: Maybe(Count),
});
export const Rip = Closed({
  networks: Maybe(ListOf(AddressText)),
  redistribute: Maybe(ListOf(OneOf('connected', 'static', 'ospf'), 3)),
  defaultOriginate: Maybe(Type.Boolean()),
});

const AddressSpan = Closed({ from: AddressText, to: AddressText });
export const DhcpPool = Closed({
  network: AddressText,
  ranges: Maybe(ListOf(AddressSpan, 64)),
  exclusions: Maybe(ListOf(AddressSpan, 64)),
  reservations: Maybe(ListOf(Closed({ mac: Line, address: AddressText }))),
  router: Maybe(AddressText),
  dns: Maybe(ListOf(AddressText, 8)),
  options: Maybe(MapOf(Line)),
});

const Ports = Closed({
  op: OneOf('eq', 'gt', 'lt', 'range'),
  from: Type.Integer({ minimum: 0, maximum: 65535 }),
  to: Maybe(Type.Integer({ minimum: 0, maximum: 65535 })),
});
/** What addresses a rule speaks of: "any", a prefix, an address with a wildcard mask, or a span. */
const Matcher = Type.Union([
  Closed({ kind: Type.Literal('any') }),
  Closed({ kind: Type.Literal('prefix'), prefix: AddressText }),
  Closed({ kind: Type.Literal('wildcard'), address: AddressText, wildcard: AddressText }),
  Closed({ kind: Type.Literal('range'), from: AddressText, to: AddressText }),
]);
/** A rule of a packet filter: what it matches, and whether that passes. */
export const FilterRule = Closed({
  action: OneOf('permit', 'deny'),
  proto: OneOf('ip', 'icmp', 'tcp', 'udp'),
  src: Matcher,
  dst: Matcher,
  srcPorts: Maybe(Ports),
  dstPorts: Maybe(Ports),
  icmpType: Maybe(Type.Integer({ minimum: 0, maximum: 255 })),
  established: Maybe(Type.Boolean()),
  enabled: Maybe(Type.Boolean()),
  note: Maybe(Line),
});
/** A packet filter: the first rule that matches decides; what none matches is dropped. */
export const Filter = Closed({
  family: Type.Union([Type.Literal(4), Type.Literal(6)]),
  rules: ListOf(FilterRule, 5000),
});

/** Address translation; `sources` is a prefix or the id of a filter. */
export const NatRule = Closed({
  kind: OneOf('overload', 'pool', 'static', 'portForward'),
  sources: Maybe(ListOf(AddressText, 256)),
  inside: Maybe(AddressText),
  outside: Maybe(AddressText),
  outsideInterface: Maybe(Key),
  pool: Maybe(AddressSpan),
  proto: Maybe(OneOf('tcp', 'udp')),
  insidePort: Maybe(Type.Integer({ minimum: 1, maximum: 65535 })),
  outsidePort: Maybe(Type.Integer({ minimum: 1, maximum: 65535 })),
});

const Service = Closed({
  enabled: Type.Boolean(),
  port: Maybe(Type.Integer({ minimum: 1, maximum: 65535 })),
  text: Maybe(Line),
});

/** What is configured on a device beyond its ports and interfaces. */
export const Settings = Closed({
  hostname: Maybe(Name),
  forwarding: Maybe(Closed({ v4: Maybe(Type.Boolean()), v6: Maybe(Type.Boolean()) })),
  gateway4: Maybe(AddressText),
  gateway6: Maybe(AddressText),
  dns: Maybe(ListOf(AddressText, 8)),
  vlans: Maybe(Type.Record(Type.String({ pattern: '^[1-9][0-9]{0,3}$' }), Name)),
  bundles: Maybe(MapOf(Closed({ members: ListOf(Key, 32), protocol: OneOf('active', 'passive', 'static') }))),
  routes: Maybe(ListOf(StaticRoute, 20_000)),
  ospf: Maybe(Ospf),
  ospf6: Maybe(Ospf),
  rip: Maybe(Rip),
  dhcpPools: Maybe(ListOf(DhcpPool, 256)),
  dhcp6Pools: Maybe(ListOf(DhcpPool, 256)),
  dnsRecords: Maybe(ListOf(Closed({ name: Line, type: OneOf('A', 'AAAA', 'CNAME', 'MX', 'PTR'), value: Line }))),
  ssids: Maybe(
    ListOf(Closed({ ssid: Name, security: OneOf('open', 'wpa2', 'wpa3'), key: Maybe(Line), vlan: Maybe(VlanId) }), 32),
  ),
  filters: Maybe(MapOf(Filter)),
  nat: Maybe(ListOf(NatRule, 512)),
  firewall: Maybe(
    Closed({
      zones: MapOf(Closed({ name: Name, interfaces: ListOf(Key, 256) })),
      policies: ListOf(Closed({ from: Id, to: Id, action: OneOf('permit', 'deny'), filter: Maybe(Id) }), 1024),
    }),
  ),
  spanningTree: Maybe(
    Closed({
      on: Maybe(Type.Boolean()),
      priority: Maybe(Type.Integer({ minimum: 0, maximum: 61440 })),
      instances: Maybe(
        ListOf(Closed({ vlans: ListOf(VlanId, 4094), priority: Type.Integer({ minimum: 0, maximum: 61440 }) }), 64),
      ),
      longCosts: Maybe(Type.Boolean()),
    }),
  ),
  services: Maybe(MapOf(Service)),
  management: Maybe(
    Closed({
      users: Maybe(
        ListOf(
          Closed({ name: Name, level: Maybe(Type.Integer({ minimum: 0, maximum: 15 })), password: Maybe(Line) }),
          64,
        ),
      ),
      console: Maybe(OneOf('open', 'password', 'user')),
      ssh: Maybe(Type.Boolean()),
      telnet: Maybe(Type.Boolean()),
      privileged: Maybe(OneOf('none', 'clear', 'hashed')),
      time: Maybe(AddressText),
      saved: Maybe(Type.Boolean()),
    }),
  ),
  telephony: Maybe(Closed({ extension: Maybe(Name), callServer: Maybe(AddressText) })),
});

const InterfaceOspf = Closed({
  area: Maybe(OspfArea),
  cost: Maybe(Type.Integer({ minimum: 1, maximum: 65535 })),
  passive: Maybe(Type.Boolean()),
  priority: Maybe(Type.Integer({ minimum: 0, maximum: 255 })),
  network: Maybe(OneOf('broadcast', 'point-to-point')),
  hello: Maybe(Count),
  dead: Maybe(Count),
});

/** Addressing of one family; `dhcp` and fixed addresses exclude one another for IPv4. */
const V4 = Closed({ dhcp: Maybe(Type.Boolean()), addresses: Maybe(ListOf(AddressText, 64)) });
const V6 = Closed({
  enabled: Maybe(Type.Boolean()),
  slaac: Maybe(Type.Boolean()),
  dhcp: Maybe(OneOf('none', 'stateless', 'stateful')),
  addresses: Maybe(ListOf(AddressText, 64)),
  linkLocal: Maybe(AddressText),
  ra: Maybe(
    Closed({
      send: Maybe(Type.Boolean()),
      managed: Maybe(Type.Boolean()),
      other: Maybe(Type.Boolean()),
      prefixes: Maybe(ListOf(AddressText, 64)),
    }),
  ),
});

/** An interface: what it lies on, its addresses, and what it does with packets. */
export const Interface = Closed({
  on: Type.Union([
    Closed({ kind: Type.Literal('port'), port: Key }),
    Closed({ kind: Type.Literal('sub'), port: Key, vlan: VlanId, untagged: Maybe(Type.Boolean()) }),
    Closed({ kind: Type.Literal('svi'), vlan: VlanId }),
    Closed({ kind: Type.Literal('loopback') }),
    Closed({ kind: Type.Literal('bundle'), bundle: Id }),
    Closed({
      kind: Type.Literal('tunnel'),
      source: Maybe(AddressText),
      destination: Maybe(AddressText),
      mode: Maybe(OneOf('gre', 'ipip')),
    }),
  ]),
  enabled: Maybe(Type.Boolean()),
  mtu: Maybe(Count),
  v4: Maybe(V4),
  v6: Maybe(V6),
  ospf: Maybe(InterfaceOspf),
  ospf6: Maybe(InterfaceOspf),
  rip: Maybe(Closed({ passive: Maybe(Type.Boolean()), version: Maybe(Type.Integer({ minimum: 1, maximum: 2 })) })),
  filterIn4: Maybe(Id),
  filterOut4: Maybe(Id),
  filterIn6: Maybe(Id),
  filterOut6: Maybe(Id),
  natSide: Maybe(OneOf('inside', 'outside')),
  relays: Maybe(ListOf(AddressText, 16)),
  vrrp: Maybe(
    ListOf(
      Closed({
        group: Type.Integer({ minimum: 1, maximum: 255 }),
        addresses: ListOf(AddressText, 16),
        priority: Maybe(Type.Integer({ minimum: 1, maximum: 254 })),
        preempt: Maybe(Type.Boolean()),
      }),
      64,
    ),
  ),
  description: Maybe(Line),
});

/** Interfaces by their keys. */
export const InterfaceMap = KeyedBy(Interface);
export type Interface = Static<typeof Interface>;
export type Settings = Static<typeof Settings>;
export type StaticRoute = Static<typeof StaticRoute>;
export type Filter = Static<typeof Filter>;
export type FilterRule = Static<typeof FilterRule>;

import { type Static, Type } from '@sinclair/typebox';
import {
  Closed,
  Coordinate,
  Count,
  FieldValue,
  Fields,
  Id,
  Key,
  KeyedBy,
  Line,
  ListOf,
  Mac,
  MapOf,
  Maybe,
  Name,
  OneOf,
  Paragraphs,
  Point,
  VlanId,
} from './schema-parts';
import { type Interface, InterfaceMap, Settings } from './schema-settings';

export const TOPOLOGY_VERSION = 4;

/** The physical kinds of cable, and "wireless" for an association by radio. */
export const MEDIA = [
  'straight',
  'crossover',
  'rollover',
  'mm-fibre',
  'sm-fibre',
  'serial',
  'coax',
  'phone',
  'wireless',
] as const;
/** The medium of a link. */
export type Medium = (typeof MEDIA)[number];
const MediumSchema = OneOf(...MEDIA);

/** Kinds of devices. */
export const DEVICE_KINDS = [
  'router',
  'switch',
  'l3-switch',
  'hub',
  'firewall',
  'access-point',
  'home-gateway',
  'modem',
  'converter',
  'segment',
  'cloud',
  'desktop',
  'laptop',
  'server',
  'printer',
  'phone',
  'tablet',
  'smartphone',
  'camera',
  'till',
  'turnstile',
  'controller',
  'sensor',
  'device',
  'patch-panel',
  'outlet',
] as const;
/** The kind of a device. */
export type DeviceKind = (typeof DEVICE_KINDS)[number];
export const DEVICE_CLASSES = ['end', 'intermediary', 'security', 'wireless', 'cloud', 'passive'] as const;
export type DeviceClass = (typeof DEVICE_CLASSES)[number];

/**
 * The hardware facts of one port. `speeds` in Mb/s; `pairing` is the wiring of a copper port (IEEE 802.3 clause
 * 14.5.2).
 */
export const PortFacts = Closed({
  key: Key,
  connector: OneOf('copper', 'mm-fibre', 'sm-fibre', 'serial', 'coax', 'phone', 'radio', 'console'),
  speeds: ListOf(Count, 8),
  pairing: Maybe(OneOf('mdi', 'mdix')),
  auto: Maybe(Type.Boolean({ description: 'finds the pairing by itself (automatic MDI/MDI-X)' })),
  switched: Maybe(Type.Boolean({ description: 'belongs to the bridge of the device' })),
  poe: Maybe(OneOf('source', 'sink')),
  watts: Maybe(
    Type.Number({
      exclusiveMinimum: 0,
      maximum: 1000,
      description: 'what a fed port takes from the port that feeds it',
    }),
  ),
  many: Maybe(Type.Boolean({ description: 'takes more than one link: radios and shared segments' })),
  through: Maybe(
    Type.Unsafe<string>({
      ...Key,
      description: 'the port of a passive device that this one is wired to, which names it back',
    }),
  ),
  rear: Maybe(Type.Boolean({ description: 'the side of a passive device where fixed cables end' })),
});

/** A device model: what it is and which ports and bays it has. */
export const Model = Closed({
  name: Name,
  kind: OneOf(...DEVICE_KINDS),
  class: OneOf(...DEVICE_CLASSES),
  forwards: Maybe(Type.Boolean({ description: 'forwards packets between its interfaces unless switched off' })),
  bridges: Maybe(OneOf('vlan', 'hub')),
  ports: ListOf(PortFacts, 512),
  bays: Maybe(KeyedBy(Closed({ accepts: ListOf(Id, 32) }))),
  poeWatts: Maybe(
    Type.Number({
      minimum: 0,
      maximum: 100_000,
      description: 'what it feeds over all its ports together; without end where it is absent',
    }),
  ),
});

const PortRole = Type.Union([
  Closed({
    kind: Type.Literal('switched'),
    mode: OneOf('access', 'trunk'),
    accessVlan: Maybe(VlanId),
    voiceVlan: Maybe(VlanId),
    allowed: Maybe(Type.Union([Type.Literal('all'), ListOf(VlanId, 4094)])),
    native: Maybe(VlanId),
    edge: Maybe(Type.Boolean()),
  }),
  Closed({ kind: Type.Literal('routed') }),
]);

/** Only what differs from the model's default is stored. */
export const PortConfig = Closed({
  enabled: Maybe(Type.Boolean()),
  speed: Maybe(Type.Union([Type.Literal('auto'), Count])),
  duplex: Maybe(OneOf('auto', 'full', 'half')),
  mac: Maybe(Mac),
  label: Maybe(Name),
  clockEnd: Maybe(Type.Boolean()),
  role: Maybe(PortRole),
  stp: Maybe(
    Closed({
      cost: Maybe(Count),
      priority: Maybe(Type.Integer({ minimum: 0, maximum: 240 })),
      bpduGuard: Maybe(Type.Boolean()),
      rootGuard: Maybe(Type.Boolean()),
    }),
  ),
  security: Maybe(
    Closed({
      maxMacs: Maybe(Count),
      allowed: Maybe(ListOf(Mac, 1024)),
      onViolation: Maybe(OneOf('protect', 'restrict', 'shutdown')),
    }),
  ),
  radio: Maybe(Closed({ ssid: Name, security: OneOf('open', 'wpa2', 'wpa3'), key: Maybe(Line) })),
  fields: Maybe(Fields),
});

/** A site: a place that devices stand at; it may lie inside another one. */
export const Site = Closed({
  name: Name,
  kind: Maybe(OneOf('lan', 'wan', 'provider')),
  parent: Maybe(Id),
  area: Maybe(Closed({ x: Coordinate, y: Coordinate, width: Coordinate, height: Coordinate })),
  order: Maybe(Type.Number()),
});

/** What sets one of the like hosts of a tile apart from the others. */
const Member = Closed({
  order: Maybe(Type.Number()),
  name: Maybe(Name),
  ports: Maybe(KeyedBy(PortConfig)),
  interfaces: Maybe(InterfaceMap),
});

/** What lies above what: higher ones in front, 0 where nothing is said. */
const Layer = Type.Integer({ minimum: -1000, maximum: 1000 });

/** One of the eight tones of drawings. */
const Tint = Type.Integer({ minimum: 1, maximum: 8 });

/** A device of a drawing, or a tile that stands for several alike. */
export const Device = Closed({
  name: Name,
  model: Id,
  site: Maybe(Id),
  at: Point,
  members: Maybe(MapOf(Member)),
  modules: Maybe(KeyedBy(Id)),
  powered: Maybe(Type.Boolean()),
  ports: Maybe(KeyedBy(PortConfig)),
  interfaces: Maybe(InterfaceMap),
  settings: Maybe(Settings),
  label: Maybe(Closed({ side: Maybe(OneOf('top', 'right', 'bottom', 'left')), text: Maybe(Line) })),
  pinned: Maybe(Type.Boolean()),
  group: Maybe(Id),
  layer: Maybe(Layer),
  tint: Maybe(Tint),
  fields: Maybe(Fields),
});

const LinkEnd = Closed({ device: Id, member: Maybe(Id), port: Key });
/** What is written at the ends of links. */
export const EndTexts = OneOf('both', 'ports', 'addresses', 'nothing');
/** How thick a link is drawn beside the others: three quarters, or one and a half times. */
export const THICKNESSES = ['thin', 'thick'] as const;
/** A link between two ports. `label` is a word in its middle; its tint is shown beside that word, never alone. */
export const Link = Closed({
  a: LinkEnd,
  b: LinkEnd,
  medium: MediumSchema,
  category: Maybe(Line),
  lengthM: Maybe(Type.Number({ minimum: 0, maximum: 1_000_000 })),
  cableId: Maybe(Name),
  broken: Maybe(Type.Boolean()),
  bends: Maybe(ListOf(Point, 64)),
  labelOffsets: Maybe(Closed({ a: Maybe(Point), b: Maybe(Point), middle: Maybe(Point) })),
  label: Maybe(Line),
  tint: Maybe(Tint),
  thickness: Maybe(OneOf(...THICKNESSES)),
  corners: Maybe(OneOf('square')),
  endTexts: Maybe(EndTexts),
  fields: Maybe(Fields),
});

/**
 * A note; `at` of one that hangs on something is counted from there, so that it goes along. With `arrow` its thread points
 * at what it hangs on.
 */
export const Note = Closed({
  text: Paragraphs,
  at: Point,
  anchor: Maybe(Closed({ kind: OneOf('device', 'link', 'site'), id: Id })),
  arrow: Maybe(Type.Boolean()),
});

/** The most letters of a picture's data: about 900 kB of picture. */
export const PICTURE_MOST = 1_200_000;

/** A picture on the drawing, or beneath it to be redrawn; `dim` is how much of it is faded, from 0 to 1. */
export const Picture = Closed({
  name: Name,
  data: Type.String({
    maxLength: PICTURE_MOST,
    pattern: '^data:image/(png|jpeg|webp|svg\\+xml);base64,[A-Za-z0-9+/=]+$',
  }),
  at: Point,
  width: Type.Number({ exclusiveMinimum: 0, maximum: 100_000 }),
  height: Type.Number({ exclusiveMinimum: 0, maximum: 100_000 }),
  beneath: Maybe(Type.Boolean()),
  dim: Maybe(Type.Number({ minimum: 0, maximum: 1 })),
});

/** A talk about a device, a link, a port or a place: `at` is counted from what it hangs on. */
export const Comment = Closed({
  at: Maybe(Point),
  anchor: Maybe(Closed({ kind: OneOf('device', 'link'), id: Id, port: Maybe(Key) })),
  resolved: Maybe(Type.Boolean()),
  entries: ListOf(Closed({ by: Name, at: Line, text: Paragraphs }), 200),
});

/** A drawing: devices, links and sites with all that is configured on them, notes, pictures and comments. */
export const Topology = Type.Object(
  {
    format: Type.Literal('sobrin-topology'),
    version: Type.Literal(TOPOLOGY_VERSION),
    title: Maybe(Line),
    author: Maybe(Name),
    legend: Maybe(Paragraphs),
    endTexts: Maybe(EndTexts),
    sites: MapOf(Site),
    devices: MapOf(Device),
    links: MapOf(Link),
    notes: Maybe(MapOf(Note)),
    pictures: Maybe(MapOf(Picture)),
    comments: Maybe(MapOf(Comment)),
    models: Maybe(MapOf(Model)),
    origin: Maybe(Closed({ kind: OneOf('starter', 'copy', 'import'), id: Maybe(Line), hash: Maybe(Line) })),
    locked: Maybe(ListOf(Id, 5000)),
    fields: Maybe(MapOf(FieldValue)),
  },
  { additionalProperties: false, title: `Sobrin topology, version ${TOPOLOGY_VERSION}` },
);

export type PortFacts = Static<typeof PortFacts>;
export type Model = Static<typeof Model>;
export type PortConfig = Static<typeof PortConfig>;
export type Site = Static<typeof Site>;
export type Member = Static<typeof Member>;
export type Device = Static<typeof Device>;
export type LinkEnd = Static<typeof LinkEnd>;
export type Link = Static<typeof Link>;
export type Note = Static<typeof Note>;
export type Picture = Static<typeof Picture>;
export type Comment = Static<typeof Comment>;
export type Topology = Static<typeof Topology>;
export type { Interface };

/** A drawing with nothing in it. */
export const emptyTopology = (): Topology => ({
  format: 'sobrin-topology',
  version: TOPOLOGY_VERSION,
  sites: {},
  devices: {},
  links: {},
});

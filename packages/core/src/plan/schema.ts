import { type Static, Type } from '@sinclair/typebox';
import {
  AddressText,
  Closed,
  Count,
  Id,
  Line,
  ListOf,
  MapOf,
  Maybe,
  Name,
  OneOf,
  Paragraphs,
  VlanId,
} from '../topology';

/** What a group may need; a need of one's own is any other name. Those listed change the numbers that follow. */
export const NEEDS = ['internet', 'phones', 'wireless', 'servers', 'printing', 'own server'] as const;

/** A group of hosts that the brief asks a subnet for: how many there are now and later, where, and what they need. */
export const Group = Closed({
  id: Id,
  name: Name,
  now: Count,
  later: Count,
  needs: Maybe(ListOf(Name, 32)),
  site: Maybe(Name),
});

/** Who is kept from what: "guests reach nothing inside". `from` is another group, or one of the words. */
export const Separation = Closed({
  id: Id,
  who: Maybe(Id),
  from: Maybe(Type.String({ pattern: '^(@inside|@outside|@others|[A-Za-z0-9][A-Za-z0-9_.:-]{0,63})$' })),
  text: Maybe(Line),
});

export const GATEWAY_PLACES = ['first', 'last'] as const;
export const POOL_PLACES = ['none', 'half', 'rest'] as const;

/** The customer's needs. Absent rules and ratios mean their defaults (see rulesOf and ratiosOf). */
export const Brief = Closed({
  scenario: Maybe(Paragraphs),
  objectives: Maybe(ListOf(Line, 64)),
  groups: Maybe(ListOf(Group, 500)),
  separations: Maybe(ListOf(Separation, 200)),
  outside: Maybe(ListOf(AddressText, 64)),
  sites: Maybe(ListOf(Closed({ name: Name, place: Maybe(Line) }), 200)),
  rules: Maybe(
    Closed({
      privateOnly: Maybe(Type.Boolean()),
      notOutside: Maybe(Type.Boolean()),
      otherPrivate: Maybe(Type.Boolean({ description: 'another private range than the provider hands out' })),
    }),
  ),
  schemes: Maybe(
    Closed({
      names: Maybe(Line),
      addresses: Maybe(Line),
      gateway: Maybe(OneOf(...GATEWAY_PLACES)),
      infrastructure: Maybe(Type.Integer({ minimum: 0, maximum: 64 })),
      virtualRouter: Maybe(
        Type.Boolean({ description: 'whether each gateway is two routers and an address they share' }),
      ),
      management: Maybe(Type.Boolean({ description: 'whether the switches of a group have an address in its subnet' })),
      pool: Maybe(OneOf(...POOL_PLACES)),
    }),
  ),
  ratios: Maybe(
    Closed({
      perAccessPoint: Maybe(Type.Integer({ minimum: 1, maximum: 1000 })),
      oversubscription: Maybe(Type.Integer({ minimum: 1, maximum: 1000 })),
      hostMbps: Maybe(Type.Integer({ minimum: 1, maximum: 100_000 })),
    }),
  ),
  resources: Maybe(ListOf(Closed({ id: Id, title: Line, address: Type.String({ maxLength: 2000 }) }), 64)),
});

/** How far a block of the plan is decided. */
export const STANDINGS = ['proposed', 'decided', 'kept-free', 'being-vacated'] as const;
/** What a block is for. */
export const BLOCK_USES = ['hosts', 'link', 'loopback', 'translation'] as const;
/** What a range of a subnet is set aside for. */
export const RANGE_USES = ['gateway', 'infrastructure', 'pool', 'printers', 'kept'] as const;

/**
 * A block of the plan. `prefix` is of either family; a block of both has its IPv4 prefix there and the IPv6 one in
 * `prefix6`. Which block lies in which follows from the prefixes, and so does whether it is divided.
 */
export const Block = Closed({
  prefix: AddressText,
  prefix6: Maybe(AddressText),
  name: Name,
  purpose: Maybe(Line),
  site: Maybe(Name),
  vlan: Maybe(VlanId),
  group: Maybe(Id),
  standing: Maybe(OneOf(...STANDINGS)),
  use: Maybe(OneOf(...BLOCK_USES)),
  ends: Maybe(OneOf('usable', 'kept')),
  gateway: Maybe(AddressText),
  gateway6: Maybe(AddressText),
  automatic: Maybe(Type.Boolean({ description: 'whether IPv6 hosts make their addresses themselves (default: yes)' })),
  tone: Maybe(Type.Integer({ minimum: 1, maximum: 8 })),
});

/** Addresses set aside inside a subnet. */
export const PlanRange = Closed({ from: AddressText, to: AddressText, use: OneOf(...RANGE_USES), name: Maybe(Name) });

/** What one address is for. `name` is the device's, where there is one; `dns` its name in the domain name system. */
export const PlanAddress = Closed({ name: Name, dns: Maybe(Line), role: Maybe(Line), note: Maybe(Line) });

/** Addresses are keys in their canonical text (RFC 5952), so that none can be given out twice. */
export const ADDRESS_KEY = '^[0-9a-f:.]{2,45}$';

/** Entries by address. */
export const AddressMap = Type.Record(Type.String({ pattern: ADDRESS_KEY }), PlanAddress, {
  additionalProperties: false,
});

/** An address plan: blocks within blocks by their prefixes, ranges, and addresses that are taken. */
export const Plan = Closed({
  blocks: MapOf(Block),
  ranges: Maybe(MapOf(PlanRange)),
  addresses: Maybe(AddressMap),
});

/** The version of the shape in which plans are stored. Version 2: blocks being vacated, DNS names and roles of addresses. */
export const PLAN_VERSION = 2;
/** A plan as a file of its own. */
export const PlanFile = Type.Object(
  { format: Type.Literal('sobrin-plan'), version: Type.Literal(PLAN_VERSION), title: Maybe(Line), plan: Plan },
  { additionalProperties: false, title: 'Sobrin plan, version 2' },
);

export type Group = Static<typeof Group>;
export type Separation = Static<typeof Separation>;
export type Brief = Static<typeof Brief>;
export type Block = Static<typeof Block>;
export type PlanRange = Static<typeof PlanRange>;
export type PlanAddress = Static<typeof PlanAddress>;
export type Plan = Static<typeof Plan>;
export type PlanFile = Static<typeof PlanFile>;
export type BlockUse = (typeof BLOCK_USES)[number];
/** What a range of a subnet is set aside for. */
export type RangeUse = (typeof RANGE_USES)[number];
/** How far a block of the plan is decided. */
export type Standing = (typeof STANDINGS)[number];

/** A plan in which nothing is planned. */
export const emptyPlan = (): Plan => ({ blocks: {} });

/** The rules of a brief with their defaults: inside addresses are private, and none comes from the provider's ranges. */
export const rulesOf = ({ rules = {} }: Brief) => ({
  privateOnly: rules.privateOnly ?? true,
  notOutside: rules.notOutside ?? true,
  otherPrivate: rules.otherPrivate ?? false,
});

/** The ratios of a brief with their defaults: 25 people an access point, 20 : 1 on uplinks, hosts at 100 Mb/s. */
export const ratiosOf = ({ ratios = {} }: Brief) => ({
  perAccessPoint: ratios.perAccessPoint ?? 25,
  oversubscription: ratios.oversubscription ?? 20,
  hostMbps: ratios.hostMbps ?? 100,
});

/** Where gateways, equipment and pools stand in each subnet, with what holds where the brief says nothing. */
export const schemesOf = ({ schemes = {} }: Brief) => ({
  gateway: schemes.gateway ?? 'first',
  infrastructure: schemes.infrastructure ?? 0,
  pool: schemes.pool ?? 'none',
  /** How many addresses a gateway takes: two routers have one each, and one that they share (RFC 9568). */
  gateways: schemes.virtualRouter ? 3 : 1,
  management: schemes.management ?? false,
});

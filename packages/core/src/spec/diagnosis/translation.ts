import {
  type Address,
  type Family,
  type InterfaceAddress,
  type Prefix,
  broadcastAddress,
  contains,
  formatAddress,
  formatInterfaceAddress,
  formatPrefix,
  networkAddress,
  nextFreeAddress,
  parseAddress,
  parseInterfaceAddress,
  parsePrefix,
  prefixOf,
  sameAddress,
  samePrefix,
  sizeOf,
  subnetOf,
} from '../../address';
import { type Instance, type NetworkModel } from '../../engine';
import { type Interface, type PortConfig } from '../../topology';
import { type RoleMatch } from '../matching/match';
import { type Configured, configuredOf, typedIn } from './configured';
import { pairLinks } from './link-pairs';
import { Words, filtersBy, vlanNames } from './retelling';
import { Votes } from './votes';

/**
 * The reference in the words of a drawing: its ports, interfaces, VLANs and addresses as whoever plays each role has them.
 * Where a student keeps the numbers of the reference these stand, also where all of a group have another one; else what most
 * have in the place of one.
 */
export class Translation {
  /** By role, an instance of the reference, who plays it; and the other way round. */
  readonly players: ReadonlyMap<string, string>;
  readonly roles: ReadonlyMap<string, string>;
  /** By the link of the reference the one of the drawing between the same roles, and what of both has no counterpart. */
  readonly links: ReadonlyMap<string, string>;
  private readonly ports: ReadonlyMap<string, string>;
  private readonly vlans = new Votes<number>(String);
  private readonly subnets = new Votes<Prefix>(formatPrefix);
  private readonly typed = new Map<string, number>();
  private readonly used: Address[] = [];
  private readonly given = new Map<string, Address | null>();
  private readonly near = new Map<string, number>();
  private readonly owners = new Map<string, { role: string; key: string; family: Family; index: number }>();
  /** The subnets of the reference, the longest first. */
  private readonly known: Prefix[] = [];
  private prefixes: readonly Prefix[] | null = null;

  constructor(
    readonly reference: NetworkModel,
    readonly drawn: NetworkModel,
    matching: readonly RoleMatch[],
  ) {
    this.players = new Map(
      matching.flatMap(({ role, device }) =>
        device !== null && reference.instances.has(role) && drawn.instances.has(device)
          ? [[role, device] as const]
          : [],
      ),
    );
    this.roles = new Map([...this.players].map(([role, device]) => [device, role]));
    ({ links: this.links, ports: this.ports } = pairLinks(reference, drawn, this.players));
    this.pairVlans();
    this.pairAddresses();
  }

  /** The port of whoever plays a role that stands for one of the reference. */
  port(role: string, key: string): string {
    return this.ports.get(`${role} ${key}`) ?? key;
  }

  private pairVlans(): void {
    for (const [role, device] of this.players) {
      const [asked, found] = [this.reference.instances.get(role)!, this.drawn.instances.get(device)!];
      for (const [key, { config }] of asked.ports) {
        const theirs = found.ports.get(this.port(role, key))?.config.role;
        if (config.role?.kind !== 'switched' || theirs?.kind !== 'switched') continue;
        for (const property of ['accessVlan', 'voiceVlan', 'native'] as const) {
          const [one, other] = [config.role[property], theirs[property]];
          if (one !== undefined && other !== undefined) this.vlans.add(one, other);
        }
      }
      const vlansOf = ({ interfaces }: Instance): number[] =>
        interfaces.flatMap(([, { on }]) => (on.kind === 'svi' || on.kind === 'sub' ? on.vlan : []));
      const own = new Set(vlansOf(found));
      for (const vlan of vlansOf(asked)) if (own.has(vlan)) this.vlans.add(vlan, vlan);
    }
  }

  vlan(id: number): number {
    if (this.vlans.areSame && (this.vlans.has(id, id) || this.vlans.most(id) === null)) return id;
    return this.vlans.most(id) ?? id;
  }

  /** The key under which whoever plays a role has an interface of the reference, or would have it. */
  interfaceKey(role: string, key: string): string {
    const asked = this.reference.instances.get(role);
    const on = asked?.interfaces.find(([each]) => each === key)?.[1].on;
    const own = this.drawn.instances.get(this.players.get(role) ?? '')?.interfaces ?? [];
    const find = (is: (on: Interface['on']) => boolean): string | undefined => own.find(([, each]) => is(each.on))?.[0];
    switch (on?.kind) {
      case 'port': {
        const port = this.port(role, on.port);
        return find((each) => each.kind === 'port' && each.port === port) ?? port;
      }
      case 'sub': {
        const [port, vlan] = [this.port(role, on.port), this.vlan(on.vlan)];
        return find((each) => each.kind === 'sub' && each.port === port && each.vlan === vlan) ?? `${port}.${vlan}`;
      }
      case 'svi': {
        const vlan = this.vlan(on.vlan);
        return find((each) => each.kind === 'svi' && each.vlan === vlan) ?? `vlan${vlan}`;
      }
      default:
        return key;
    }
  }

  private pairAddresses(): void {
    for (const { interfaces } of this.drawn.instances.values())
      for (const [, each] of interfaces)
        for (const { on } of typedIn(each)) {
          const text = formatAddress(on.address);
          this.typed.set(text, (this.typed.get(text) ?? 0) + 1);
          this.used.push(on.address);
          this.near.set(nearKey(on.address), (this.near.get(nearKey(on.address)) ?? 0) + 1);
        }
    for (const { id: role, interfaces } of this.reference.instances.values())
      for (const [key, settings] of interfaces) {
        const their = this.theirs(role, key);
        for (const { on, family, index } of typedIn(settings)) {
          this.owners.set(formatAddress(on.address), { role, key, family, index });
          const subnet = subnetOf(on);
          if (!this.known.some((each) => samePrefix(each, subnet))) this.known.push(subnet);
          const found = their && typedIn(their).find((each) => each.family === family && each.index === index);
          // Whatever its length is: who writes an address of a subnet means that subnet.
          if (found) this.subnets.add(subnet, contains(subnet, found.on.address) ? subnet : subnetOf(found.on));
        }
      }
    this.known.sort((a, b) => b.length - a.length);
  }

  private theirs(role: string, key: string): Interface | undefined {
    const own = this.drawn.instances.get(this.players.get(role) ?? '');
    const name = this.interfaceKey(role, key);
    return own?.interfaces.find(([each]) => each === name)?.[1];
  }

  /** The subnet that a drawing has in the place of one of the reference; null where none can be told. */
  subnet(asked: Prefix): Prefix | null {
    const most = this.mostIn(asked);
    return this.subnets.areSame && (most === null || this.subnets.has(asked, asked)) ? asked : most;
  }

  /** One as large as the reference's counts before others, however many have these; of as many the one near all the rest. */
  private mostIn(asked: Prefix): Prefix | null {
    return this.subnets.most(asked, (found) => [
      Number(found.length === asked.length),
      this.near.get(nearKey(found)) ?? 0,
    ]);
  }

  /** Subnets of the reference in whose place most have another one. */
  movedSubnets(): (readonly [asked: Prefix, found: Prefix])[] {
    return this.known.flatMap((asked) => {
      const found = this.mostIn(asked);
      return found && !samePrefix(found, asked) && !contains(asked, found) ? [[asked, found] as const] : [];
    });
  }

  /** What whoever plays a role should have as one of its addresses: its own where that will do. */
  private expected(role: string, key: string, on: InterfaceAddress, index: number): InterfaceAddress | null {
    const subnet = this.subnet(subnetOf(on));
    if (!subnet) return null;
    const moved = shifted(on, subnet);
    const their = this.theirs(role, key);
    const own = their && typedIn(their).find((each) => each.family === on.address.family && each.index === index)?.on;
    const isGood =
      own &&
      contains(subnet, own.address) &&
      isUsable(subnet, own) &&
      (this.typed.get(formatAddress(own.address)) === 1 || (moved !== null && sameAddress(moved.address, own.address)));
    if (isGood) return { address: own.address, length: subnet.length };
    const isFree = moved !== null && (this.typed.get(formatAddress(moved.address)) ?? 0) === 0;
    const isOwn = moved !== null && own !== undefined && sameAddress(moved.address, own.address);
    // Where the same place is somebody else's, the next one that is free will do; where the numbers are the reference's, it is theirs.
    if (isFree || isOwn || this.subnets.areSame) return moved;
    const free = this.freeFor(`${role} ${key} ${on.address.family} ${index}`, subnet);
    return free && { address: free, length: subnet.length };
  }

  /** The next free address of a subnet; asked again for the same place the same one, for another place another one. */
  private freeFor(place: string, subnet: Prefix): Address | null {
    const known = this.given.get(place);
    if (known !== undefined) return known;
    const free = nextFreeAddress(subnet, this.used);
    this.given.set(place, free);
    if (free) this.used.push(free);
    return free;
  }

  /** An address of the reference as the drawing has it, without its length; null where none can be told. */
  address(text: string): string | null {
    const read = parseAddress(text);
    if (!read.ok) return text;
    const owner = this.owners.get(formatAddress(read.value));
    if (owner) {
      const { role, key, family, index } = owner;
      const asked = this.reference.instances.get(role)!.interfaces.find(([each]) => each === key)![1];
      const { on } = typedIn(asked).find((each) => each.family === family && each.index === index)!;
      const expected = this.expected(role, key, on, index);
      return expected && formatAddress(expected.address);
    }
    const asked = this.known.find((subnet) => contains(subnet, read.value));
    const subnet = asked ? this.subnet(asked) : null;
    if (!asked || !subnet) return this.subnets.areSame ? text : asked ? null : text;
    const moved = shifted({ address: read.value, length: asked.length }, subnet);
    return moved && formatAddress(moved.address);
  }

  /** A prefix of the reference, one subnet or several, as the drawing has it. */
  prefix(text: string): string | null {
    const read = parsePrefix(text);
    if (!read.ok) return text;
    const exact = this.known.find((subnet) => samePrefix(subnet, read.value));
    if (exact) {
      const subnet = this.subnet(exact);
      return subnet && formatPrefix(subnet);
    }
    const inside = this.known.filter((subnet) => contains(read.value, subnet));
    const theirs = inside.flatMap((subnet) => this.subnet(subnet) ?? []);
    const [first] = theirs;
    if (this.subnets.areSame || !first || theirs.every((subnet) => contains(read.value, subnet))) return text;
    const holdsAll = (prefix: Prefix): boolean => theirs.every((subnet) => contains(prefix, subnet));
    const others = this.known.flatMap((subnet) => (inside.includes(subnet) ? [] : (this.subnet(subnet) ?? [])));
    // Whatever block the student made of them, else one of the same size.
    const own = this.written().find((prefix) => holdsAll(prefix) && !others.some((subnet) => contains(prefix, subnet)));
    const alike = prefixOf(first, Math.min(read.value.length, first.length));
    return formatPrefix(own ?? (holdsAll(alike) ? alike : smallestAround(theirs)));
  }

  /** The prefixes that stand anywhere in the settings of the drawing, the longest first. */
  private written(): readonly Prefix[] {
    if (this.prefixes) return this.prefixes;
    const found = new Map<string, Prefix>();
    const look = (value: unknown): void => {
      if (typeof value === 'string' && value.includes('/')) {
        const read = parsePrefix(value);
        if (read.ok && read.value.length > 0) found.set(formatPrefix(read.value), read.value);
      } else if (value !== null && typeof value === 'object') for (const inner of Object.values(value)) look(inner);
    };
    for (const { settings } of this.drawn.instances.values()) look(settings);
    return (this.prefixes = [...found.values()].sort((a, b) => b.length - a.length));
  }

  /** What a role has, in the words of the drawing; what cannot be told is left as it stands there. */
  configured(role: string): Configured {
    const asked = this.reference.instances.get(role)!;
    const wanted = configuredOf(asked);
    const own = this.drawn.instances.get(this.players.get(role) ?? '');
    const has = own ? configuredOf(own) : undefined;
    const words = new Words(this, role, filtersBy(this, role, wanted, has));
    const ports = Object.fromEntries(
      Object.entries(wanted.ports).map(([key, config]) => {
        const port = this.port(role, key);
        return [port, words.of(config, has?.ports[port]) as PortConfig];
      }),
    );
    const interfaces = Object.fromEntries(
      Object.entries(wanted.interfaces).map(([key, settings]) => {
        const name = this.interfaceKey(role, key);
        return [name, this.interfaceOf(role, key, settings, words, has?.interfaces[name])];
      }),
    );
    const settings: Record<string, unknown> = {};
    for (const [property, value] of Object.entries(wanted.settings)) {
      const theirs = (has?.settings as Record<string, unknown> | undefined)?.[property];
      const told =
        property === 'hostname'
          ? value === asked.name || !own
            ? (own?.name ?? value)
            : theirs
          : property === 'vlans'
            ? vlanNames(this, value as Record<string, string>, theirs as Record<string, string> | undefined)
            : words.of(value, theirs);
      if (told !== undefined) settings[property] = told;
    }
    return { powered: wanted.powered, modules: wanted.modules, ports, interfaces, settings };
  }

  private interfaceOf(
    role: string,
    key: string,
    asked: Interface,
    words: Words,
    own: Interface | undefined,
  ): Interface {
    const { v4, v6, ...rest } = asked;
    const told = words.of(rest, own) as Interface;
    const withAddresses = <T extends { addresses?: string[] }>(family: Family, layer: T): T => {
      if (!layer.addresses) return layer;
      const theirs = (family === 4 ? own?.v4 : own?.v6)?.addresses;
      const addresses = layer.addresses.map((text, index) => {
        const read = parseInterfaceAddress(text);
        const expected = read.ok ? this.expected(role, key, read.value, index) : null;
        return expected ? formatInterfaceAddress(expected) : (theirs?.[index] ?? text);
      });
      // One that says the same in other letters is none of its own.
      return { ...layer, addresses: addresses.map((text, at) => (isSame(text, theirs?.[at]) ? theirs![at]! : text)) };
    };
    return { ...told, ...(v4 && { v4: withAddresses(4, v4) }), ...(v6 && { v6: withAddresses(6, v6) }) };
  }
}

const isSame = (one: string, other: string | undefined): boolean => {
  const [a, b] = [parseInterfaceAddress(one), parseInterfaceAddress(other ?? '')];
  return a.ok && b.ok && formatInterfaceAddress(a.value) === formatInterfaceAddress(b.value);
};

/** The first 16 bits: addresses of one plan mostly have these in common. */
const nearKey = ({ family, value }: Pick<Address, 'family' | 'value'>): string =>
  `${family} ${value >> BigInt(family === 4 ? 16 : 112)}`;

/** The same place in another subnet; null where that is too small. */
function shifted({ address, length }: InterfaceAddress, subnet: Prefix): InterfaceAddress | null {
  const offset = address.value - prefixOf(address, length).value;
  if (offset >= sizeOf(subnet)) return null;
  return { address: { family: subnet.family, value: subnet.value + offset }, length: subnet.length };
}
const isUsable = (subnet: Prefix, { address }: InterfaceAddress): boolean =>
  ![networkAddress(subnet), broadcastAddress(subnet)].some((edge) => edge !== null && sameAddress(edge, address));

function smallestAround(prefixes: readonly Prefix[]): Prefix {
  let around = prefixes[0]!;
  while (!prefixes.every((each) => contains(around, each)) && around.length > 0)
    around = prefixOf(around, around.length - 1);
  return around;
}

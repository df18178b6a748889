import {
  type Family,
  type Prefix,
  FreeSpace,
  bitsOf,
  formatAddress,
  formatPrefix,
  placeBlocks,
  rangeSize,
  sizeOf,
  subnetLength,
  usableCount,
} from '../address';
import { fail, ok, type Result } from '../result';
import { type Block, type Brief, type PlanRange, schemesOf } from './schema';
import { type SubnetNeed, VOICE, isFor, subnetNeeds } from './sizing';
import { gatewayOf, isGivenOut, isMeantAsSubnet, usableIn } from './subnet';
import { type PlanTree, freeIn, nodeOf } from './tree';

/** Blocks to be added to a plan, with what is said of them before they are. */
export interface Division {
  blocks: Block[];
  ranges: PlanRange[];
  /** What is left free of the divided block, by family. */
  free: Readonly<Record<Family, readonly Prefix[]>>;
  waste: Waste;
}

/** Addresses that nobody will use, and why (IPv4 only: in IPv6 a subnet is a /64 whatever it holds). */
export interface Waste {
  /** Usable addresses of the subnets beyond what is needed later. */
  inside: bigint;
  /** Space skipped so that blocks start at multiples of the alignment that was chosen. */
  alignment: bigint;
  /** Space kept beside subnets so that they can double. */
  growth: bigint;
  /** Space left in the blocks of sites, as they too are powers of two. */
  sites: bigint;
}
const NO_WASTE: Waste = { inside: 0n, alignment: 0n, growth: 0n, sites: 0n };

const FAMILIES: readonly Family[] = [4, 6];
type Spaces = Record<Family, FreeSpace | null>;
const spacesOf = (tree: PlanTree, id: string): Spaces => ({ 4: freeIn(tree, id, 4), 6: freeIn(tree, id, 6) });
const freeOf = (spaces: Spaces): Division['free'] => ({ 4: spaces[4]?.all ?? [], 6: spaces[6]?.all ?? [] });

/** The prefixes of a new block as the block holds them. */
function prefixesOf(four: Prefix | null, six: Prefix | null): Pick<Block, 'prefix' | 'prefix6'> {
  if (four) return { prefix: formatPrefix(four), ...(six && { prefix6: formatPrefix(six) }) };
  return { prefix: six ? formatPrefix(six) : '' };
}

const inherited = (block: Block): Partial<Block> => ({
  standing: 'proposed',
  ...(block.site !== undefined && { site: block.site }),
});

/** More parts than this nobody names. */
export const MAX_EQUAL_PARTS = 256;

/**
 * Splits a block into equal parts, in both families where it has both. Parts are halves of halves: where the number is no
 * power of two, what is left over stays free.
 */
export function divideEqually(tree: PlanTree, id: string, parts: number): Result<Division, string> {
  const node = nodeOf(tree, id);
  if (!node) return fail('The block is not there any more.');
  if (!Number.isInteger(parts) || parts < 2 || parts > MAX_EQUAL_PARTS)
    return fail(`A block is split into 2 to ${MAX_EQUAL_PARTS} parts.`);
  if (node.children.length)
    return fail(`${node.block.name} is divided already: split what is free in it into parts of given sizes instead.`);
  const bits = Math.ceil(Math.log2(parts));
  const placed: Record<Family, Prefix[]> = { 4: [], 6: [] };
  const spaces = spacesOf(tree, id);
  for (const family of FAMILIES) {
    const whole = node.space[family];
    if (!whole) continue;
    const length = whole.length + bits;
    if (length > bitsOf(family))
      return fail(`${formatPrefix(whole)} has ${sizeOf(whole)} addresses: it cannot be split into ${parts} parts.`);
    for (let at = 0; at < parts; at++) {
      const space: FreeSpace = spaces[family]!;
      const next = space.next(length)!;
      placed[family].push(next);
      spaces[family] = space.take(next);
    }
  }
  const blocks = Array.from({ length: parts }, (_, at): Block => ({
    ...prefixesOf(placed[4][at] ?? null, placed[6][at] ?? null),
    name: `${node.block.name} ${at + 1}`,
    ...inherited(node.block),
  }));
  return ok({ blocks, ranges: [], free: freeOf(spaces), waste: NO_WASTE });
}

/** A part of a size: a number of hosts, or a prefix length. */
export interface WantedPart {
  name: string;
  hosts: number | null;
  length: number;
}

/**
 * Reads wishes such as "Guests 200, Tickets 40, /28, Links: /30": a name or none, then a number of addresses that
 * it must hold (its gateway among them) or a prefix length, with commas, semicolons or line ends between.
 */
export function readParts(text: string, family: Family): Result<WantedPart[], string> {
  const parts: WantedPart[] = [];
  for (const piece of text.split(/[,;\n]/).map((part) => part.trim())) {
    if (piece === '') continue;
    const cut = /^(.*?)[\s:]*(\/?)(\d+)$/.exec(piece);
    if (!cut)
      return fail(`"${piece}" has no size: write a number of hosts (40) or a prefix length (/26) behind the name.`);
    const [, name, slash, digits] = cut as unknown as [string, string, string, string];
    const number = Number(digits);
    if (slash) {
      if (number > bitsOf(family))
        return fail(`"${piece}": an IPv${family} prefix has at most ${bitsOf(family)} bits.`);
      parts.push({ name, hosts: null, length: number });
      continue;
    }
    const length = subnetLength(family, BigInt(number));
    if (length === null) return fail(`"${piece}": no IPv4 block holds so many hosts.`);
    parts.push({ name, hosts: number, length });
  }
  return parts.length ? ok(parts) : fail('Write the sizes of the parts, for instance 200, 40, /28.');
}

/** Cuts parts of given sizes out of what is free in a block: largest first, each in the tightest place. */
export function divideBySizes(tree: PlanTree, id: string, text: string): Result<Division, string> {
  const node = nodeOf(tree, id);
  const spaces = spacesOf(tree, id);
  if (!node) return fail('The block is not there any more.');
  const family: Family = spaces[4] ? 4 : 6;
  const parts = readParts(text, family);
  if (!parts.ok) return parts;
  const placed = placeBlocks(
    spaces[family]!,
    parts.value.map((part) => part.length),
  );
  if (!placed.ok)
    return fail(
      noRoom(node.block.name, parts.value[placed.error]!.name, parts.value[placed.error]!.length, spaces[family]!),
    );
  const six =
    family === 4 && spaces[6]
      ? placeBlocks(
          spaces[6],
          parts.value.map(() => Math.max(64, node.space[6]!.length)),
        )
      : null;
  for (const prefix of placed.value) spaces[family] = spaces[family]!.take(prefix);
  if (six?.ok) for (const prefix of six.value) spaces[6] = spaces[6]!.take(prefix);
  const blocks = placed.value.map((prefix, at): Block => ({
    ...(family === 4 ? prefixesOf(prefix, six?.ok ? six.value[at]! : null) : prefixesOf(null, prefix)),
    name: parts.value[at]!.name || `${node.block.name} ${at + 1}`,
    ...inherited(node.block),
  }));
  const inside = parts.value.reduce(
    (sum, { hosts }, at) =>
      hosts === null || family === 6 ? sum : sum + usableCount(placed.value[at]!) - BigInt(hosts),
    0n,
  );
  return ok({ blocks, ranges: [], free: freeOf(spaces), waste: { ...NO_WASTE, inside } });
}

function noRoom(block: string, part: string, length: number, space: FreeSpace): string {
  const { largest } = space;
  return `${block} has no room left for ${part ? `${part}, ` : ''}a /${length}: ${
    largest ? `the largest free block is ${formatPrefix(largest)}` : 'nothing is free in it'
  }. Take a larger block, or smaller parts.`;
}

export interface LayoutOptions {
  /** Keep the other half free beside each subnet, so that it can double. */
  grow: boolean;
  /** Give each site a block of its own, and put its subnets there. */
  bySite: boolean;
  /** IPv4 subnets start at multiples of a block of this length (24 for "every subnet in its own /24"); null: of their own size. */
  align: number | null;
  /** Number the VLANs of new subnets from here in tens; null gives none. */
  vlanFrom: number | null;
}

interface Unit {
  need: SubnetNeed;
  /** Length of the IPv4 subnet, and of the space that it takes with alignment and growth. */
  length: number;
  taken: number;
}

/**
 * Lays out a subnet for every group of a brief that has none yet, in what is free in a block: largest first, aligned, and
 * where wished with room to grow beside each and a block for each site. No other layout with the same alignment takes less
 * space: every subnet has the smallest size that holds its later number, and placing largest first leaves no gaps.
 */
export function layOutGroups(
  tree: PlanTree,
  id: string,
  brief: Brief,
  options: LayoutOptions,
): Result<Division, string> {
  const node = nodeOf(tree, id);
  if (!node) return fail('The block is not there any more.');
  const blocks = [...tree.nodes.values()].map(({ block }) => block);
  const open = subnetNeeds(brief).filter((need) => !blocks.some((block) => isFor(block, need) && isGivenOut(block)));
  if (!open.length)
    return fail(
      (brief.groups ?? []).length
        ? 'Every group of the brief has its subnet already.'
        : 'The brief has no groups yet: write them there first.',
    );
  const state = new Layout(tree, id, brief, options);
  const sites = options.bySite ? [...new Set(open.map((need) => need.site))] : [undefined];
  const units = sites.map((site) => ({
    site,
    units: open.filter((need) => !options.bySite || need.site === site).map((need) => unitOf(need, options)),
  }));
  // The sites that need most first: with them placed, the others find their place in any order.
  units.sort((a, b) => Number(spaceOf(b.units) - spaceOf(a.units)));
  for (const unit of units) {
    const done =
      unit.site === undefined || unit.site === node.block.site
        ? state.place(id, unit.units)
        : state.placeSite(unit.site, unit.units);
    if (!done.ok) return done;
  }
  return ok(state.division());
}

function unitOf(need: SubnetNeed, { align, grow }: LayoutOptions): Unit {
  const taken = Math.min(need.length - (grow ? 1 : 0), align ?? 32);
  return { need, length: need.length, taken };
}
const spaceOf = (units: readonly Unit[]): bigint =>
  units.reduce((sum, unit) => sum + (1n << BigInt(32 - unit.taken)), 0n);

/** Where new blocks go, kept while they are placed one after another. */
class Layout {
  private readonly spaces: Spaces;
  private readonly blocks: Block[] = [];
  private readonly ranges: PlanRange[] = [];
  private readonly waste = { ...NO_WASTE };
  private vlan: number;
  private readonly vlans: Set<number>;

  constructor(
    private readonly tree: PlanTree,
    private readonly id: string,
    private readonly brief: Brief,
    private readonly options: LayoutOptions,
  ) {
    this.spaces = spacesOf(tree, id);
    this.vlan = options.vlanFrom ?? 0;
    this.vlans = new Set([...tree.nodes.values()].flatMap((node) => node.block.vlan ?? []));
  }

  /** Subnets of a site in the block the site has, or in a new one. */
  placeSite(site: string, units: readonly Unit[]): Result<null, string> {
    const known = [...this.tree.nodes.values()].find(
      (node) =>
        node.block.site === site &&
        node.parent !== null &&
        !isMeantAsSubnet(node.block) &&
        isGivenOut(node.block) &&
        this.isBelow(node.id),
    );
    if (known) return this.place(known.id, units);
    const wanted = spaceOf(units);
    // One subnet alone is its site's block: a second block of the same prefix would say nothing.
    if (units.length === 1) return this.place(this.id, units);
    const length = 32 - Math.max(0, (wanted - 1n).toString(2).length);
    const { 4: four, 6: six } = this.spaces;
    const own = four && four.tightest(wanted === 1n ? 32 : length);
    if (four && !own) return fail(noRoom(this.name, site, length, four));
    const bits = Math.max(1, Math.ceil(Math.log2(units.length)));
    // Sites get IPv6 blocks that end at a hexadecimal digit, so that the site is one digit of every address.
    const length6 = Math.floor((64 - bits) / 4) * 4;
    const own6 = six && six.tightest(Math.max(length6, this.tree.nodes.get(this.id)!.space[6]!.length));
    if (own) this.spaces[4] = four.take(own);
    if (own6) this.spaces[6] = six.take(own6);
    this.blocks.push({ ...prefixesOf(own ?? null, own6 ?? null), name: site, site, standing: 'proposed' });
    if (own) this.waste.sites += sizeOf(own) - wanted;
    return this.fill(site, { 4: own ? FreeSpace.of(own, []) : null, 6: own6 ? FreeSpace.of(own6, []) : null }, units)
      .done;
  }

  private isBelow(id: string): boolean {
    for (let at = this.tree.nodes.get(id)?.parent ?? null; at !== null; at = this.tree.nodes.get(at)?.parent ?? null)
      if (at === this.id) return true;
    return false;
  }

  private get name(): string {
    return this.tree.nodes.get(this.id)!.block.name;
  }

  place(id: string, units: readonly Unit[]): Result<null, string> {
    const inRoot = id === this.id;
    const { done, left } = this.fill(
      this.tree.nodes.get(id)!.block.name,
      inRoot ? this.spaces : spacesOf(this.tree, id),
      units,
    );
    if (inRoot) Object.assign(this.spaces, left);
    return done;
  }

  private fill(name: string, spaces: Spaces, units: readonly Unit[]): { done: Result<null, string>; left: Spaces } {
    const left: Spaces = { ...spaces };
    const four = spaces[4]
      ? placeBlocks(
          spaces[4],
          units.map((unit) => unit.taken),
        )
      : null;
    if (four && !four.ok) {
      const unit = units[four.error]!;
      return { done: fail(noRoom(name, unit.need.name, unit.taken, spaces[4]!)), left };
    }
    const six = spaces[6]
      ? placeBlocks(
          spaces[6],
          units.map(() => 64),
        )
      : null;
    if (!four && six && !six.ok) return { done: fail(noRoom(name, units[six.error]!.need.name, 64, spaces[6]!)), left };
    for (const prefix of four?.value ?? []) left[4] = left[4]!.take(prefix);
    for (const prefix of six?.ok ? six.value : []) left[6] = left[6]!.take(prefix);
    const order = units.map((_, at) => at);
    if (four) order.sort((a, b) => (four.value[a]!.value < four.value[b]!.value ? -1 : 1));
    for (const at of order) this.add(units[at]!, four?.value[at] ?? null, six?.ok ? six.value[at]! : null);
    return { done: ok(null), left };
  }

  private add({ need, length, taken }: Unit, space: Prefix | null, six: Prefix | null): void {
    const prefix = space && { ...space, length };
    const block: Block = {
      ...prefixesOf(prefix, six),
      name: need.name,
      ...(need.site !== undefined && { site: need.site }),
      ...(need.group ? { group: need.group.id } : { purpose: VOICE }),
      ...this.nextVlan(),
      standing: 'proposed',
    };
    this.blocks.push(block);
    if (!prefix) return;
    this.addRanges(block, prefix);
    this.waste.inside += usableCount(prefix) - BigInt(need.later.value);
    if (this.options.grow && taken < length) {
      const beside = { ...prefix, value: prefix.value + sizeOf(prefix) };
      this.blocks.push({
        prefix: formatPrefix(beside),
        name: `room for ${need.name}`,
        ...(need.site !== undefined && { site: need.site }),
        standing: 'kept-free',
      });
      this.waste.growth += sizeOf(beside);
    }
    const used = sizeOf(prefix) * (this.options.grow ? 2n : 1n);
    this.waste.alignment += sizeOf({ ...prefix, length: taken }) - used;
  }

  private nextVlan(): { vlan?: number } {
    if (this.options.vlanFrom === null) return {};
    while (this.vlans.has(this.vlan) && this.vlan < 4094) this.vlan += 10;
    if (this.vlan > 4094) return {};
    this.vlans.add(this.vlan);
    return { vlan: this.vlan };
  }

  /** Ranges that the brief's address scheme asks for: equipment beside the gateway, then the pool. */
  private addRanges(block: Block, prefix: Prefix): void {
    const { infrastructure, pool, gateway } = schemesOf(this.brief);
    const usable = usableIn(block, prefix);
    const own = gatewayOf(block, prefix, this.brief);
    if (!own) return;
    let [from, to] =
      gateway === 'first' ? [usable.from.value + 1n, usable.to.value] : [usable.from.value, usable.to.value - 1n];
    const add = (use: PlanRange['use'], low: bigint, high: bigint): void => {
      const text = (value: bigint): string => formatAddress({ family: 4, value });
      if (low <= high) this.ranges.push({ from: text(low), to: text(high), use });
    };
    if (infrastructure && BigInt(infrastructure) <= to - from + 1n) {
      const n = BigInt(infrastructure);
      if (gateway === 'first') {
        add('infrastructure', from, from + n - 1n);
        from += n;
      } else {
        add('infrastructure', to - n + 1n, to);
        to -= n;
      }
    }
    if (pool === 'none' || from > to) return;
    const count = rangeSize({ from: { family: 4, value: from }, to: { family: 4, value: to } });
    add('pool', pool === 'rest' ? from : from + (count + 1n) / 2n, to);
  }

  division(): Division {
    return { blocks: this.blocks, ranges: this.ranges, free: freeOf(this.spaces), waste: { ...this.waste } };
  }
}

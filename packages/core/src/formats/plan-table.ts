import Papa from 'papaparse';
import {
  type AddressRange,
  type Prefix,
  formatAddress,
  formatPrefix,
  parseAddress,
  parseInterfaceAddress,
  parsePrefix,
  parseRange,
  rangeSize,
} from '../address';
import {
  type Block,
  type Plan,
  type PlanAddress,
  type PlanRange,
  type PlanTree,
  type SimplePlanCommand,
  BLOCK_USES,
  MAX_ADDRESSES,
  RANGE_USES,
  STANDINGS,
  blockAt,
  isSubnet,
  planTree,
} from '../plan';
import { entriesById } from '../topology';

/** What a column of a table may hold. `entry` is an address, a range or a block; it alone must be there. */
export const PLAN_COLUMNS = [
  'entry',
  'name',
  'dns',
  'role',
  'note',
  'kind',
  'entry6',
  'site',
  'vlan',
  'purpose',
  'group',
  'standing',
  'use',
  'gateway',
  'gateway6',
] as const;
/** What a column of a pasted table means. */
export type PlanColumn = (typeof PLAN_COLUMNS)[number];

/** What people write above such columns. */
const HEADINGS: Record<PlanColumn, readonly string[]> = {
  entry: [
    'entry',
    'address',
    'addresses',
    'ip',
    'ip address',
    'ipv4',
    'ipv4 address',
    'ipv6',
    'ipv6 address',
    'prefix',
    'subnet',
    'network',
    'block',
    'range',
    'host address',
  ],
  entry6: ['entry6', 'prefix6', 'ipv6 prefix', 'ipv6 subnet', 'subnet6'],
  name: ['name', 'device', 'device name', 'host', 'hostname', 'host name'],
  dns: ['dns', 'dns name', 'fqdn', 'domain name'],
  role: ['role', 'role of the device'],
  note: ['note', 'notes', 'description', 'comment', 'comments', 'remark'],
  kind: ['kind', 'type', 'what'],
  site: ['site', 'location', 'place'],
  vlan: ['vlan', 'vlan id', 'vlan number'],
  purpose: ['purpose', 'function'],
  group: ['group'],
  standing: ['standing', 'status', 'state'],
  use: ['use', 'used for'],
  gateway: ['gateway', 'default gateway', 'router', 'gateway4'],
  gateway6: ['gateway6', 'ipv6 gateway'],
};

/** What a plan says of an address beside whose it is. */
const ABOUT = ['dns', 'role', 'note'] as const;
const ABOUT_WORDS: Record<(typeof ABOUT)[number], string> = { dns: 'DNS name', role: 'role', note: 'note' };

/** The largest table that is read. */
export const MAX_TABLE_ROWS = 50_000;

/** Text as pasted or from a file, as rows: tabs, commas or semicolons, found by themselves; quotes as in RFC 4180. */
export function readTable(text: string): string[][] {
  // A sheet's clipboard has tabs; a comma inside a cell would mislead the guess.
  const delimiter = text.includes('\t') ? '\t' : '';
  const { data } = Papa.parse<string[]>(text.replace(/^\uFEFF/, ''), {
    delimiter,
    skipEmptyLines: 'greedy',
    delimitersToGuess: [',', ';', '\t', '|'],
  });
  // An apostrophe before a sign is how a spreadsheet says that a cell is no formula (see planCsv).
  return data.map((row) => row.map((cell) => cell.trim().replace(/^'(?=[=+\-@])/, '')));
}

const looksLikeEntry = (text: string): boolean =>
  parseAddress(text).ok || parseInterfaceAddress(text).ok || parseRange(text).ok || /^\d{1,3}(\.\d{1,3}){3}/.test(text);

/**
 * What each column holds, and whether the first row is a heading: by the words above, else by what stands in the cells.
 * People may choose otherwise.
 */
export function recogniseColumns(rows: readonly (readonly string[])[]): {
  columns: (PlanColumn | null)[];
  heading: boolean;
} {
  const width = Math.max(0, ...rows.slice(0, 50).map((row) => row.length));
  const first = rows[0] ?? [];
  const words = first.map((cell) => cell.toLowerCase().replace(/[_-]+/g, ' ').trim());
  const columns = Array.from({ length: width }, (_, at): PlanColumn | null => {
    const word = words[at] ?? '';
    return PLAN_COLUMNS.find((column) => HEADINGS[column].includes(word)) ?? null;
  });
  const seen = new Set<PlanColumn>();
  for (const [at, column] of columns.entries()) {
    if (column && seen.has(column)) columns[at] = null;
    else if (column) seen.add(column);
  }
  const heading = columns.some((column) => column !== null) && !first.some(looksLikeEntry);
  if (!heading) columns.fill(null);
  const body = rows.slice(heading ? 1 : 0, 30);
  const share = (at: number, test: (cell: string) => boolean): number =>
    body.length ? body.filter((row) => row[at] !== undefined && test(row[at])).length / body.length : 0;
  const give = (column: PlanColumn, test: (cell: string) => boolean): void => {
    if (columns.includes(column)) return;
    const free = columns.map((column, at) => ({ at, share: column === null ? share(at, test) : 0 }));
    const best = free.sort((a, b) => b.share - a.share)[0];
    if (best && best.share > 0.5) columns[best.at] = column;
  };
  give('entry', looksLikeEntry);
  if (!heading) {
    give('name', (cell) => /\p{L}/u.test(cell) && cell.length <= 80);
    give('vlan', (cell) => /^\d{1,4}$/.test(cell) && Number(cell) >= 1 && Number(cell) <= 4094);
    give('note', (cell) => /\p{L}/u.test(cell));
  }
  return { columns, heading };
}

/** What becomes of one line of a table. */
export interface TableLineOutcome {
  /** Number of the line in the table, from 1. */
  line: number;
  outcome: 'added' | 'changed' | 'same' | 'refused';
  /** What it is, in short. */
  what: string;
  /** Why it is refused, or what changes. */
  words: string;
}

/** What a table comes to: an outcome for each line, and the commands that take the good ones in. */
export interface TableReading {
  lines: TableLineOutcome[];
  /** Commands of all good lines, in order. */
  commands: SimplePlanCommand[];
  counts: Record<TableLineOutcome['outcome'], number>;
}

/** A table with what its columns mean. */
export interface TableRequest {
  rows: readonly (readonly string[])[];
  columns: readonly (PlanColumn | null)[];
  heading: boolean;
  /** What a range without a kind is: each of its addresses, or a range set aside for a use. */
  rangesAre: 'addresses' | PlanRange['use'];
}

type Outcome = Omit<TableLineOutcome, 'line'> & { commands?: SimplePlanCommand[] };
const refused = (what: string, words: string): Outcome => ({ outcome: 'refused', what, words });

/**
 * Works out what a table would do to a plan, line by line, without doing it: what is added, changed, refused and why. A
 * generator, so that a large table can be worked on in pieces: it yields the number of lines read so far.
 */
export function* readPlanTable(
  plan: Plan,
  request: TableRequest,
  newId: () => string,
): Generator<number, TableReading> {
  const reader = new TableReader(plan, request, newId);
  const start = request.heading ? 1 : 0;
  const lines: TableLineOutcome[] = [];
  const commands: SimplePlanCommand[] = [];
  const counts = { added: 0, changed: 0, same: 0, refused: 0 };
  for (let at = start; at < Math.min(request.rows.length, MAX_TABLE_ROWS + start); at++) {
    const { commands: own, ...outcome } = reader.read(request.rows[at]!);
    lines.push({ line: at + 1, ...outcome });
    counts[outcome.outcome]++;
    if (own) commands.push(...own);
    if ((at - start) % 250 === 249) yield at - start + 1;
  }
  const left = request.rows.length - start - MAX_TABLE_ROWS;
  if (left > 0) {
    lines.push({
      line: start + MAX_TABLE_ROWS + 1,
      ...refused(`${left} more lines`, `At most ${MAX_TABLE_ROWS} lines are read at once: paste the rest afterwards.`),
    });
    counts.refused += left;
  }
  return { lines, commands: gathered(commands), counts };
}

/** Addresses that follow each other are taken by one command. */
function gathered(commands: readonly SimplePlanCommand[]): SimplePlanCommand[] {
  const out: SimplePlanCommand[] = [];
  for (const command of commands) {
    const last = out.at(-1);
    if (command.kind === 'takeAddresses' && last?.kind === 'takeAddresses')
      Object.assign(last.addresses, command.addresses);
    else out.push(command.kind === 'takeAddresses' ? { ...command, addresses: { ...command.addresses } } : command);
  }
  return out;
}

class TableReader {
  private readonly tree: PlanTree;
  private readonly addresses: Map<string, PlanAddress>;
  /** Addresses and blocks of earlier lines, with the line. */
  private readonly seen = new Set<string>();
  private readonly byPrefix: Map<string, string>;
  private readonly ranges: Map<string, string>;

  constructor(
    plan: Plan,
    private readonly request: TableRequest,
    private readonly newId: () => string,
  ) {
    this.tree = planTree(plan);
    this.addresses = new Map(Object.entries(plan.addresses ?? {}));
    this.byPrefix = new Map(
      entriesById(plan.blocks).flatMap(([id, block]) => {
        const read = parsePrefix(block.prefix);
        return read.ok ? [[formatPrefix(read.value), id] as const] : [];
      }),
    );
    this.ranges = new Map(entriesById(plan.ranges).map(([id, range]) => [`${range.from} ${range.to}`, id]));
  }

  private cell(row: readonly string[], column: PlanColumn): string {
    const at = this.request.columns.indexOf(column);
    return at < 0 ? '' : (row[at] ?? '').trim();
  }

  read(row: readonly string[]): Outcome {
    const text = this.cell(row, 'entry');
    const kind = this.cell(row, 'kind').toLowerCase();
    if (!this.request.columns.includes('entry'))
      return refused(row.join(' ').slice(0, 60), 'No column is known to hold the address: choose it above.');
    if (text === '') return refused(row.join(' ').trim().slice(0, 60) || 'an empty line', 'The line has no address.');
    if (text.includes('/')) return this.blockOrHost(text, kind, row);
    if (/-|–|\bto\b/.test(text)) {
      const range = parseRange(text);
      return range.ok ? this.range(range.value, kind, row) : refused(text, range.error.text);
    }
    const address = parseAddress(text);
    return address.ok ? this.address(formatAddress(address.value), row) : refused(text, address.error.text);
  }

  /** "10.84.1.5/26" in a list of hosts means the host; a block has no host bits. */
  private blockOrHost(text: string, kind: string, row: readonly string[]): Outcome {
    const prefix = parsePrefix(text);
    if (prefix.ok) return this.block(prefix.value, row);
    const on = parseInterfaceAddress(text);
    if (!on.ok || kind === 'block') return refused(text, on.ok ? prefix.error.text : on.error.text);
    const node = blockAt(this.tree, on.value.address);
    const subnet = node && isSubnet(node) ? node.space[on.value.address.family] : null;
    if (subnet && subnet.length !== on.value.length)
      return refused(text, `The plan’s subnet there is ${formatPrefix(subnet)}, not a /${on.value.length}.`);
    return this.address(formatAddress(on.value.address), row);
  }

  private aboutAddress(row: readonly string[]): Pick<PlanAddress, (typeof ABOUT)[number]> {
    const texts = {
      dns: this.cell(row, 'dns'),
      role: this.cell(row, 'role'),
      note: this.cell(row, 'note') || this.cell(row, 'purpose'),
    };
    return Object.fromEntries(ABOUT.flatMap((about) => (texts[about] ? [[about, texts[about].slice(0, 200)]] : [])));
  }

  private address(key: string, row: readonly string[]): Outcome {
    const entry: PlanAddress = { name: this.cell(row, 'name').slice(0, 80), ...this.aboutAddress(row) };
    const what = `${key}${entry.name && `, ${entry.name}`}`;
    if (this.seen.has(key)) return refused(what, `${key} stands in the table twice.`);
    this.seen.add(key);
    const old = this.addresses.get(key);
    if (!old) {
      if (this.addresses.size + this.seen.size > MAX_ADDRESSES)
        return refused(what, `A plan holds at most ${MAX_ADDRESSES} addresses.`);
      return { outcome: 'added', what, words: '', commands: [{ kind: 'takeAddresses', addresses: { [key]: entry } }] };
    }
    const changed = ABOUT.find((about) => (old[about] ?? '') !== (entry[about] ?? ''));
    if (old.name === entry.name && !changed) return { outcome: 'same', what, words: 'It is in the plan already.' };
    return {
      outcome: 'changed',
      what,
      words:
        old.name === entry.name && changed
          ? `The ${ABOUT_WORDS[changed]} was "${old[changed] ?? ''}".`
          : `It was ${old.name || 'nobody'}’s.`,
      commands: [{ kind: 'setAddress', address: key, set: entry }],
    };
  }

  private range(span: AddressRange, kind: string, row: readonly string[]): Outcome {
    const use = this.cell(row, 'use').toLowerCase();
    const asked = RANGE_USES.find((candidate) => candidate === use);
    const { rangesAre } = this.request;
    const setAside = asked ?? (kind === 'range' ? 'kept' : rangesAre === 'addresses' ? null : rangesAre);
    const [from, to] = [formatAddress(span.from), formatAddress(span.to)];
    const name = this.cell(row, 'name').slice(0, 80);
    const what = `${from} - ${to}${name && `, ${name}`}`;
    if (setAside === null) return this.each(span, name, what, row);
    const known = this.ranges.get(`${from} ${to}`);
    const range: PlanRange = { from, to, use: setAside, ...(name && { name }) };
    const old = known === undefined ? undefined : this.tree.plan.ranges?.[known];
    if (old && old.use === range.use && (old.name ?? '') === name)
      return { outcome: 'same', what, words: 'It is in the plan already.' };
    const id = known ?? this.newId();
    this.ranges.set(`${from} ${to}`, id);
    return {
      outcome: old ? 'changed' : 'added',
      what,
      words: old ? `It was set aside for ${old.use}.` : '',
      commands: [{ kind: 'setRange', id, set: range }],
    };
  }

  /** A range as single addresses: "till" becomes till-1, till-2, … */
  private each(span: AddressRange, name: string, what: string, row: readonly string[]): Outcome {
    const size = rangeSize(span);
    if (size > 4096n)
      return refused(what, `A range of ${size} addresses is not listed one by one: set it aside as a range.`);
    const { dns: _one, ...about } = this.aboutAddress(row); // a name of the domain is one address's
    const addresses: Record<string, PlanAddress> = {};
    for (let at = 0n; at < size; at++) {
      const key = formatAddress({ family: span.from.family, value: span.from.value + at });
      if (this.addresses.has(key))
        return refused(what, `${key} is taken by ${this.addresses.get(key)!.name || 'somebody'}.`);
      if (this.seen.has(key)) return refused(what, `${key} stands in the table twice.`);
      addresses[key] = {
        name: name ? `${name}-${at + 1n}`.slice(0, 80) : '',
        ...about,
      };
    }
    for (const key of Object.keys(addresses)) this.seen.add(key);
    return { outcome: 'added', what, words: `${size} addresses`, commands: [{ kind: 'takeAddresses', addresses }] };
  }

  private block(prefix: Prefix, row: readonly string[]): Outcome {
    const text = formatPrefix(prefix);
    const id = this.byPrefix.get(text);
    const old = id === undefined ? undefined : this.tree.plan.blocks[id];
    const set = this.blockCells(row);
    if (typeof set === 'string') return refused(text, set);
    const name = set.name ?? old?.name ?? '';
    const what = `${text}${name && `, ${name}`}`;
    if (this.seen.has(text)) return refused(what, `${text} stands in the table twice.`);
    this.seen.add(text);
    if (!old) {
      const fresh = this.newId();
      this.byPrefix.set(text, fresh);
      return {
        outcome: 'added',
        what,
        words: '',
        commands: [{ kind: 'addBlock', id: fresh, block: { standing: 'proposed', ...set, prefix: text, name } }],
      };
    }
    const changed = Object.entries(set).filter(([key, value]) => old[key as keyof Block] !== value);
    if (!changed.length) return { outcome: 'same', what, words: 'It is in the plan already.' };
    return {
      outcome: 'changed',
      what,
      words: `${changed.map(([key]) => key).join(', ')} ${changed.length === 1 ? 'changes' : 'change'}.`,
      commands: [{ kind: 'setBlock', id: id!, set: Object.fromEntries(changed) }],
    };
  }

  /** The properties of a block that the line gives; a sentence where one cannot be read. */
  private blockCells(row: readonly string[]): Partial<Block> | string {
    const set: Partial<Block> = {};
    for (const column of ['name', 'site', 'purpose', 'group', 'gateway', 'gateway6'] as const) {
      const text = this.cell(row, column);
      if (text)
        set[column] = text.slice(0, column === 'purpose' ? 200 : column === 'name' || column === 'site' ? 80 : 64);
    }
    if (set.purpose === undefined && this.cell(row, 'note')) set.purpose = this.cell(row, 'note').slice(0, 200);
    if (set.group !== undefined && !/^[A-Za-z0-9][A-Za-z0-9_.:-]*$/.test(set.group))
      return `"${set.group}" is no group: the column holds the ids of groups.`;
    const vlan = this.cell(row, 'vlan');
    if (vlan) {
      if (!/^\d{1,4}$/.test(vlan) || Number(vlan) < 1 || Number(vlan) > 4094)
        return `VLAN "${vlan}" is none: VLANs have the numbers 1 to 4094.`;
      set.vlan = Number(vlan);
    }
    const six = this.cell(row, 'entry6');
    if (six) {
      const read = parsePrefix(six);
      if (!read.ok) return read.error.text;
      set.prefix6 = formatPrefix(read.value);
    }
    const standing = this.cell(row, 'standing').toLowerCase().replace(' ', '-');
    const known = STANDINGS.find((candidate) => candidate === standing);
    if (known) set.standing = known;
    const use = BLOCK_USES.find((use) => use === this.cell(row, 'use').toLowerCase());
    if (use) set.use = use;
    return set;
  }
}

/** The plan as CSV (RFC 4180): a line for every block, range and address. readPlanTable reads it back. */
export function planCsv(plan: Plan): string {
  const tree = planTree(plan);
  const header: PlanColumn[] = [
    'kind',
    'entry',
    'entry6',
    'name',
    'site',
    'vlan',
    'purpose',
    'group',
    'standing',
    'use',
    'gateway',
    'gateway6',
    'dns',
    'role',
    'note',
  ];
  const line = (values: Partial<Record<PlanColumn, string | number | undefined>>): (string | number)[] =>
    header.map((column) => values[column] ?? '');
  const blocks = tree.order.map((id) => {
    const { prefix, prefix6, name, site, vlan, purpose, group, standing, use, gateway, gateway6 } = plan.blocks[id]!;
    return line({
      kind: 'block',
      entry: prefix,
      entry6: prefix6,
      name,
      site,
      vlan,
      purpose,
      group,
      standing,
      use,
      gateway,
      gateway6,
    });
  });
  const ranges = entriesById(plan.ranges).map(([, { from, to, use, name }]) =>
    line({ kind: 'range', entry: `${from} - ${to}`, use, name }),
  );
  const addresses = ([4, 6] as const).flatMap((family) =>
    [...tree.addresses[family].within(0n, 1n << 128n)].map((value) => {
      const key = formatAddress({ family, value });
      return line({ kind: 'address', entry: key, ...plan.addresses![key]! });
    }),
  );
  // What a spreadsheet would take for a formula gets an apostrophe in front; readTable takes it away again.
  return Papa.unparse([header, ...blocks, ...ranges, ...addresses], { newline: '\r\n', escapeFormulae: true });
}

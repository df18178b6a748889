import { parseInterfaceAddress } from '../address';
import { SHEETS } from '../bench';
import { AUTOMATIC, setAddress } from '../editing';
import { MEDIUM_NAMES } from '../engine';
import { type Result, fail, ok } from '../result';
import {
  type Command,
  type Medium,
  type Problem,
  type Topology,
  MEDIA,
  applyCommand,
  entriesById,
  portOf,
} from '../topology';
import { MAX_FILE_BYTES } from './document';
import { type ForeignLink, type ForeignNode, type Imported, drawingOf, portKeyOf } from './import-network';
import { readTable } from './plan-table';

/** What people write above the columns of a table of devices. Those of the strip's own table are among them. */
const DEVICE_HEADINGS = {
  name: [
    'name',
    'device',
    'device name',
    'hostname',
    'host name',
    'host',
    'node',
    'label',
    'equipment',
    'computer',
    'system',
    'pc name',
  ],
  model: [
    'model',
    'type',
    'kind',
    'device type',
    'device kind',
    'device model',
    'class',
    'category',
    'role',
    'product',
  ],
  site: ['site', 'location', 'place', 'building', 'room', 'floor', 'area', 'department'],
  interface: ['interface', 'port', 'nic', 'adapter', 'network adapter', 'interface name'],
  address: [
    'address',
    'ip',
    'ip address',
    'ipv4',
    'ipv4 address',
    'ipv6 address',
    'addresses',
    'ip addr',
    'host address',
    'ip/prefix',
  ],
  mask: ['mask', 'subnet mask', 'netmask', 'net mask', 'network mask', 'prefix length', 'prefix', 'cidr'],
  gateway: ['gateway', 'default gateway', 'gw', 'default gw', 'default router', 'ip gateway'],
  dns: ['dns', 'dns server', 'dns servers', 'name server', 'nameserver', 'preferred dns', 'dns 1'],
  power: ['power', 'powered'],
  x: ['x'],
  y: ['y'],
} as const;
type DeviceColumn = keyof typeof DEVICE_HEADINGS;
const LINK_HEADINGS = {
  from: [
    'from',
    'local device',
    'local',
    'device',
    'start',
    'a',
    'source',
    'from device',
    'source device',
    'device a',
    'end a',
    'device 1',
  ],
  to: [
    'to',
    'remote device',
    'remote',
    'connected to',
    'neighbour',
    'neighbor',
    'peer',
    'other end',
    'end',
    'b',
    'target',
    'destination',
    'to device',
    'destination device',
    'device b',
    'end b',
    'device 2',
  ],
  fromPort: [
    'local port',
    'local interface',
    'start port',
    'from port',
    'from interface',
    'a port',
    'source port',
    'source interface',
    'port a',
    'port 1',
  ],
  toPort: [
    'remote port',
    'remote interface',
    'neighbour port',
    'neighbor port',
    'peer port',
    'end port',
    'to port',
    'to interface',
    'b port',
    'destination port',
    'destination interface',
    'port b',
    'port 2',
  ],
  medium: ['medium', 'media', 'cable type', 'type', 'cabling', 'link type', 'connection', 'kind of cable'],
  cable: ['cable', 'cable id', 'id', 'identifier', 'cable number', 'cable no', 'cable label', 'label'],
  length: ['length', 'length m', 'cable length', 'length in m', 'length in metres', 'metres', 'meters', 'm'],
} as const;
type LinkColumn = keyof typeof LINK_HEADINGS;

/** Everyday words for media beside those of the Bench. */
const MEDIUM_WORDS: Readonly<Record<string, Medium>> = {
  copper: 'straight',
  straight: 'straight',
  'straight through': 'straight',
  'patch cable': 'straight',
  patch: 'straight',
  ethernet: 'straight',
  utp: 'straight',
  stp: 'straight',
  'cat 5e': 'straight',
  cat5e: 'straight',
  cat6: 'straight',
  'cat 6': 'straight',
  cat6a: 'straight',
  'twisted pair': 'straight',
  fibre: 'sm-fibre',
  'fibre optic': 'sm-fibre',
  optical: 'sm-fibre',
  cross: 'crossover',
  'cross over': 'crossover',
  console: 'rollover',
  multimode: 'mm-fibre',
  singlemode: 'sm-fibre',
  'single mode': 'sm-fibre',
  'multi mode': 'mm-fibre',
  coaxial: 'coax',
  'wi fi': 'wireless',
  wifi: 'wireless',
  radio: 'wireless',
};

interface Line {
  readonly place: string;
  readonly cells: Readonly<Record<string, string>>;
}
const plain = (text: string): string =>
  text
    .toLowerCase()
    .replaceAll(/[_\-–()]+/g, ' ')
    .replaceAll(/\s+/g, ' ')
    .trim();

/** Whether a text is a table of devices or of links: with rows under headings by which it can be read. */
export function isSheet(text: string): boolean {
  const [head = [], ...rows] = readTable(text);
  const [ofLinks, ofDevices] = [linkColumns(head), columnsOf(head, DEVICE_HEADINGS)];
  const isOfLinks = ofLinks.includes('from') && ofLinks.includes('to');
  // A single word that is a heading may be a name as well.
  const isOfDevices = ofDevices.includes('name') && ofDevices.filter((column) => column !== null).length > 1;
  return rows.length > 0 && (isOfLinks || isOfDevices);
}

/**
 * Reads tables of devices and of links (CSV, with whatever headings people write) into a drawing: devices with a name
 * that is there are changed, others are new, and links join devices by their names. Where only links come, the devices
 * at their ends are made. Pure.
 */
export function readSheets(
  tables: Readonly<Record<string, string>>,
  base: Topology,
  ending?: () => string,
): Result<Imported, Problem[]> {
  const bytes = Object.values(tables).reduce((sum, text) => sum + text.length, 0);
  if (bytes > MAX_FILE_BYTES)
    return fail([{ place: '', text: `The tables have ${(bytes / 1e6).toFixed(1)} MB: at most 10 MB are taken.` }]);
  const problems: Problem[] = [];
  const left: string[] = [];
  const devices: Line[] = [];
  const links: Line[] = [];
  for (const [file, text] of Object.entries(tables)) {
    const [head = [], ...rows] = readTable(text);
    const [ofLinks, ofDevices] = [linkColumns(head), columnsOf(head, DEVICE_HEADINGS)];
    const isLinks = ofLinks.includes('from') && ofLinks.includes('to');
    if (!isLinks && !ofDevices.includes('name')) {
      problems.push({
        place: `${file}, line 1`,
        text: 'The first line tells neither devices (a column “Name”) nor links (columns “From” and “To”).',
      });
      continue;
    }
    const columns: readonly (string | null)[] = isLinks ? ofLinks : ofDevices;
    const unknown = head.filter((word, at) => word && columns[at] === null && !WORKED_OUT.has(plain(word)));
    if (unknown.length) left.push(`${file}: the column${unknown.length > 1 ? 's' : ''} ${unknown.join(', ')}.`);
    for (const [at, row] of rows.entries()) {
      const place = `${file}, row ${at + 2}`;
      const cells = cellsOf(columns, row, place, left);
      (isLinks ? links : devices).push({ place, cells });
    }
  }
  if (problems.length) return fail(problems);

  /** Names by their small letters, as they are in the drawing, else as they were typed first. */
  const names = new Map(entriesById(base.devices).map(([, { name }]) => [name.toLowerCase(), name]));
  const called = (text: string): string => {
    const key = text.toLowerCase();
    if (!names.has(key)) names.set(key, text);
    return names.get(key)!;
  };
  const nodes = new Map<string, ForeignNode>();
  const node = (name: string, more: Omit<ForeignNode, 'id'> = {}): void => {
    const before = nodes.get(name);
    nodes.set(name, { ...before, ...more, id: name, ports: [...(before?.ports ?? []), ...(more.ports ?? [])] });
  };
  const known = new Set(names.values());
  const named = devices.filter(({ place, cells }) => {
    if (cells.name) node(called(cells.name), { ...wordsOf(cells), place });
    else left.push(`${place}: the device has no name.`);
    return cells.name;
  });
  const cables = links.flatMap((line): ForeignLink[] => {
    const cable = linkOf(line, called, left);
    if (!cable) return [];
    for (const { node: name } of [cable.a, cable.b]) if (!named.length || known.has(name)) node(name);
    return [cable];
  });
  const drawn = drawingOf({ nodes: [...nodes.values()], links: cables }, base, ending);
  if (!drawn.ok) return drawn;
  left.push(...drawn.value.left);
  let topology = drawn.value.topology;
  const ids = new Map(entriesById(topology.devices).map(([id, { name }]) => [name, id]));
  for (const line of named) topology = written(topology, ids.get(called(line.cells.name!))!, line, left);
  return ok({ topology, left, ...(Object.keys(base.devices).length && { joined: true }) });
}

/** Columns of the strip that are worked out from others: they may be there and say nothing new. */
const WORKED_OUT = new Set([plain('Links'), 'subnet']);

const columnsOf = <K extends string>(
  head: readonly string[],
  headings: Readonly<Record<K, readonly string[]>>,
): (K | null)[] => {
  const seen = new Set<K>();
  return head.map((word) => {
    const found = (Object.keys(headings) as K[]).find((key) => headings[key].includes(plain(word)));
    if (found === undefined || seen.has(found)) return null;
    seen.add(found);
    return found;
  });
};

/** The columns of a table of links: "Port" without a word more belongs to the end before it. */
function linkColumns(head: readonly string[]): (LinkColumn | null)[] {
  let end: 'fromPort' | 'toPort' | null = null;
  const found = columnsOf(head, LINK_HEADINGS);
  return found.map((column, at) => {
    if (column === 'from') end = 'fromPort';
    if (column === 'to') end = 'toPort';
    return column ?? (['port', 'interface'].includes(plain(head[at]!)) ? end : null);
  });
}

/** The cells of a row by column. One that a spreadsheet would calculate is told and left out. */
function cellsOf(
  columns: readonly (string | null)[],
  row: readonly string[],
  place: string,
  left: string[],
): Record<string, string> {
  const cells: Record<string, string> = {};
  for (const [at, column] of columns.entries()) {
    const text = row[at]?.trim();
    if (!column || !text) continue;
    if (/^[=@]/.test(text)) left.push(`${place}: ${JSON.stringify(text.slice(0, 40))} is a formula, not a value.`);
    else cells[column] = text;
  }
  return cells;
}

function wordsOf(cells: Partial<Record<DeviceColumn, string>>): Omit<ForeignNode, 'id'> {
  const [x, y] = [Number(cells.x), Number(cells.y)];
  return {
    ...(cells.model && { model: cells.model, kind: cells.model }),
    ...(cells.site && { site: cells.site }),
    ...(cells.interface && { ports: [cells.interface] }),
    ...(cells.x && cells.y && Number.isFinite(x) && Number.isFinite(y) && { at: { x, y } }),
  };
}

function linkOf({ place, cells }: Line, called: (text: string) => string, left: string[]): ForeignLink | null {
  const { from, to, fromPort, toPort, medium, cable, length } = cells as Partial<Record<LinkColumn, string>>;
  if (!from || !to) {
    left.push(`${place}: a link needs a device at both ends.`);
    return null;
  }
  const metres = length === undefined ? undefined : Number(length.replace(/\s*m$/, '').replace(',', '.'));
  if (metres !== undefined && !(metres >= 0)) left.push(`${place}: “${length}” is no length in metres.`);
  return {
    a: { node: called(from), port: fromPort },
    b: { node: called(to), port: toPort },
    medium: medium && mediumOf(medium),
    cableId: cable,
    lengthM: metres !== undefined && metres >= 0 ? metres : undefined,
  };
}
function mediumOf(text: string): string {
  const word = plain(text)
    .replace(/ cable$/, '')
    .replace(/fiber/, 'fibre');
  const named = MEDIA.find((medium) => plain(medium) === word || plain(MEDIUM_NAMES[medium]) === word);
  return named ?? MEDIUM_WORDS[word] ?? MEDIUM_WORDS[word.replace(/ fibre$/, '')] ?? text;
}

const DEVICES = SHEETS.find((sheet) => sheet.id === 'devices')!;

/** Writes what a line says into a device, as typing it into the strip would. */
function written(topology: Topology, id: string, { place, cells }: Line, left: string[]): Topology {
  let draft = topology;
  const take = (command: Command): void => {
    const done = applyCommand(draft, command);
    if (done.ok) draft = done.value.document;
    else left.push(`${place}: ${done.error}`);
  };
  const write = (key: string, text: string): void => {
    const column = DEVICES.columns.find((column) => column.key === key)!;
    const row = { key: id, device: id };
    if (column.read(draft, row) === text) return;
    const commands = column.write!(draft, row, text);
    if (commands.ok) commands.value.forEach(take);
    else left.push(`${place}: ${commands.error}`);
  };
  const { address, mask, interface: port, ...others } = cells as Partial<Record<DeviceColumn, string>>;
  for (const key of ['site', 'gateway', 'dns', 'power'] as const) if (others[key]) write(key, others[key]);
  if (!address) return draft;
  const text = withMask(address, mask);
  const read = parseInterfaceAddress(text);
  if (!read.ok && !AUTOMATIC.test(text))
    left.push(`${place}: ${read.error.text} It stands in the drawing as it is written.`);
  if (port === undefined) write('address', text);
  else if (portOf(draft, draft.devices[id]!, portKeyOf(port)))
    take(setAddress(draft, id, portKeyOf(port), text.includes(':') ? 6 : 4, text));
  else left.push(`${place}: ${draft.devices[id]!.name} has no port “${port}”.`);
  return draft;
}

/** An address with the prefix or mask of a column of its own. */
function withMask(address: string, mask: string | undefined): string {
  if (!mask || address.includes('/')) return address;
  return mask.startsWith('/') ? `${address}${mask}` : mask.includes('.') ? `${address} ${mask}` : `${address}/${mask}`;
}

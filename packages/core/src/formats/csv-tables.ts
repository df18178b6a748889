import { Kind, OptionalKind, type TSchema } from '@sinclair/typebox';
import Papa from 'papaparse';
import { entryOf, setEntry } from '../records';
import { fail, type Result } from '../result';
import {
  type Problem,
  Comment,
  Device,
  InterfaceMap,
  Link,
  Model,
  Note,
  Picture,
  STRING_ENUM,
  Site,
  type Topology,
  entriesById,
  readTopology,
} from '../topology';
import { MAX_FILE_BYTES } from './document';

/**
 * A drawing as a folder of CSV tables (RFC 4180) by file name, one for each sort of thing. Plain values stand in columns
 * of their own, and so do the parts of places and ends of links (`at.x`, `a.port`); what has no such form is JSON in its
 * cell. An empty cell is a value that is not there. A text that a spreadsheet would take for a formula has an apostrophe
 * before it.
 */
export type Tables = Readonly<Record<string, string>>;

type Tree = Record<string, unknown>;
const Interface = Object.values(InterfaceMap.patternProperties)[0] as TSchema;
const MAPS = {
  sites: Site,
  devices: Device,
  links: Link,
  notes: Note,
  pictures: Picture,
  comments: Comment,
  models: Model,
} as const;
type MapName = keyof typeof MAPS;
const MAP_NAMES = Object.keys(MAPS) as MapName[];
/** These are there in every drawing, the others only where there is something in them. */
const ALWAYS: ReadonlySet<string> = new Set(['sites', 'devices', 'links']);
const DOCUMENT = 'document.csv';
/** Interfaces have a table of their own: their addresses are what one looks for in a spreadsheet. */
const INTERFACES = 'interfaces.csv';

/** `empty` marks an object whose parts have columns of their own, where it is there without any of them. */
type CellKind = 'text' | 'number' | 'boolean' | 'texts' | 'json' | 'empty';
interface Column {
  readonly path: readonly string[];
  readonly kind: CellKind;
}
const nameOf = ({ path }: Column): string => path.join('.');

/** The columns of a sort of thing, by its schema. */
function columnsOf(schema: TSchema, path: readonly string[] = []): Column[] {
  return Object.entries(schema.properties as Record<string, TSchema>).flatMap(([key, property]): Column[] => {
    const at = [...path, key];
    const kind = kindOf(property);
    const isOptional = property[OptionalKind] === 'Optional';
    if (property[Kind] !== 'Object') return [{ path: at, kind }];
    const parts = columnsOf(property, at);
    const isPlain = parts.every((part) => part.kind !== 'json') && parts.length <= 6;
    if (!isPlain) return [{ path: at, kind }];
    return isOptional ? [{ path: at, kind: 'empty' }, ...parts] : parts;
  });
}

function kindOf(schema: TSchema): CellKind {
  switch (schema[Kind]) {
    case 'String':
    case STRING_ENUM:
      return 'text';
    case 'Number':
    case 'Integer':
      return 'number';
    case 'Boolean':
      return 'boolean';
    case 'Array':
      return kindOf(schema.items as TSchema) === 'text' ? 'texts' : 'json';
    case 'Literal':
      return typeof schema.const === 'string' ? 'text' : 'json';
    default:
      return 'json';
  }
}

const isTree = (value: unknown): value is Tree => value !== null && typeof value === 'object' && !Array.isArray(value);
const isEmpty = (value: unknown): boolean => isTree(value) && Object.keys(value).length === 0;

/** A topology as CSV tables (RFC 4180), one for each map of the document; reading them brings back the same document. */
export function writeTables(topology: Topology): Tables {
  const tables: Record<string, string> = {};
  const rest = Object.entries(topology).filter(
    ([key, value]) => !(key in MAPS) || (!ALWAYS.has(key) && isEmpty(value)),
  );
  tables[DOCUMENT] = unparse([['key', 'value'], ...rest.map(([key, value]) => [key, textCell(JSON.stringify(value))])]);
  for (const name of MAP_NAMES) {
    const things = entriesById<Tree>(topology[name] as Record<string, Tree> | undefined).map(
      ([id, thing]) => [[id], name === 'devices' ? withoutInterfaces(thing) : thing] as const,
    );
    if (things.length || ALWAYS.has(name)) tables[`${name}.csv`] = tableOf(['id'], MAPS[name], things);
  }
  const interfaceConfigs = entriesById(topology.devices).flatMap(([device, { interfaces }]) =>
    entriesById<Tree>(interfaces).map(([key, interfaceConfig]) => [[device, key], interfaceConfig] as const),
  );
  if (interfaceConfigs.length) tables[INTERFACES] = tableOf(['device', 'interface'], Interface, interfaceConfigs);
  return tables;
}

function withoutInterfaces({ interfaces, ...device }: Tree): Tree {
  return isEmpty(interfaces) ? { ...device, interfaces } : device;
}

/** Columns without a value in any row are left out, and come back as they go: absent. */
function tableOf(
  keys: readonly string[],
  schema: TSchema,
  things: readonly (readonly [readonly string[], Tree])[],
): string {
  const columns = columnsOf(schema);
  const rows = things.map(([ids, thing]) => ({ ids, cells: columns.map((column) => cellOf(column, thing)) }));
  const used = columns.map((_column, at) => rows.some(({ cells }) => cells[at] !== ''));
  const kept = <T>(list: readonly T[]): T[] => list.filter((_one, at) => used[at]);
  return unparse([
    [...keys, ...kept(columns.map(nameOf))],
    ...rows.map(({ ids, cells }) => [...ids.map(textCell), ...kept(cells)]),
  ]);
}

const unparse = (rows: readonly (readonly string[])[]): string =>
  `${Papa.unparse(rows as string[][], { newline: '\r\n' })}\r\n`;

/** Signs with which spreadsheets begin a formula. */
const FORMULA = /^[=+\-@\t\r']/;
export const textCell = (text: string): string => (text === '' || FORMULA.test(text) ? `'${text}` : text);

function cellOf({ path, kind }: Column, thing: Tree): string {
  const value = path.reduce<unknown>((at, key) => (isTree(at) && Object.hasOwn(at, key) ? at[key] : undefined), thing);
  if (value === undefined) return '';
  switch (kind) {
    case 'text':
      return textCell(value as string);
    case 'texts': {
      const texts = value as string[];
      return texts.length && texts.every((text) => /^[^\s[]\S*$/.test(text))
        ? textCell(texts.join(' '))
        : JSON.stringify(texts);
    }
    case 'json':
      return textCell(JSON.stringify(value));
    case 'empty':
      return isEmpty(value) ? '{}' : '';
    default:
      return JSON.stringify(value);
  }
}

/** Whether tables are a drawing as `writeTables` writes it: its table of the document is there. */
export const isOwnTables = (tables: Tables): boolean =>
  DOCUMENT in tables && /^\uFEFF?"?key"?,"?value"?\s/.test(tables[DOCUMENT]);

/** Reads a folder of tables as `writeTables` writes it. Problems tell the table, the line and the column. */
export function readTables(tables: Tables): Result<Topology, Problem[]> {
  const bytes = Object.values(tables).reduce((sum, text) => sum + text.length, 0);
  if (bytes > MAX_FILE_BYTES)
    return fail([{ place: '', text: `The tables have ${(bytes / 1e6).toFixed(1)} MB: at most 10 MB are taken.` }]);
  const problems: Problem[] = [];
  const lines = new Map<string, string>();
  const document: Tree = { sites: {}, devices: {}, links: {} };
  const known = new Set([DOCUMENT, INTERFACES, ...MAP_NAMES.map((name) => `${name}.csv`)]);
  for (const file of Object.keys(tables))
    if (!known.has(file))
      problems.push({ place: file, text: `This table is not known here: wanted are ${[...known].join(', ')}.` });

  for (const { place, cells } of rowsOf(DOCUMENT, tables, problems))
    setEntry(
      document,
      cells.key ?? '',
      jsonOf(plain(cells.value ?? '', `${place}, column "value"`, problems), place, problems),
    );
  for (const name of MAP_NAMES)
    for (const { place, cells } of rowsOf(`${name}.csv`, tables, problems)) {
      const id = plain(cells.id ?? '', `${place}, column "id"`, problems);
      lines.set(`${name} › ${id}`, place);
      document[name] = into(document[name], id, thingOf(MAPS[name], cells, ['id'], place, problems), place, problems);
    }
  for (const { place, cells } of rowsOf(INTERFACES, tables, problems)) {
    const device = entryOf(document.devices as Tree, cells.device ?? '');
    if (!isTree(device)) {
      problems.push({
        place: `${place}, column "device"`,
        text: `There is no device "${cells.device ?? ''}" in devices.csv.`,
      });
      continue;
    }
    const key = cells.interface ?? '';
    lines.set(`devices › ${cells.device} › interfaces › ${key}`, place);
    const interfaceConfig = thingOf(Interface, cells, ['device', 'interface'], place, problems);
    device.interfaces = into(device.interfaces, key, interfaceConfig, place, problems);
  }
  if (problems.length) return fail(problems.slice(0, MOST_PROBLEMS));
  const read = readTopology(document);
  return read.ok ? read : fail(read.error.map((problem) => inTable(problem, lines)));
}

const MOST_PROBLEMS = 20;

interface Row {
  readonly place: string;
  readonly cells: Readonly<Record<string, string>>;
}
function rowsOf(file: string, tables: Tables, problems: Problem[]): Row[] {
  const text = tables[file];
  if (text === undefined) return [];
  const { data } = Papa.parse<string[]>(text.replace(/^\uFEFF/, ''), { skipEmptyLines: true });
  const [head = [], ...rows] = data;
  const twice = head.find((name, at) => head.indexOf(name) !== at);
  if (twice !== undefined) problems.push({ place: `${file}, line 1`, text: `The column "${twice}" is there twice.` });
  return rows.map((row, at) => {
    const place = `${file}, row ${at + 2}`;
    if (row.length > head.length)
      problems.push({ place, text: `The row has ${row.length} cells, and the table ${head.length} columns.` });
    return { place, cells: Object.fromEntries(head.map((name, index) => [name, row[index] ?? ''])) };
  });
}

function into(map: unknown, id: string, thing: Tree, place: string, problems: Problem[]): Tree {
  const tree = isTree(map) ? map : {};
  if (Object.hasOwn(tree, id)) problems.push({ place, text: `"${id}" is there twice.` });
  setEntry(tree, id, thing);
  return tree;
}

function thingOf(
  schema: TSchema,
  cells: Row['cells'],
  keys: readonly string[],
  place: string,
  problems: Problem[],
): Tree {
  const thing: Tree = {};
  const columns = columnsByName(schema);
  for (const [name, cell] of Object.entries(cells)) {
    if (keys.includes(name) || cell === '') continue;
    const at = `${place}, column "${name}"`;
    const column = columns.get(name);
    if (!column) problems.push({ place: at, text: `The column "${name}" is not known here.` });
    else set(thing, column.path, valueOf(column, cell, at, problems));
  }
  return thing;
}

const columnsKnown = new Map<TSchema, ReadonlyMap<string, Column>>();
/** The columns of a sort of thing by their names, worked out once. */
function columnsByName(schema: TSchema): ReadonlyMap<string, Column> {
  const found = columnsKnown.get(schema) ?? new Map(columnsOf(schema).map((column) => [nameOf(column), column]));
  columnsKnown.set(schema, found);
  return found;
}

function set(thing: Tree, path: readonly string[], value: unknown): void {
  const [key, ...rest] = path as [string, ...string[]];
  if (!rest.length) thing[key] = value;
  else set((thing[key] ??= {}) as Tree, rest, value);
}

function valueOf({ kind }: Column, cell: string, place: string, problems: Problem[]): unknown {
  switch (kind) {
    case 'number': {
      const value = Number(cell);
      if (Number.isFinite(value)) return value;
      problems.push({ place, text: `${JSON.stringify(cell)} is no number.` });
      return 0;
    }
    case 'boolean':
      if (cell !== 'true' && cell !== 'false')
        problems.push({ place, text: `${JSON.stringify(cell)} is neither true nor false.` });
      return cell === 'true';
    case 'text':
      return plain(cell, place, problems);
    case 'texts': {
      const text = plain(cell, place, problems);
      return text.startsWith('[') ? jsonOf(text, place, problems) : text.split(' ');
    }
    default:
      return jsonOf(plain(cell, place, problems), place, problems);
  }
}

/** The text of a cell. One that a spreadsheet would calculate is refused: nobody knows what it showed. */
function plain(cell: string, place: string, problems: Problem[]): string {
  if (cell.startsWith("'")) return cell.slice(1);
  if (FORMULA.test(cell) && !/^[+-]?\d/.test(cell))
    problems.push({
      place,
      text: `The cell begins with ${JSON.stringify(cell[0])}, as formulas do: put an apostrophe before it if it is meant as a text.`,
    });
  return cell;
}

function jsonOf(text: string, place: string, problems: Problem[]): unknown {
  try {
    return JSON.parse(text) as unknown;
  } catch {
    problems.push({ place, text: `${JSON.stringify(text.slice(0, 40))} is no JSON.` });
    return null;
  }
}

/** A problem of the whole, at the row in which it stands. */
function inTable({ place, text }: Problem, lines: ReadonlyMap<string, string>): Problem {
  const parts = place.split(' › ');
  for (let length = parts.length; length > 0; length--) {
    const line = lines.get(parts.slice(0, length).join(' › '));
    if (line) return { place: [line, ...parts.slice(length)].join(' › '), text };
  }
  return { place: place && `${DOCUMENT} › ${place}`, text };
}

import { Kind, type TSchema } from '@sinclair/typebox';
import { KIT, STRING_ENUM, Topology, entriesById } from '../topology';

/** What can stand at a place of a YAML text: `from` is where the word that is typed there begins. */
export interface Hints {
  readonly from: number;
  readonly options: readonly { readonly label: string; readonly detail: string; readonly insert: string }[];
}

const KEY = /^(\s*)(?:- )?(?:"([^"]*)"|'([^']*)'|([^\s#"'{[][^:#]*?))\s*:(?:\s|$)/;

/** What fits where somebody types, by the schema and by what is in the drawing. Null inside of comments and texts. */
export function yamlHints(text: string, offset: number, topology: Topology): Hints | null {
  const lines = text.slice(0, offset).split('\n');
  const line = lines.at(-1)!;
  if (/(^|\s)#/.test(line)) return null;
  const value = /^(\s*)(?:- )?([A-Za-z0-9_.:-]+):\s+([^{[]*)$/.exec(line);
  if (value) {
    const [, indent, key, typed] = value as unknown as [string, string, string, string];
    const path = [...pathTo(lines.slice(0, -1), indent.length), key];
    const options = valuesAt(path, topology);
    return options.length ? { from: offset - typed.length, options } : null;
  }
  const word = /^(\s*)([A-Za-z0-9_.:-]*)$/.exec(line);
  if (!word) return null;
  const path = pathTo(lines.slice(0, -1), word[1]!.length);
  const present = new Set(siblingsOf(text, offset, word[1]!.length));
  const options = schemasAt(path)
    .flatMap((schema) => keysOf(schema))
    .filter((hint) => !present.has(hint.label));
  return options.length ? { from: offset - word[2]!.length, options } : null;
}

const keyOf = (line: string): { indent: number; key: string } | null => {
  const found = KEY.exec(line);
  return found && { indent: found[1]!.length, key: (found[2] ?? found[3] ?? found[4])! };
};

/** The keys under which a line with so many spaces before it stands. */
function pathTo(lines: readonly string[], indent: number): string[] {
  const path: string[] = [];
  let within = indent;
  for (let at = lines.length - 1; at >= 0 && within > 0; at--) {
    const found = keyOf(lines[at]!);
    if (found && found.indent < within) {
      path.unshift(found.key);
      within = found.indent;
    }
  }
  return path;
}

/** The keys that stand beside a place already. */
function siblingsOf(text: string, offset: number, indent: number): string[] {
  const before = text.slice(0, offset).split('\n').slice(0, -1);
  const after = text.slice(offset).split('\n').slice(1);
  const beside = (lines: readonly string[]): string[] => {
    const keys: string[] = [];
    for (const line of lines) {
      const found = keyOf(line);
      if (!found) continue;
      if (found.indent < indent) break;
      if (found.indent === indent) keys.push(found.key);
    }
    return keys;
  };
  return [...beside(before.reverse()), ...beside(after)];
}

/** The schemas that may hold at a path; several where a thing has one of several forms. */
function schemasAt(path: readonly string[]): TSchema[] {
  let schemas: TSchema[] = [Topology];
  for (const key of path) schemas = schemas.flatMap((schema) => inner(schema, key));
  return schemas.flatMap(forms);
}
const forms = (schema: TSchema): TSchema[] =>
  Array.isArray(schema.anyOf) ? (schema.anyOf as TSchema[]).flatMap(forms) : [schema];

function inner(schema: TSchema, key: string): TSchema[] {
  return forms(schema).flatMap((form) => {
    if (form[Kind] === 'Object') {
      const property = (form.properties as Record<string, TSchema>)[key];
      return property ? [property] : [];
    }
    if (form[Kind] === 'Record') return Object.values(form.patternProperties as Record<string, TSchema>);
    return form[Kind] === 'Array' ? inner(form.items as TSchema, key) : [];
  });
}

const NESTED = new Set(['Object', 'Record', 'Array']);
function keysOf(schema: TSchema): Hints['options'][number][] {
  const of = schema[Kind] === 'Array' ? (schema.items as TSchema) : schema;
  if (of[Kind] !== 'Object') return [];
  const required = new Set((of.required as string[] | undefined) ?? []);
  return Object.entries(of.properties as Record<string, TSchema>).map(([key, property]) => ({
    label: key,
    detail: `${wordsOf(property)}${required.has(key) ? ', needed' : ''}`,
    insert: NESTED.has(property[Kind]) ? `${key}:` : `${key}: `,
  }));
}

function wordsOf(schema: TSchema): string {
  const all = forms(schema);
  if (all.length > 1) return 'one of several forms';
  switch (schema[Kind]) {
    case STRING_ENUM:
      return (schema.enum as string[]).slice(0, 4).join(', ') + ((schema.enum as string[]).length > 4 ? '…' : '');
    case 'Number':
    case 'Integer':
      return 'a number';
    case 'Boolean':
      return 'true or false';
    case 'Array':
      return 'a list';
    case 'Record':
      return 'by id';
    case 'Object':
      return `with ${Object.keys(schema.properties as object)
        .slice(0, 3)
        .join(', ')}`;
    default:
      return 'a text';
  }
}

function valuesAt(path: readonly string[], topology: Topology): Hints['options'][number][] {
  const option = (label: string, detail = '') => ({ label, detail, insert: label });
  const last = path.at(-1);
  if (path[0] === 'devices' && last === 'model')
    return Object.entries({ ...KIT, ...topology.models }).map(([id, model]) => option(id, model.name));
  if (last === 'site' || (path[0] === 'sites' && last === 'parent'))
    return entriesById(topology.sites).map(([id, site]) => option(id, site.name));
  if (last === 'device') return entriesById(topology.devices).map(([id, device]) => option(id, device.name));
  return schemasAt(path).flatMap((schema) => {
    if (Array.isArray(schema.enum)) return (schema.enum as string[]).map((value) => option(value));
    if (schema[Kind] === 'Boolean') return [option('true'), option('false')];
    return schema.const === undefined ? [] : [option(String(schema.const as string | number))];
  });
}

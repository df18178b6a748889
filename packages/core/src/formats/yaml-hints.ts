import { Kind, type TSchema } from '@sinclair/typebox';
import { entryOf } from '../records';
import { ALL_GROUPS, ANY_SITE, type Slot, Spec, refsOf, ruleKind } from '../spec';
import { KIT, STRING_ENUM, Topology, entriesById } from '../topology';
import { kindOf, resolvedIn } from './yaml-text';

/** What can stand at a place of a YAML text: `from` is where the word that is typed there begins. */
export interface Hints {
  readonly from: number;
  readonly options: readonly Hint[];
}
type Hint = { readonly label: string; readonly detail: string; readonly insert: string };

/** What fits where somebody types, by the schema and by what is in the drawing. Null inside of comments and texts. */
export const yamlHints = (text: string, offset: number, topology: Topology): Hints | null =>
  hintsIn(text, offset, Topology, ({ path }) => ofDrawing(path, topology));

/** What a spec can point at. */
export interface SpecAround {
  readonly spec: Spec;
  readonly reference: Topology;
  /** The groups of the brief. */
  readonly groups: readonly { readonly id: string; readonly name: string }[];
  readonly tasks: readonly { readonly id: string }[];
}
/** What fits where somebody types a spec, by the kinds of requirements and by what is in the lab. */
export const specHints = (text: string, offset: number, around: SpecAround): Hints | null =>
  hintsIn(text, offset, Spec, (place) => ofSpec(place, around));

/** Where somebody types a value. */
interface TypedPlace {
  readonly path: readonly string[];
  /** The kind of the map in which it stands, where it says one. */
  readonly kind: string | undefined;
  /** The schemas that may hold there. */
  readonly schemas: readonly TSchema[];
}

/** @param known what is offered at a place before anything that its schema says; null where nothing more is known */
function hintsIn(
  text: string,
  offset: number,
  root: TSchema,
  known: (place: TypedPlace) => readonly Hint[] | null,
): Hints | null {
  const lines = text.slice(0, offset).split('\n');
  const line = lines.pop()!;
  if (/(^|\s)#/.test(line)) return null;
  const found = /^(\s*)((?:- +)*)(?:([A-Za-z0-9_.:-]+):\s+(\[(?:[^\]]*,)?\s*)?([^{[\],]*)|([A-Za-z0-9_.:@-]*))$/.exec(
    line,
  );
  if (!found) return null;
  const [, spaces, dashes, key, list, value, word = ''] = found as unknown as [
    string,
    string,
    string,
    string?,
    string?,
    string?,
    string?,
  ];
  const column = spaces.length + dashes.length;
  // What stands beside it in the same map begins no higher than the entry of a list that it begins.
  const beside = besides(dashes ? [] : lines, text.slice(offset).split('\n').slice(1), column);
  const kind = beside.get('kind');
  const way = pathTo(lines, dashes ? spaces.length + 1 : column);
  const shapes = shapesIn(root);
  const forms = shapes.at(way).filter((form) => isOfKind(form, kind));
  const from = offset - (value ?? word).length;
  const inside = key === undefined ? [] : forms.flatMap((form) => shapes.inside(form, key));
  const options =
    key !== undefined
      ? list === undefined
        ? valuesAt({ path: [...way, key], kind, schemas: inside }, known)
        : entriesIn(inside, { path: [...way, key], kind }, known)
      : [...keysIn(forms, beside), ...entriesIn(forms, { path: way, kind }, known)];
  return options.length ? { from, options } : null;
}

/** Of forms of several kinds, none but `kind` itself is typed before it says which. */
const isOfKind = (form: TSchema, kind: string | undefined): boolean =>
  kindOf(form) === undefined || kind === undefined || kindOf(form) === kind;

function keysIn(forms: readonly TSchema[], beside: ReadonlyMap<string, string>): Hint[] {
  const isOpen = forms.length > 1 && forms.every((form) => kindOf(form) !== undefined);
  const hints = new Map<string, Hint>();
  for (const form of forms)
    for (const hint of keysOf(form))
      if (!beside.has(hint.label) && (!isOpen || hint.label === 'kind') && !hints.has(hint.label))
        hints.set(hint.label, isOpen ? { ...hint, detail: 'which, needed' } : hint);
  return [...hints.values()];
}

/** What can be an entry of a list of plain values. */
const entriesIn = (
  forms: readonly TSchema[],
  place: Omit<TypedPlace, 'schemas'>,
  known: (place: TypedPlace) => readonly Hint[] | null,
): Hint[] =>
  forms.flatMap((form) => {
    const items = form[Kind] === 'Array' ? (form.items as TSchema) : undefined;
    return items && ['String', STRING_ENUM].includes(items[Kind])
      ? valuesAt({ ...place, schemas: [items] }, known)
      : [];
  });

interface Line {
  /** Where the line begins, and where its key does: after the dashes of a list. */
  readonly indent: number;
  readonly column: number;
  readonly key: string | null;
  readonly value: string;
}
const LINE = /^(\s*)((?:- +)*)(?:(?:"([^"]*)"|'([^']*)'|([^\s#"'{[][^:#]*?))\s*:(?:\s+(.*))?$)?/;
function lineOf(text: string): Line | null {
  const found = LINE.exec(text);
  if (!found || !text.trim() || text.trimStart().startsWith('#')) return null;
  const [, spaces, dashes, double, single, plain, value = ''] = found as unknown as (string | undefined)[];
  const isEntry = /^\s*-(\s|$)/.test(text);
  return {
    indent: spaces!.length,
    column: spaces!.length + (dashes!.length || (isEntry ? 2 : 0)),
    key: double ?? single ?? plain ?? null,
    value: value.replace(/\s#.*$/, '').trim(),
  };
}

/** The keys under which a line with so many spaces before it stands. */
function pathTo(lines: readonly string[], indent: number): string[] {
  const path: string[] = [];
  let within = indent;
  for (let at = lines.length - 1; at >= 0 && within > 0; at--) {
    const line = lineOf(lines[at]!);
    if (!line) continue;
    if (line.key !== null && line.column < within) {
      path.unshift(line.key);
      within = line.column;
    }
    // The list in which it is an entry may stand as far to the left as its dashes.
    if (line.column > line.indent && line.indent < within) within = Math.min(within, line.indent + 1);
  }
  return path;
}

/** The keys that stand beside a place already, with what stands behind them. */
function besides(before: readonly string[], after: readonly string[], column: number): Map<string, string> {
  const keys = new Map<string, string>();
  const add = ({ column: at, key, value }: Line): void => {
    if (at === column && key !== null) keys.set(key, value);
  };
  for (const text of [...before].reverse()) {
    const line = lineOf(text);
    if (!line) continue;
    if (line.column < column) break;
    add(line);
    if (line.indent < column) break;
  }
  for (const text of after) {
    const line = lineOf(text);
    if (!line) continue;
    if (line.indent < column) break;
    add(line);
  }
  return keys;
}

/** The shapes of things under a schema, where things of several forms have several. */
function shapesIn(root: TSchema) {
  const resolved = resolvedIn(root);
  const formsOf = (given: TSchema): TSchema[] => {
    const schema = resolved(given);
    return Array.isArray(schema.anyOf) ? (schema.anyOf as TSchema[]).flatMap(formsOf) : [schema];
  };
  const inside = (schema: TSchema, key: string): TSchema[] =>
    formsOf(schema).flatMap((form): TSchema[] => {
      if (form[Kind] === 'Object') {
        const property = entryOf(form.properties as Record<string, TSchema>, key);
        return property ? formsOf(property) : [];
      }
      if (form[Kind] === 'Record')
        return Object.values(form.patternProperties as Record<string, TSchema>).flatMap(formsOf);
      return form[Kind] === 'Array' ? inside(form.items as TSchema, key) : [];
    });
  /** The forms of what stands at a path; those of the entries where it is a list of maps. */
  const at = (path: readonly string[]): TSchema[] => {
    const found = path.reduce((schemas, key) => schemas.flatMap((schema) => inside(schema, key)), formsOf(root));
    return found.flatMap((form) => {
      const entries = form[Kind] === 'Array' ? formsOf(form.items as TSchema) : [];
      return entries.some((entry) => entry[Kind] === 'Object') ? entries : [form];
    });
  };
  return { at, inside };
}

const NESTED = new Set(['Object', 'Record', 'Array', 'Union', 'This']);
function keysOf(schema: TSchema): Hint[] {
  if (schema[Kind] !== 'Object') return [];
  const required = new Set((schema.required as string[] | undefined) ?? []);
  return Object.entries(schema.properties as Record<string, TSchema>).map(([key, property]) => ({
    label: key,
    detail: `${wordsOf(property)}${required.has(key) ? ', needed' : ''}`,
    insert: NESTED.has(property[Kind]) ? `${key}:` : `${key}: `,
  }));
}

function wordsOf(schema: TSchema): string {
  if (Array.isArray(schema.anyOf)) return 'one of several forms';
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

function valuesAt(place: TypedPlace, known: (place: TypedPlace) => readonly Hint[] | null): Hint[] {
  const offered = known(place);
  if (offered) return [...offered];
  return place.schemas.flatMap((schema) => {
    if (Array.isArray(schema.enum)) return (schema.enum as string[]).map((value) => hint(value));
    if (schema[Kind] === 'Boolean') return [hint('true'), hint('false')];
    return schema.const === undefined ? [] : [hint(String(schema.const as string | number))];
  });
}

const hint = (label: string, detail = ''): Hint => ({ label, detail, insert: label });

function ofDrawing(path: readonly string[], topology: Topology): Hint[] | null {
  const last = path.at(-1);
  if (path[0] === 'devices' && last === 'model')
    return Object.entries({ ...KIT, ...topology.models }).map(([id, model]) => hint(id, model.name));
  if (last === 'site' || (path[0] === 'sites' && last === 'parent'))
    return entriesById(topology.sites).map(([id, site]) => hint(id, site.name));
  if (last === 'device') return entriesById(topology.devices).map(([id, device]) => hint(id, device.name));
  return null;
}

function ofSpec({ path, kind, schemas }: TypedPlace, around: SpecAround): readonly Hint[] | null {
  const [last, before] = [path.at(-1)!, path.at(-2)];
  const { spec, reference } = around;
  const refs = (): Hint[] => refsOf(spec, reference).map(({ ref, text }) => said(ref, text));
  if (last === 'kind')
    return schemas.map((schema) => {
      const name = String(schema.const);
      return hint(name, ruleKind(name)?.title ?? 'of others');
    });
  if (last === 'roles') return refs().filter(({ label }) => Object.hasOwn(reference.devices, label));
  if (last === 'behind') return refs();
  if (last === 'group' && before === 'select') return around.groups.map(({ id, name }) => hint(id, name));
  if (last === 'standsOn')
    return spec.sections.flatMap(({ requirements }) => requirements.map(({ id }) => said(id, 'a requirement')));
  if (last === 'who' && kind === 'forEach') return refs();
  if (last === 'task') return tasks(around);
  const slot = kind === undefined ? undefined : entryOf(ruleKind(kind)?.slots ?? {}, last);
  return slot ? ofSlot(slot, around, refs) : null;
}

const tasks = ({ tasks }: SpecAround): Hint[] => tasks.map(({ id }, at) => said(id, `task ${at + 1}`));

function ofSlot(slot: Slot, around: SpecAround, refs: () => Hint[]): Hint[] | null {
  switch (slot.type) {
    case 'ref':
    case 'refs':
      return refs();
    case 'site':
      return [
        hint(ANY_SITE, 'wherever it is'),
        ...entriesById(around.reference.sites).map(([id, { name }]) => said(id, name)),
      ];
    case 'group':
      return [hint(ALL_GROUPS, 'every group'), ...around.groups.map(({ id, name }) => said(id, name))];
    case 'task':
      return tasks(around);
    case 'choice':
    case 'choices':
      return slot.options.filter(({ value }) => value).map(({ value, text }) => said(value, text));
    default:
      return null;
  }
}

/** An id as it is typed: in quotes where YAML would take it for something else (yaml.org/spec/1.2.2, 7.3.3 and 10.3.2). */
const said = (id: string, detail: string): Hint => ({
  label: id,
  detail,
  insert: /^[A-Za-z_][A-Za-z0-9_.:/-]*$/.test(id) && !RESERVED.has(id.toLowerCase()) ? id : JSON.stringify(id),
});
const RESERVED = new Set(['true', 'false', 'null', 'yes', 'no', 'on', 'off']);

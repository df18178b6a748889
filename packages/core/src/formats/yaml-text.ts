import { Kind, type TSchema } from '@sinclair/typebox';
import { Value } from '@sinclair/typebox/value';
import {
  type Document,
  type Node,
  type Pair,
  LineCounter,
  type YAMLMap,
  type YAMLSeq,
  isMap,
  isPair,
  isScalar,
  isSeq,
  parseDocument,
  Document as YamlDocument,
  visit,
} from 'yaml';
import { type Edit, editsBetween, isEntries, sameValue } from '../changes';
import { fail, ok, type Result } from '../result';
import { type Problem, entriesById } from '../topology';

/** Something wrong in a text: from which to which character, on which line (the first is 1), and why. */
export interface TextProblem {
  readonly from: number;
  readonly to: number;
  readonly line: number;
  readonly text: string;
}

/** Lines are never folded: a line of the text is a line of its meaning. */
const WRITING = { lineWidth: 0, flowCollectionPadding: true } as const;
/** Nothing that is written here is nested nearly so deep. */
const MAX_DEPTH = 64;
/** The reader's time grows with the square of quotes that are no texts. */
const MOST_QUOTES = 400_000;
/** Nobody reads more problems of one text. */
const MOST_TOLD = 100;

/** A value as YAML 1.2 (yaml.org/spec/1.2.2), keys in the order of its schema. */
export function written(value: object, schema: TSchema): string {
  const document = new YamlDocument(inOrder(value, schema));
  setFlow(document);
  return document.toString(WRITING);
}

/** Small maps of plain values, as places and ends of links are, and short lists of names stand on one line. */
function setFlow(document: Document): void {
  visit(document, {
    Map: (_key, node) => {
      const isSmall =
        node.items.length > 0 && node.items.length <= 3 && node.items.every((item) => isScalar(item.value));
      if (isSmall && node.items.every((item) => ON_ONE_LINE.has(keyOf(item)))) node.flow = true;
    },
    Seq: (_key, node) => {
      const letters = node.items.reduce<number>(
        (sum, item) => sum + (isScalar(item) ? String(item.value).length + 2 : Infinity),
        0,
      );
      if (node.items.length > 0 && letters <= MOST_ON_ONE_LINE) node.flow = true;
    },
  });
}
const MOST_ON_ONE_LINE = 48;
const ON_ONE_LINE = new Set(['x', 'y', 'device', 'member', 'port', 'kind', 'id']);
const keyOf = (pair: Pair): string => (isScalar(pair.key) ? String(pair.key.value) : String(pair.key));

/** A text as it is, and where in it things stand. */
export interface ReadText {
  readonly value: unknown;
  readonly placed: (problems: readonly Problem[]) => TextProblem[];
}

/** Reads a YAML text of at most so many bytes. Problems come with their places in the text. */
export function readText(text: string, maxBytes: number): Result<ReadText, TextProblem[]> {
  const parsed = parse(text, maxBytes);
  if (!parsed.ok) return parsed;
  const { document, lines } = parsed.value;
  return ok({
    value: document.toJS() as unknown,
    placed: (problems) => problems.map((problem) => located(problem, document, lines)),
  });
}

/**
 * The same text with what it says changed: comments, order and blank lines stay, with entries of lists that are moved as
 * well. Null where the text cannot be read.
 */
export function updateYaml(text: string, after: object): string | null {
  const parsed = parse(text, Infinity);
  if (!parsed.ok) return null;
  const { document } = parsed.value;
  const before = document.toJS() as unknown;
  if (before === null || typeof before !== 'object') return null;
  const edits = editsBetween(before, after);
  if (!edits.length) return text;
  const taken: Node[] = [];
  for (const edit of edits) apply(document, edit, taken);
  return document.toString(WRITING);
}

/** The same value with keys in the order of the schema, and entries of maps by their ids: databases keep neither. */
function inOrder(value: unknown, root: TSchema): unknown {
  const resolved = resolvedIn(root);
  const ordered = (value: unknown, given: TSchema): unknown => {
    const schema = resolved(given);
    if (Array.isArray(value)) {
      const items = schema.items as TSchema | undefined;
      return items ? value.map((item) => ordered(item, items)) : (value as unknown);
    }
    if (value === null || typeof value !== 'object') return value;
    const tree = value as Record<string, unknown>;
    if (schema[Kind] === 'Record') {
      const [inner] = Object.values(schema.patternProperties as Record<string, TSchema>);
      return Object.fromEntries(entriesById(tree).map(([key, item]) => [key, ordered(item, inner!)]));
    }
    const form = Array.isArray(schema.anyOf) ? formOf(schema.anyOf as TSchema[], tree) : schema;
    const properties = (form?.properties ?? {}) as Record<string, TSchema>;
    return Object.fromEntries(
      Object.keys(properties).flatMap((key) =>
        Object.hasOwn(tree, key) ? [[key, ordered(tree[key], properties[key]!)]] : [],
      ),
    );
  };
  return ordered(value, root);
}

/** What a schema stands for: itself, or one with a name under the root in which it is. */
export function resolvedIn(root: TSchema): (schema: TSchema) => TSchema {
  const named = new Map<string, TSchema>();
  const look = (schema: TSchema): void => {
    if (schema.$id !== undefined) named.set(schema.$id, schema);
    const inside = [
      ...Object.values((schema.properties ?? {}) as Record<string, TSchema>),
      ...Object.values((schema.patternProperties ?? {}) as Record<string, TSchema>),
      ...((schema.anyOf as TSchema[] | undefined) ?? []),
      ...(schema.items ? [schema.items as TSchema] : []),
    ];
    for (const each of inside) look(each);
  };
  look(root);
  return (schema) => (schema[Kind] === 'This' ? named.get(schema.$ref as string)! : schema);
}

/** Of several forms, that of a value: the one of its kind, where they have kinds. */
const formOf = (forms: readonly TSchema[], value: Record<string, unknown>): TSchema | undefined =>
  forms.find((form) => kindOf(form) !== undefined && kindOf(form) === value.kind) ??
  forms.find((form) => kindOf(form) === undefined && Value.Check(form, value));
/** The kind of which all values of a form are. */
export const kindOf = (form: TSchema): unknown =>
  (form.properties as Record<string, TSchema> | undefined)?.kind?.const as unknown;

/** Makes one change. `taken` holds what was taken out before, with its comments, for where it is put in again. */
function apply(document: Document, { path, value, at }: Edit, taken: Node[]): void {
  const made = (value: unknown): Node => {
    const known = taken.find((node) => sameValue(node.toJS(document), value));
    if (known) return known;
    const other = new YamlDocument(value);
    setFlow(other);
    return other.contents!;
  };
  let node: unknown = document.contents;
  for (const key of path.slice(0, -1)) {
    const next = childOf(node, isSeq(node) ? String(placeOf(node, key)) : key)?.value;
    // A map that is not there yet, on the way to what is put into it.
    if (next === undefined || (next === null && value !== undefined)) return document.setIn(path, made(value));
    node = next;
  }
  const key = path.at(-1)!;
  if (isSeq(node)) {
    const place = placeOf(node, key);
    if (place >= 0) taken.push(node.items[place] as Node);
    const put = value === undefined ? [] : [made(value)];
    node.items.splice(place < 0 ? (at ?? node.items.length) : place, place < 0 ? 0 : 1, ...put);
    // On one line, as an empty list is written, entries have no room.
    if (put.length) node.flow = false;
    return;
  }
  if (!isMap(node)) return;
  const old = node.get(key, true) as unknown;
  if (value === undefined) return void node.delete(key);
  // A value that only changes keeps its node, and with it the comment on its line.
  if (isScalar(old) && (value === null || typeof value !== 'object')) {
    old.value = value;
    return;
  }
  if (isSeq(old) && isEntries(value)) {
    taken.push(...(old.items as Node[]));
    old.items = value.map(made);
    old.flow = false;
    return;
  }
  node.set(key, made(value));
}

/** Where in a list the entry of an id stands; -1 where it does not. */
const placeOf = (list: YAMLSeq, id: string): number =>
  list.items.findIndex((item) => isMap(item) && String(item.get('id')) === id);

interface Parsed {
  document: Document;
  lines: LineCounter;
}

function parse(text: string, maxBytes: number): Result<Parsed, TextProblem[]> {
  const refuse = (why: string, from = 0, line = 1): Result<Parsed, TextProblem[]> =>
    fail([{ from, to: Math.min(text.length, from + 1), line, text: why }]);
  if (new TextEncoder().encode(text).length > maxBytes)
    return refuse(`The text is larger than ${maxBytes / 1e6} MB: so much is not taken.`);
  if (!text.trim()) return refuse('The text is empty.');
  if ((text.match(/["']/g)?.length ?? 0) > MOST_QUOTES)
    return refuse('The text holds more quotes than anything that is written here.');
  const lines = new LineCounter();
  const deep = tooDeepAt(text);
  if (deep !== null)
    return refuse(`The text is nested deeper than ${MAX_DEPTH} levels.`, deep, text.slice(0, deep).split('\n').length);
  const document = parseDocument(text, {
    lineCounter: lines,
    prettyErrors: false,
    strict: true,
    // The library compares each key with each; here each is looked up.
    uniqueKeys: false,
  });
  const problems = document.errors.slice(0, MOST_TOLD).map((error): TextProblem => {
    const [from, to] = error.pos;
    return {
      from,
      to: Math.max(to, from + 1),
      line: lines.linePos(from).line,
      text: sentenceOf(error.code, error.message),
    };
  });
  const told = (range: readonly number[], why: string): void => {
    const [from, to] = range as [number, number];
    if (problems.length < MOST_TOLD) problems.push({ from, to, line: lines.linePos(from).line, text: why });
  };
  visit(document, {
    Map: (_key, { items }) => {
      const seen = new Set<string>();
      for (const item of items) {
        const key = keyOf(item);
        if (seen.has(key)) told((item.key as Node).range!, SENTENCES.DUPLICATE_KEY!);
        seen.add(key);
      }
    },
  });
  // What one part of the text borrows from another could not be changed without changing the other.
  visit(document, {
    Scalar: (key, node, way) => {
      // Ids are texts, also those that look like numbers.
      if (typeof node.value === 'number' && node.source !== undefined && isId(key, way)) node.value = node.source;
    },
    Alias: (_key, node) => {
      told(node.range!, 'Aliases (*name) are not taken here: write it out.');
    },
  });
  return problems.length ? fail(problems) : ok({ document, lines });
}

/** Whether what stands at a place is an id, or one of a list of them. */
function isId(key: unknown, way: readonly unknown[]): boolean {
  const pair = key === 'value' ? way.at(-1) : isSeq(way.at(-1)) ? way.at(-2) : undefined;
  return isPair(pair) && isScalar(pair.key) && IDS.has(String(pair.key.value));
}
const IDS = new Set(['id', 'standsOn', 'task']);

/** Where brackets or indentation nest too deep, before a recursive reader sees the text; null where they do not. */
function tooDeepAt(text: string): number | null {
  let at = 0;
  let depth = 0;
  for (const line of text.split('\n')) {
    const indent = /^[ ?:-]*/.exec(line)![0].length;
    if (indent > MAX_DEPTH * 4) return at;
    for (let column = indent; column < line.length; column++) {
      const char = line[column];
      if (char === '#' && /\s/.test(line[column - 1] ?? ' ')) break;
      if ((char === '{' || char === '[') && ++depth > MAX_DEPTH) return at + column;
      if (char === '}' || char === ']') depth = Math.max(0, depth - 1);
    }
    at += line.length + 1;
  }
  return null;
}

const SENTENCES: Readonly<Record<string, string>> = {
  DUPLICATE_KEY: 'This key is there twice: give one of the two another name.',
  TAB_AS_INDENT: 'YAML is indented with spaces: this is a tab.',
  BAD_INDENT: 'This line is not indented like those around it.',
  MISSING_CHAR: 'A sign is missing here, such as a colon, a quote or a bracket.',
  BLOCK_AS_IMPLICIT_KEY: 'Here is a key where a value should be: is the line above indented right?',
  MULTILINE_IMPLICIT_KEY: 'A key stands on one line, with a colon after it.',
  UNEXPECTED_TOKEN: 'This does not belong here.',
  MULTIPLE_DOCS: 'The text holds more than one document: one is taken.',
};
const sentenceOf = (code: string, message: string): string => SENTENCES[code] ?? `${message.split('\n')[0]}.`;

/** The place of a problem in the text: the key and plain value it speaks of, else the nearest thing around it. */
function located({ place, text }: Problem, document: Document, lines: LineCounter): TextProblem {
  const path = place ? place.split(' › ') : [];
  let node: unknown = document.contents;
  let range: readonly number[] = [0, 1];
  for (const key of path) {
    const next = childOf(node, key);
    if (!next) break;
    const [first, last] = [
      next.key?.range ?? next.value?.range,
      isScalar(next.value) ? next.value.range : next.key?.range,
    ];
    range = [first?.[0] ?? range[0]!, last?.[1] ?? range[1]!];
    node = next.value;
  }
  const [from, to] = [range[0]!, Math.max(range[1]!, range[0]! + 1)];
  return { from, to, line: lines.linePos(from).line, text };
}

function childOf(node: unknown, key: string): { key?: Node; value: Node | null } | null {
  if (isMap(node)) {
    const pair = (node as YAMLMap<Node, Node | null>).items.find((item) => keyOf(item) === key);
    return pair ? { key: pair.key, value: pair.value } : null;
  }
  if (isSeq(node)) {
    const value = node.items[Number(key)] as Node | undefined;
    return value ? { value } : null;
  }
  return null;
}

import { Kind, type TSchema } from '@sinclair/typebox';
import { Value } from '@sinclair/typebox/value';
import {
  type Document,
  type Node,
  type Pair,
  LineCounter,
  type YAMLMap,
  isMap,
  isScalar,
  isSeq,
  parseDocument,
  Document as YamlDocument,
  visit,
} from 'yaml';
import { type Edit, editsBetween } from '../changes';
import { fail, ok, type Result } from '../result';
import { type Problem, type Topology, Topology as TopologySchema, entriesById, readTopology } from '../topology';
import { completed } from './completing';
import { MAX_TOPOLOGY_BYTES } from './document';

/** Something wrong in a text: from which to which character, on which line (the first is 1), and why. */
export interface TextProblem {
  readonly from: number;
  readonly to: number;
  readonly line: number;
  readonly text: string;
}

/** Lines are never folded: a line of the text is a line of its meaning. */
const WRITING = { lineWidth: 0, flowCollectionPadding: true } as const;
/** No drawing is nested nearly so deep. */
const MAX_DEPTH = 64;
/** The reader's time grows with the square of quotes that are no texts. */
const MOST_QUOTES = 400_000;
/** Nobody reads more problems of one text. */
const MOST_TOLD = 100;

/** A drawing as YAML 1.2 (yaml.org/spec/1.2.2), places and ends of links on one line each. */
export function writeYaml(topology: Topology): string {
  const document = new YamlDocument(inOrder(topology, TopologySchema));
  setFlow(document);
  return document.toString(WRITING);
}

/** Small maps of plain values, as places and ends of links are, stand on one line. */
function setFlow(document: Document): void {
  visit(document, {
    Map: (_key, node) => {
      const isSmall =
        node.items.length > 0 && node.items.length <= 3 && node.items.every((item) => isScalar(item.value));
      if (isSmall && node.items.every((item) => ON_ONE_LINE.has(keyOf(item)))) node.flow = true;
    },
  });
}
const ON_ONE_LINE = new Set(['x', 'y', 'device', 'member', 'port', 'kind', 'id']);
const keyOf = (pair: Pair): string => (isScalar(pair.key) ? String(pair.key.value) : String(pair.key));

/** A drawing as a text had it, and what the text left out and was filled in, with its places. */
export interface YamlDrawing {
  readonly topology: Topology;
  readonly told: TextProblem[];
}

/** Reads a drawing from YAML text. Problems, and what was filled in, come with their places in the text. */
export function readYaml(text: string): Result<YamlDrawing, TextProblem[]> {
  const parsed = parse(text);
  if (!parsed.ok) return parsed;
  const { document, lines } = parsed.value;
  const { value, told } = completed(document.toJS() as unknown);
  const read = readTopology(value);
  const placed = (problems: readonly Problem[]): TextProblem[] =>
    problems.map((problem) => located(problem, document, lines));
  return read.ok ? ok({ topology: read.value, told: placed(told) }) : fail(placed(read.error));
}

/** The same text with the drawing changed: comments, order and blank lines stay. Null where the text cannot be read. */
export function updateYaml(text: string, after: Topology): string | null {
  const parsed = parse(text);
  if (!parsed.ok) return null;
  const { document } = parsed.value;
  const before = document.toJS() as unknown;
  if (before === null || typeof before !== 'object') return null;
  const edits = editsBetween(before, after);
  if (!edits.length) return text;
  for (const { path, value } of edits) apply(document, path, value);
  return document.toString(WRITING);
}

/** The same value with keys in the order of the schema, and entries of maps by their ids: databases keep neither. */
function inOrder(value: unknown, schema: TSchema): unknown {
  if (Array.isArray(value)) {
    const items = schema.items as TSchema | undefined;
    return items ? value.map((item) => inOrder(item, items)) : (value as unknown);
  }
  if (value === null || typeof value !== 'object') return value;
  const tree = value as Record<string, unknown>;
  if (schema[Kind] === 'Record') {
    const [inner] = Object.values(schema.patternProperties as Record<string, TSchema>);
    return Object.fromEntries(entriesById(tree).map(([key, item]) => [key, inOrder(item, inner!)]));
  }
  const form = Array.isArray(schema.anyOf)
    ? (schema.anyOf as TSchema[]).find((schema) => Value.Check(schema, value))
    : schema;
  const properties = (form?.properties ?? {}) as Record<string, TSchema>;
  return Object.fromEntries(
    Object.keys(properties).flatMap((key) =>
      Object.hasOwn(tree, key) ? [[key, inOrder(tree[key], properties[key]!)]] : [],
    ),
  );
}

function apply(document: Document, path: Edit['path'], value: unknown): void {
  if (value === undefined) return void document.deleteIn(path);
  const old = document.getIn(path, true) as Node | undefined;
  // A value that only changes keeps its node, and with it the comment on its line.
  if (isScalar(old) && (value === null || typeof value !== 'object')) {
    old.value = value;
    return;
  }
  const made = new YamlDocument(value);
  setFlow(made);
  document.setIn(path, made.contents);
}

interface Parsed {
  document: Document;
  lines: LineCounter;
}

function parse(text: string): Result<Parsed, TextProblem[]> {
  const refuse = (why: string, from = 0, line = 1): Result<Parsed, TextProblem[]> =>
    fail([{ from, to: Math.min(text.length, from + 1), line, text: why }]);
  if (new TextEncoder().encode(text).length > MAX_TOPOLOGY_BYTES)
    return refuse(`The text is larger than ${MAX_TOPOLOGY_BYTES / 1e6} MB: so much is not taken.`);
  if (!text.trim()) return refuse('The text is empty.');
  if ((text.match(/["']/g)?.length ?? 0) > MOST_QUOTES)
    return refuse('The text holds more quotes than any drawing has.');
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
    Alias: (_key, node) => {
      told(node.range!, 'Aliases (*name) are not taken here: write it out.');
    },
  });
  return problems.length ? fail(problems) : ok({ document, lines });
}

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
  MULTIPLE_DOCS: 'The text holds more than one document: one drawing is taken.',
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

import { Kind, type TSchema, TypeRegistry } from '@sinclair/typebox';
import { Value, type ValueError, ValueErrorType } from '@sinclair/typebox/value';
import { nearestWords } from '../nearest';
import { STRING_ENUM } from './schema-parts';

TypeRegistry.Set<{ enum: string[] }>(STRING_ENUM, (schema, value) => schema.enum.includes(value as string));

/** Something wrong in a document. `place` says where, as a path of keys; `text` is a sentence for a person. */
export interface Problem {
  place: string;
  text: string;
}

/** More problems than this are not listed: who has so many wants to know the first ones. */
const MAX_PROBLEMS = 20;

/** What is wrong with the shape of a value, in sentences; an empty list where nothing is. */
export function shapeProblems(schema: TSchema, value: unknown): Problem[] {
  if (Value.Check(schema, value)) return [];
  const problems = new Map<string, Problem>();
  for (const error of Value.Errors(schema, value)) {
    const problem = sentenceOf(error);
    if (!problems.has(problem.place)) problems.set(problem.place, problem);
    if (problems.size >= MAX_PROBLEMS) break;
  }
  return [...problems.values()];
}

const placeOf = (path: string): string =>
  path
    .split('/')
    .slice(1)
    .map((part) => part.replaceAll('~1', '/').replaceAll('~0', '~'))
    .join(' › ');

/** A value as it can stand in a sentence: short, on one line. */
export function quoted(value: unknown): string {
  const text = JSON.stringify(value) ?? 'nothing';
  return text.length > 60 ? `${text.slice(0, 57)}…` : text;
}

function sentenceOf(error: ValueError): Problem {
  const schema = error.schema as TSchema & Record<string, unknown>;
  const place = placeOf(error.path);
  const key = place.split(' › ').at(-1) ?? '';
  const found = quoted(error.value);
  switch (error.type) {
    case ValueErrorType.ObjectRequiredProperty:
      return { place, text: `"${key}" is missing.` };
    case ValueErrorType.ObjectAdditionalProperties:
      return schema.patternProperties
        ? { place, text: `"${key}" has a form that ids do not have: give it another.` }
        : { place, text: `"${key}" is not known here: remove it, or check its spelling.` };
    case ValueErrorType.Union:
      return (
        unionSentence(error) ??
        noSuchKind(place, error) ?? { place, text: `${found} does not fit here: ${wanted(schema)}.` }
      );
    case ValueErrorType.StringMaxLength:
      return {
        place,
        text: `The text has ${String(error.value).length} characters: at most ${String(schema.maxLength)} are taken.`,
      };
    case ValueErrorType.StringPattern:
      return { place, text: `${found} has a form that is not taken here (wanted: ${String(schema.pattern)}).` };
    case ValueErrorType.ArrayMaxItems:
      return {
        place,
        text: `The list has ${(error.value as unknown[]).length} entries: at most ${String(schema.maxItems)} are taken.`,
      };
    case ValueErrorType.Literal:
      if (key === 'version')
        return {
          place,
          text: `Version ${found} is not one this Sobrin can read: it reads version ${String(schema.const)}.`,
        };
      if (key === 'format') return { place, text: `The format is ${found}: wanted is "${String(schema.const)}".` };
      return { place, text: `${found} does not fit here: ${wanted(schema)}.` };
    default:
      return { place, text: `${found} does not fit here: ${wanted(schema)}.` };
  }
}

/** Of several allowed forms, the one the value was meant to be: that whose `kind` agrees, else the nearest. */
function unionSentence(error: ValueError): Problem | null {
  if (error.value === null || typeof error.value !== 'object') return null;
  let best: ValueError[] | null = null;
  for (const variant of error.errors) {
    const errors = [...variant];
    if (errors.some((deeper) => deeper.path === `${error.path}/kind`)) continue;
    if (!best || errors.length < best.length) best = errors;
  }
  return best?.[0] ? sentenceOf(best[0]) : null;
}

/** Of a value that is of none of so many kinds that nobody wants to read them all: which it may have meant. */
function noSuchKind(place: string, { schema, value }: ValueError): Problem | null {
  const kinds = kindsOf(schema);
  if (kinds.length <= MOST_KINDS || value === null || typeof value !== 'object') return null;
  const { kind } = value as { kind?: unknown };
  const text = typeof kind === 'string' ? kind.toLowerCase() : '';
  const near = text
    ? new Set([...kinds.filter((each) => each.toLowerCase().startsWith(text)), ...nearestWords(text, kinds)])
    : [];
  const meant = [...near].slice(0, 3).join(' or ');
  return {
    place: place ? `${place} › kind` : 'kind',
    text:
      kind === undefined
        ? '"kind" is missing.'
        : `${quoted(kind)} is no kind that is known here${meant ? `: is ${meant} meant?` : ': remove it, or check its spelling.'}`,
  };
}
const MOST_KINDS = 12;

/** The kinds of which the forms of a value are; none where one of them has no kind. */
function kindsOf(schema: TSchema): string[] {
  const forms = (schema.anyOf ?? []) as { properties?: { kind?: { const?: string } } }[];
  const kinds = forms.flatMap((form) => form.properties?.kind?.const ?? []);
  return kinds.length === forms.length ? kinds : [];
}

function wanted(schema: TSchema & Record<string, unknown>): string {
  if (Array.isArray(schema.enum)) return `wanted is one of ${schema.enum.join(', ')}`;
  if (schema.const !== undefined) return `wanted is ${quoted(schema.const)}`;
  if (Array.isArray(schema.anyOf)) {
    const kinds = kindsOf(schema);
    if (kinds.length) return `wanted is an object whose "kind" is one of ${kinds.join(', ')}`;
    return (schema.anyOf as (TSchema & Record<string, unknown>)[]).map(wanted).join(', or ');
  }
  const span =
    schema.minimum !== undefined || schema.maximum !== undefined
      ? ` from ${String(schema.minimum)} to ${String(schema.maximum)}`
      : '';
  switch (schema[Kind]) {
    case 'Integer':
      return `wanted is a whole number${span}`;
    case 'Number':
      return `wanted is a number${span}`;
    case 'Boolean':
      return 'wanted is true or false';
    case 'Array':
      return 'wanted is a list';
    case 'Object':
    case 'Record':
      return 'wanted is an object';
    default:
      return 'wanted is a text';
  }
}

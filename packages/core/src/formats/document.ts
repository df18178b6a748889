import { type ParseError, type JSONPath, parse, printParseErrorCode, visit } from 'jsonc-parser';
import { fail, ok, type Result } from '../result';
import {
  type LabFile,
  LabFile as LabSchema,
  type SubmissionFile,
  SUBMISSION_VERSION,
  SubmissionFile as SubmissionSchema,
  specProblems,
} from '../spec';
import { type Plan, PlanFile, briefProblems, readPlan } from '../plan';
import { type Problem, type Topology, readTopology, shapeProblems } from '../topology';
import { type Excess, type JsonBounds, excessOf } from './json-bounds';
import { migrateLab, migratePlanFile, migrateSubmission } from './migrate';

/** Bounds of what is read, in bytes: a drawing alone, and a file that holds one with other things. */
export const MAX_TOPOLOGY_BYTES = 2_000_000;
/** Bytes of a file that is read; larger ones are refused before they are parsed. */
export const MAX_FILE_BYTES = 10_000_000;
/** No document of ours is nested nearly so deep, or holds so much; hostile ones do. */
export const FILE_BOUNDS: JsonBounds = { depth: 64, values: 1_000_000 };

type Read<T> = Result<T, Problem[]>;
const no = (text: string, place = ''): Read<never> => fail([{ place, text }]);

/** Reads JSON text: broken syntax is told with line and column, and so is a key that stands twice in one object. */
export function parseJson(text: string, maxBytes: number): Read<unknown> {
  const bytes = new TextEncoder().encode(text).length;
  if (bytes > maxBytes) return no(`The file has ${megabytes(bytes)}: at most ${megabytes(maxBytes)} are taken.`);
  if (!text.trim()) return no('The file is empty.');
  const excess = excessOf(text, FILE_BOUNDS);
  if (excess) return no(excessWords(text, excess));
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    return no(whyNoJson(text));
  }
  const twice = duplicateKeys(text);
  return twice.length ? fail(twice) : ok(value);
}

function excessWords(text: string, { of, offset }: Excess): string {
  if (of === 'depth')
    return `Line ${lineAt(text, offset)}: the file is nested deeper than ${FILE_BOUNDS.depth} levels.`;
  if (of === 'values')
    return `The file holds more than ${FILE_BOUNDS.values.toLocaleString('en')} values: no file of Sobrin does.`;
  return `Line ${lineAt(text, offset)}, column ${columnAt(text, offset)}: a character stands here that cannot be stored (NUL, or half of a character). Take it out.`;
}

/**
 * Where a text stops being JSON. The lenient reader only tells that: what it reads takes "__proto__" for more than a
 * key.
 */
function whyNoJson(text: string): string {
  const errors: ParseError[] = [];
  parse(text, errors, { disallowComments: true, allowTrailingComma: false });
  const first = errors[0];
  if (!first) return 'This is no JSON.';
  return `This is no JSON: line ${lineAt(text, first.offset)}, column ${columnAt(text, first.offset)}: ${jsonErrorText(printParseErrorCode(first.error))}.`;
}

const megabytes = (bytes: number): string => `${(bytes / 1_000_000).toFixed(1)} MB`;
const lineAt = (text: string, offset: number): number => text.slice(0, offset).split('\n').length;
const columnAt = (text: string, offset: number): number => offset - text.lastIndexOf('\n', offset - 1);
const jsonErrorText = (code: string): string => code.replace(/([a-z])([A-Z])/g, '$1 $2').toLowerCase();

/** Nobody reads more of the same. */
const MOST_TOLD = 100;

/** JSON readers silently keep the last of two equal keys; here that would lose a device. */
function duplicateKeys(text: string): Problem[] {
  const problems: Problem[] = [];
  const open: Set<string>[] = [];
  visit(text, {
    onObjectBegin: () => {
      open.push(new Set());
    },
    onObjectEnd: () => {
      open.pop();
    },
    onObjectProperty: (property, _offset, _length, line, _character, pathSupplier) => {
      const keys = open.at(-1)!;
      if (keys.has(property) && problems.length < MOST_TOLD) {
        const path: JSONPath = pathSupplier();
        problems.push({
          place: [...path, property].join(' › '),
          text: `Line ${line + 1}: "${property}" is there twice: give one of the two another id.`,
        });
      }
      keys.add(property);
    },
  });
  return problems;
}

/** Reads the text of a topology file. */
export function readTopologyText(text: string): Read<Topology> {
  const json = parseJson(text, MAX_TOPOLOGY_BYTES);
  return json.ok ? readTopology(json.value) : json;
}

const formatOf = (value: unknown): unknown =>
  value !== null && typeof value === 'object' ? (value as Record<string, unknown>).format : undefined;
const inPlace = (place: string, problems: readonly Problem[]): Problem[] =>
  problems.map((problem) => ({ place: problem.place ? `${place} › ${problem.place}` : place, text: problem.text }));

/** Reads a lab: shape, then the drawings in it, then what the spec points at. */
export function readLab(value: unknown): Read<LabFile> {
  const current = migrateLab(value);
  if (!current.ok) return fail([current.error]);
  const shape = shapeProblems(LabSchema, current.value);
  if (shape.length) return fail(shape);
  const lab = current.value as LabFile;
  const problems = [lab.reference, lab.starter].flatMap((topology, at) => {
    if (!topology) return [];
    const read = readTopology(topology);
    return read.ok ? [] : inPlace(at === 0 ? 'reference' : 'starter', read.error);
  });
  const plan = readPlan(lab.plan);
  if (!plan.ok) problems.push(...inPlace('plan', plan.error));
  problems.push(...inPlace('brief', briefProblems(lab.brief)), ...doubledFiles(lab));
  if (problems.length) return fail(problems);
  const inSpec = specProblems(lab);
  return inSpec.length ? fail(inPlace('spec', inSpec)) : ok(lab);
}

/** Files of a lab are known by their ids. */
const doubledFiles = ({ files = [] }: LabFile): Problem[] =>
  files.flatMap(({ id }, at) =>
    files.findIndex((file) => file.id === id) < at
      ? [{ place: `files › ${at} › id`, text: `The id "${id}" is there twice.` }]
      : [],
  );

/** Reads a lab file of any version. Errors tell the line and column of broken JSON, or the place in the document. */
export function readLabText(text: string): Read<LabFile> {
  const json = parseJson(text, MAX_FILE_BYTES);
  return json.ok ? readLab(json.value) : json;
}

/** What a student hands in: a drawing, a plan, or both. */
export type HandedIn = SubmissionFile & ({ topology: Topology } | { plan: Plan });

/** Reads what a student hands in: a submission file, or a drawing alone. */
export function readSubmissionText(text: string): Read<HandedIn> {
  const json = parseJson(text, MAX_FILE_BYTES);
  if (!json.ok) return json;
  if (formatOf(json.value) === 'sobrin-topology') {
    const read = text.length > MAX_TOPOLOGY_BYTES ? readTopologyText(text) : readTopology(json.value);
    return read.ok ? ok({ format: 'sobrin-submission', version: SUBMISSION_VERSION, topology: read.value }) : read;
  }
  if (formatOf(json.value) !== 'sobrin-submission')
    return no(
      `The format is ${JSON.stringify(formatOf(json.value)) ?? 'missing'}: wanted is "sobrin-submission" or "sobrin-topology".`,
      'format',
    );
  const current = migrateSubmission(json.value);
  if (!current.ok) return fail([current.error]);
  const shape = shapeProblems(SubmissionSchema, current.value);
  if (shape.length) return fail(shape);
  const submission = current.value as SubmissionFile;
  const { topology, plan } = submission;
  if (!topology && !plan) return no('The submission holds neither a drawing nor a plan.', 'topology');
  const drawing = topology && readTopology(topology);
  if (drawing && !drawing.ok) return fail(inPlace('topology', drawing.error));
  const planned = plan && readPlan(plan);
  if (planned && !planned.ok) return fail(inPlace('plan', planned.error));
  return ok({ ...submission, ...(drawing && { topology: drawing.value }) } as HandedIn);
}

/** Reads a plan file, or the plan of a submission file. */
export function readPlanText(text: string): Read<Plan> {
  const json = parseJson(text, MAX_FILE_BYTES);
  if (!json.ok) return json;
  if (formatOf(json.value) === 'sobrin-submission') {
    const read = readSubmissionText(text);
    if (!read.ok) return read;
    return read.value.plan ? ok(read.value.plan) : no('The submission holds no plan.', 'plan');
  }
  if (formatOf(json.value) !== 'sobrin-plan')
    return no(`The format is ${JSON.stringify(formatOf(json.value)) ?? 'missing'}: wanted is "sobrin-plan".`, 'format');
  const current = migratePlanFile(json.value);
  if (!current.ok) return fail([current.error]);
  const shape = shapeProblems(PlanFile, current.value);
  if (shape.length) return fail(shape);
  const read = readPlan((current.value as PlanFile).plan);
  return read.ok ? read : fail(inPlace('plan', read.error));
}

import { type Result, fail, ok } from '../result';
import { MAX_PART_BYTES, Spec, readPart } from '../spec';
import { type Problem } from '../topology';
import { type TextProblem, readText, written } from './yaml-text';

/** A spec as YAML. */
export const writeSpecYaml = (spec: Spec): string => written(spec, Spec);

/** A spec as a text had it, and the places in the text of what is wrong in it otherwise than in its shape. */
export interface YamlSpec {
  readonly spec: Spec;
  readonly placed: (problems: readonly Problem[]) => TextProblem[];
}

/** Reads a spec from YAML text. Problems come with their places in the text. */
export function readSpecYaml(text: string): Result<YamlSpec, TextProblem[]> {
  const given = readText(text, MAX_PART_BYTES);
  if (!given.ok) return given;
  const { value, placed } = given.value;
  const read = readPart('spec', value);
  return read.ok ? ok({ spec: read.value, placed }) : fail(placed(read.error));
}

import { type Result, fail, ok } from '../result';
import { type Topology, Topology as TopologySchema, readTopology } from '../topology';
import { completed } from './completing';
import { MAX_TOPOLOGY_BYTES } from './document';
import { type TextProblem, readText, written } from './yaml-text';

/** A drawing as YAML, places and ends of links on one line each. */
export const writeYaml = (topology: Topology): string => written(topology, TopologySchema);

/** A drawing as a text had it, and what the text left out and was filled in, with its places. */
export interface YamlDrawing {
  readonly topology: Topology;
  readonly told: TextProblem[];
}

/** Reads a drawing from YAML text. Problems, and what was filled in, come with their places in the text. */
export function readYaml(text: string): Result<YamlDrawing, TextProblem[]> {
  const given = readText(text, MAX_TOPOLOGY_BYTES);
  if (!given.ok) return given;
  const { placed } = given.value;
  const { value, told } = completed(given.value.value);
  const read = readTopology(value);
  return read.ok ? ok({ topology: read.value, told: placed(told) }) : fail(placed(read.error));
}

import {
  MAX_FILE_BYTES,
  parseJson,
  readLab,
  readPlanText,
  readSubmissionText,
  readTopologyText,
} from '@sobrin/core/formats';
import { notInForce } from '@sobrin/core/spec';
import { type Problem } from '@sobrin/core/topology';
import { readFrom } from './convert';
import { linesOf, readText } from './files';
import { type Output, STATUS } from './output';

/** Says whether a file of ours, or a drawing in any format that can be read, is sound; what of it is not, by its line. */
export async function validate(file: string, out: Output, err: Output): Promise<number> {
  if (!/\.json$/i.test(file) || /\.rfc8345\.json$/i.test(file)) return validateDrawing(file, out, err);
  const text = await readText(file);
  if (!text.ok) {
    err.write(`${file}: ${text.error}\n`);
    return STATUS.unusable;
  }
  const { kind, problems, note = null } = problemsOf(text.value);
  if (problems.length) {
    err.write(linesOf(file, problems));
    return STATUS.unusable;
  }
  out.write(`${file}: a sound ${kind}.\n`);
  if (note !== null) out.write(`${file}: ${note}\n`);
  return STATUS.well;
}

async function validateDrawing(file: string, out: Output, err: Output): Promise<number> {
  const read = await readFrom(file);
  if (!read.ok) {
    err.write(linesOf(file, read.error));
    return STATUS.unusable;
  }
  const { left, filled = [] } = read.value;
  for (const line of left) err.write(`${file}: ${line}\n`);
  for (const line of filled) out.write(`${file}: ${line}\n`);
  if (left.length) return STATUS.short;
  out.write(`${file}: a sound drawing.\n`);
  return STATUS.well;
}

function problemsOf(text: string): { kind: string; problems: Problem[]; note?: string | null } {
  const json = parseJson(text, MAX_FILE_BYTES);
  if (!json.ok) return { kind: '', problems: json.error };
  const format = (json.value as { format?: unknown } | null)?.format;
  const errors = (read: { ok: true } | { ok: false; error: Problem[] }): Problem[] => (read.ok ? [] : read.error);
  if (format === 'sobrin-lab') {
    const lab = readLab(json.value);
    return { kind: 'lab', problems: errors(lab), note: lab.ok ? notInForce(lab.value) : null };
  }
  if (format === 'sobrin-submission') return { kind: 'submission', problems: errors(readSubmissionText(text)) };
  if (format === 'sobrin-plan') return { kind: 'plan', problems: errors(readPlanText(text)) };
  return { kind: 'topology', problems: errors(readTopologyText(text)) };
}

import {
  MAX_FILE_BYTES,
  parseJson,
  readLab,
  readPlanText,
  readSubmissionText,
  readTopologyText,
} from '@sobrin/core/formats';
import { type Problem } from '@sobrin/core/topology';
import { linesOf, readText } from './files';
import { type Output, STATUS } from './output';

export async function validate(file: string, out: Output, err: Output): Promise<number> {
  const text = await readText(file);
  if (!text.ok) {
    err.write(`${file}: ${text.error}\n`);
    return STATUS.unusable;
  }
  const { kind, problems } = problemsOf(text.value);
  if (problems.length) {
    err.write(linesOf(file, problems));
    return STATUS.unusable;
  }
  out.write(`${file}: a sound ${kind}.\n`);
  return STATUS.well;
}

function problemsOf(text: string): { kind: string; problems: Problem[] } {
  const json = parseJson(text, MAX_FILE_BYTES);
  if (!json.ok) return { kind: '', problems: json.error };
  const format = (json.value as { format?: unknown } | null)?.format;
  const errors = (read: { ok: true } | { ok: false; error: Problem[] }): Problem[] => (read.ok ? [] : read.error);
  if (format === 'sobrin-lab') return { kind: 'lab', problems: errors(readLab(json.value)) };
  if (format === 'sobrin-submission') return { kind: 'submission', problems: errors(readSubmissionText(text)) };
  if (format === 'sobrin-plan') return { kind: 'plan', problems: errors(readPlanText(text)) };
  return { kind: 'topology', problems: errors(readTopologyText(text)) };
}

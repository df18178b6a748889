import { type Diagnosis, diagnose, judge, prepareLab } from '@sobrin/core/spec';
import { loadLab, submissionsAt } from './check';
import { type Output, STATUS } from './output';

export interface DiagnoseOptions {
  readonly lab: string;
  /** Seconds after which a search ends with what it has found, as they are typed. */
  readonly seconds?: string;
  readonly json?: boolean;
}

/** Says of each submission which few mistakes are behind what failed. */
export async function diagnoseAll(
  { lab: labFile, seconds, json = false }: DiagnoseOptions,
  paths: readonly string[],
  out: Output,
  err: Output,
): Promise<number> {
  const limit = seconds === undefined ? Infinity : Number(seconds);
  if (!(limit > 0)) {
    err.write(`--seconds: "${seconds}" is no number above 0.\n`);
    return STATUS.unusable;
  }
  const lab = await loadLab(labFile, err);
  if (!lab) return STATUS.unusable;
  const prepared = prepareLab(lab);
  const submissions: unknown[] = [];
  let [unusable, short] = [false, false];
  for await (const { file, submitted } of submissionsAt(paths, err)) {
    if (!submitted) {
      unusable = true;
      continue;
    }
    const result = judge(prepared, submitted);
    const end = Date.now() + limit * 1000;
    const diagnosis = diagnose(prepared, submitted, result, { isOver: () => Date.now() > end });
    short ||= diagnosis.causes.length + diagnosis.unexplained.length > 0;
    if (json) submissions.push(published(file, result, diagnosis));
    else out.write(report(file, result, diagnosis));
  }
  if (json) out.write(`${JSON.stringify({ submissions }, null, 2)}\n`);
  if (unusable) return STATUS.unusable;
  return short ? STATUS.short : STATUS.well;
}

interface Mark {
  readonly points: number;
  readonly of: number;
}
const published = (
  file: string,
  { points, of }: Mark,
  { complete, causes, unexplained, followThrough }: Diagnosis,
): unknown => ({
  file,
  points,
  of,
  complete,
  causes: causes.map(({ letter, text, places, sure, explains, repair, alternatives }) => ({
    letter,
    text,
    places,
    sure,
    explains,
    repair: repair.texts,
    alternatives: alternatives.map((other) => other.repair.join('; ')),
  })),
  unexplained,
  followThrough,
});

function report(
  file: string,
  { points, of }: Mark,
  { complete, causes, unexplained, followThrough }: Diagnosis,
): string {
  const lines = [`${file}: ${points} of ${of}`];
  for (const { letter, text, explains, took, alternatives } of causes)
    lines.push(
      `  ${letter} ${text}`,
      `    explains ${explains.join(', ')}; took ${took}`,
      ...alternatives.map((other) => `    or: ${other.text}`),
    );
  if (unexplained.length) lines.push(`  by itself: ${unexplained.join(', ')}`);
  if (!complete) lines.push('  The search was ended before it was complete.');
  if (causes.length) lines.push(...followThrough.lines.map((line) => `  ${line}`));
  return `${lines.join('\n')}\n`;
}

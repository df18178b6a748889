import { readLabText, readSubmissionText } from '@sobrin/core/formats';
import { splitInstanceId } from '@sobrin/core/engine';
import { type CheckResult, type LabFile, type Submitted, judge, prepareLab } from '@sobrin/core/spec';
import { emptyTopology } from '@sobrin/core/topology';
import { filesAt, linesOf, readText } from './files';
import { type Output, STATUS } from './output';

/** The findings of one file, in the shape that `--json` promises. */
type Finding = { file: string } & Pick<
  CheckResult,
  'points' | 'of' | 'sections' | 'requirements' | 'matching' | 'hurdlesMissed' | 'remarks'
>;
/** What is written of it: sentences for people; one document at the end; or a document in a line for each as it comes. */
export type CheckOutput = 'text' | 'json' | 'json-lines';

export async function check(
  labFile: string,
  paths: readonly string[],
  as: CheckOutput,
  out: Output,
  err: Output,
): Promise<number> {
  const lab = await loadLab(labFile, err);
  if (!lab) return STATUS.unusable;
  const prepared = prepareLab(lab);
  const submissions: Finding[] = [];
  let [unusable, short] = [false, false];
  for await (const { file, submitted } of submissionsAt(paths, err)) {
    if (!submitted) {
      unusable = true;
      continue;
    }
    const finding = { file, ...judge(prepared, submitted) };
    short ||= finding.requirements.some(({ verdict }) => verdict !== 'met' && verdict !== 'notApplying');
    if (as === 'json') submissions.push(finding);
    else out.write(as === 'text' ? report(finding) : `${JSON.stringify(published(finding))}\n`);
  }
  if (as === 'json') out.write(`${JSON.stringify({ submissions: submissions.map(published) }, null, 2)}\n`);
  if (unusable) return STATUS.unusable;
  return short ? STATUS.short : STATUS.well;
}

/** What was handed in, file by file; null after what is wrong with one was said. */
export async function* submissionsAt(
  paths: readonly string[],
  err: Output,
): AsyncIterable<{ file: string; submitted: Submitted | null }> {
  for await (const file of filesAt(paths)) {
    const text = await readText(file);
    const read = text.ok ? readSubmissionText(text.value) : null;
    if (text.ok && read?.ok) {
      yield { file, submitted: { ...read.value, drawing: read.value.topology ?? emptyTopology() } };
      continue;
    }
    err.write(text.ok ? linesOf(file, read && !read.ok ? read.error : []) : `${file}: ${text.error}\n`);
    yield { file, submitted: null };
  }
}

/** A lab that can be read; null after what is wrong with it was said. */
export async function loadLab(file: string, err: Output): Promise<LabFile | null> {
  const text = await readText(file);
  if (!text.ok) {
    err.write(`${file}: ${text.error}\n`);
    return null;
  }
  const lab = readLabText(text.value);
  if (!lab.ok) err.write(linesOf(file, lab.error));
  return lab.ok ? lab.value : null;
}

/** Only what the README documents, so that the shape stays as it is. */
const published = ({
  file,
  points,
  of,
  sections,
  requirements,
  matching,
  hurdlesMissed,
  remarks,
}: Finding): unknown => ({
  file,
  points,
  of,
  sections: sections.map(({ title, points: won, of: all }) => ({ title, points: won, of: all })),
  requirements: requirements.map(({ id, section, sentence, points: won, of: all, verdict, items }) => ({
    id,
    section,
    sentence,
    points: won,
    of: all,
    verdict,
    items,
  })),
  roles: rolesOf(matching),
  ...(hurdlesMissed && { hurdlesMissed }),
  ...(remarks && { remarks }),
});

const SURENESS = ['sure', 'likely', 'unsure'] as const;

/** Who plays each device of the reference, a tile as one: its members' parts are listed where either side is a tile. */
function rolesOf(matching: CheckResult['matching']): unknown[] {
  const byDevice = new Map<string, CheckResult['matching']>();
  for (const match of matching) {
    const { device } = splitInstanceId(match.role);
    byDevice.set(device, [...(byDevice.get(device) ?? []), match]);
  }
  return [...byDevice].map(([role, matches]) => {
    const found = matches.flatMap(({ device }) => device ?? []);
    const devices = found.map((instance) => splitInstanceId(instance).device);
    const sure = SURENESS[Math.max(0, ...matches.map((match) => SURENESS.indexOf(match.sure ?? 'sure')))];
    const others = matches.flatMap(({ also = [], with: helping = [] }) => [...helping, ...also]);
    return {
      role,
      device: devices[0] ?? null,
      ...((matches.length > 1 || found.some((instance) => instance.includes('/'))) && { members: found }),
      sure: found.length < matches.length ? 'unsure' : sure,
      also: [...new Set(others.map((instance) => splitInstanceId(instance).device))],
    };
  });
}

const MARKS = { met: '✓', partly: '◐', lost: '✗', unjudged: '?', notApplying: '–' } as const;

function report({ file, points, of, sections, requirements, hurdlesMissed = [], remarks = [] }: Finding): string {
  const lines = [
    `${file}: ${points} of ${of}`,
    ...hurdlesMissed.map((text) => `  not passed: ${text}`),
    ...remarks.map(({ text }) => `  ${text}`),
  ];
  for (const section of sections) {
    lines.push(`  ${section.title}: ${section.points} of ${section.of}`);
    for (const requirement of requirements.filter((each) => each.section === section.id)) {
      lines.push(
        `    ${MARKS[requirement.verdict]} ${requirement.id} ${requirement.sentence} ${requirement.points}/${requirement.of}`,
      );
      for (const item of requirement.items.filter((each) => each.met !== true))
        lines.push(`        ${item.met === null ? '?' : '–'} ${item.text}`);
    }
  }
  return `${lines.join('\n')}\n`;
}

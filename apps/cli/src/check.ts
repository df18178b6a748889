import { readLabText, readSubmissionText } from '@sobrin/core/formats';
import { type CheckResult, type LabFile, checkSubmission } from '@sobrin/core/spec';
import { emptyTopology } from '@sobrin/core/topology';
import { linesOf, readText } from './files';
import { type Output, STATUS } from './output';

/** The findings of one file, in the shape that `--json` promises. */
type Finding = { file: string } & Pick<CheckResult, 'points' | 'of' | 'sections' | 'requirements'>;

export async function check(
  labFile: string,
  files: readonly string[],
  json: boolean,
  out: Output,
  err: Output,
): Promise<number> {
  const lab = await loadLab(labFile, err);
  if (!lab) return STATUS.unusable;
  const submissions: Finding[] = [];
  let unusable = false;
  for (const file of files) {
    const text = await readText(file);
    const read = text.ok ? readSubmissionText(text.value) : null;
    if (!text.ok || !read?.ok) {
      err.write(text.ok ? linesOf(file, read && !read.ok ? read.error : []) : `${file}: ${text.error}\n`);
      unusable = true;
      continue;
    }
    const { points, of, sections, requirements } = checkSubmission(
      lab,
      read.value.topology ?? emptyTopology(),
      read.value.plan,
    );
    submissions.push({ file, points, of, sections, requirements });
  }
  if (json) out.write(`${JSON.stringify({ submissions: submissions.map(published) }, null, 2)}\n`);
  else for (const submission of submissions) out.write(report(submission));
  if (unusable) return STATUS.unusable;
  return submissions.every((submission) => submission.requirements.every((each) => each.verdict === 'met'))
    ? STATUS.well
    : STATUS.short;
}

async function loadLab(file: string, err: Output): Promise<LabFile | null> {
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
const published = ({ file, points, of, sections, requirements }: Finding): unknown => ({
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
});

const MARKS = { met: '✓', partly: '◐', lost: '✗', unjudged: '?', notApplying: '–' } as const;

function report({ file, points, of, sections, requirements }: Finding): string {
  const lines = [`${file}: ${points} of ${of}`];
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

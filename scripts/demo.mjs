// npm run demo: writes the lab and submission files of demo/ anew. The files are read by the seed, the tests and people;
// this script is how they were made, so that a change of a lab carries through to all its submissions.
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { buildPackages } from './lib/build.mjs';
import { root, require } from './lib/root.mjs';
import * as valley from './demo/valley-lan.mjs';
import * as stations from './demo/three-stations.mjs';
import * as winch from './demo/winch-isolation.mjs';
import * as dual from './demo/summit-dual-stack.mjs';
import { handIn } from './demo/student.mjs';

await buildPackages(['packages/core']);
const opening = await import('./demo/season-opening.mjs');
const { readLab, readSubmissionText } = require(path.join(root, 'packages/core/dist/formats/index.js'));

for (const { slug, lab, submissions } of [valley, stations, opening, winch, dual]) {
  const folder = path.join(root, 'demo', slug);
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(path.join(folder, 'submissions'), { recursive: true });
  const read = readLab(lab);
  if (!read.ok) throw new Error(`${slug}: ${JSON.stringify(read.error, null, 1)}`);
  write(path.join(folder, 'lab.json'), lab);
  for (const [at, submission] of submissions.entries()) {
    const file = submission.plan
      ? {
          format: 'sobrin-submission',
          version: 3,
          student: submission.student,
          plan: submission.plan,
          ...(submission.topology && { topology: submission.topology }),
        }
      : handIn(lab.reference, submission, at + 1);
    const taken = readSubmissionText(JSON.stringify(file));
    if (!taken.ok) throw new Error(`${slug}, ${submission.student}: ${JSON.stringify(taken.error, null, 1)}`);
    write(
      path.join(
        folder,
        'submissions',
        `${submission.student
          .toLowerCase()
          .normalize('NFD')
          .replace(/[^a-z ]/g, '')
          .replaceAll(' ', '-')}.json`,
      ),
      file,
    );
  }
}

function write(file, value) {
  writeFileSync(file, `${JSON.stringify(value, null, 1)}\n`);
}

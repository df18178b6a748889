// Jest reads the whole application anew for each file of tests, which took a third of its time. Most files of a project are
// therefore run as two, which require them one after the other; each keeps a group of its own, with its hooks.
import { mkdirSync, readFileSync, readdirSync, rmSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { root } from './root.mjs';

const FOLDER = 'together';
const GROUPS = 2;
/** What a file puts in the place of a module holds for that file only: it is run by itself. */
const IS_ALONE = /\bjest\s*\.\s*(mock|doMock|isolateModules|resetModules)\b/;
/** With fewer files nothing is won. */
const FEW = 8;

const specsOf = (folder) =>
  readdirSync(path.join(root, folder, 'src'), { recursive: true })
    .map((name) => path.join(root, folder, 'src', String(name)))
    .filter((file) => /\.spec\.tsx?$/.test(file));

/** The files to be run for some projects, the longest first. */
export function together(folders) {
  apart(folders);
  const [groups, alone] = [[], []];
  for (const folder of folders) {
    const specs = specsOf(folder);
    const joined = specs.length < FEW ? [] : specs.filter((file) => !IS_ALONE.test(readFileSync(file, 'utf8')));
    alone.push(...specs.filter((file) => !joined.includes(file)));
    if (!joined.length) continue;
    joined.sort((a, b) => statSync(b).size - statSync(a).size || (a < b ? -1 : 1));
    const place = path.join(root, folder, FOLDER);
    mkdirSync(place);
    for (let group = 0; group < GROUPS; group++) {
      const file = path.join(place, `${group + 1}.cjs`);
      const lines = joined
        .filter((_file, at) => at % GROUPS === group)
        .map((spec) => path.relative(place, spec))
        .map(
          (spec) =>
            `describe(${JSON.stringify(spec.replace('../', ''))}, () => void require(${JSON.stringify(spec)}));`,
        );
      writeFileSync(file, `${lines.join('\n')}\n`);
      groups.push(file);
    }
  }
  // Those of the server take longest, and it comes last.
  return [...groups.reverse(), ...alone.sort((a, b) => statSync(b).size - statSync(a).size)];
}

/** Takes away what `together` wrote. */
export function apart(folders) {
  for (const folder of folders) rmSync(path.join(root, folder, FOLDER), { recursive: true, force: true });
}

/** A test as it is called in its own file: a report knows it by the file that required it. */
export const ownName = (file, fullName) => {
  const [project, group] = path.relative(root, file).split(`/${FOLDER}/`);
  return group ? `${project}/${fullName.replace(' ', ': ')}` : `${project}: ${fullName}`;
};

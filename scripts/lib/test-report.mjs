// What a test run says of itself: its slowest tests, and how many lines of the code are tests.
import { readFileSync, readdirSync } from 'node:fs';
import path from 'node:path';
import { root } from './root.mjs';
import { ownName } from './together.mjs';

/** The tests of a report of Jest or Playwright: the seconds that each took, and whether it failed. */
export function testsOf(report) {
  if (report.testResults)
    return report.testResults.flatMap(({ name, assertionResults }) =>
      assertionResults.map(({ duration, fullName, status, failureMessages }) => ({
        seconds: (duration ?? 0) / 1000,
        name: ownName(name, fullName),
        failed: status === 'failed' ? (failureMessages[0] ?? '') : null,
      })),
    );
  const all = [];
  const collect = (suite, titles) => {
    for (const spec of suite.specs ?? [])
      for (const { results, status } of spec.tests)
        all.push({
          seconds: Math.max(...results.map((result) => result.duration)) / 1000,
          name: `e2e/${spec.file}: ${[...titles, spec.title].join(' › ')}`,
          failed: ['unexpected', 'flaky'].includes(status)
            ? (results.find(({ error }) => error)?.error.message ?? '')
            : null,
        });
    for (const inner of suite.suites ?? []) collect(inner, [...titles, inner.title]);
  };
  for (const file of report.suites) collect(file, []);
  return all;
}

const FOLDERS = ['packages', 'apps', 'e2e', 'benchmarks', 'scripts'];
const isTest = (file) => /\.spec\.tsx?$|(^|\/)tests\/|^e2e\//.test(file);

/** The share of tests among all lines that hold more than blanks and comments. */
export function shareOfTests() {
  let [tests, all] = [0, 0];
  for (const folder of FOLDERS)
    for (const name of readdirSync(path.join(root, folder), { recursive: true }).map(String)) {
      const file = `${folder}/${name}`;
      if (/(^|\/)(node_modules|dist)\//.test(file) || !/\.(tsx?|mjs)$/.test(file)) continue;
      const text = readFileSync(path.join(root, file), 'utf8');
      const lines = text.split('\n').filter((line) => !/^\s*(\/\/.*)?$/.test(line)).length;
      all += lines;
      if (isTest(file)) tests += lines;
    }
  return { share: (100 * tests) / all, tests, all };
}

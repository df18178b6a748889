// npm test [core|server|web|e2e]: everything that must hold. The last line is "N passed, N failed".
import { spawn } from 'node:child_process';
import { chmodSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { startPostgres } from './lib/postgres.mjs';
import { root } from './lib/root.mjs';
import { endCommands, explain, say } from './lib/say.mjs';
import { CHROMIUM, ensureChromium, ensureDependencies, ensureReaders } from './lib/system.mjs';
import { shareOfTests, testsOf } from './lib/test-report.mjs';
import { apart, together } from './lib/together.mjs';

const part = process.argv[2] ?? 'all';
const PARTS = ['core', 'server', 'web', 'e2e', 'all'];
/** Two at a time: more would only wait for one another on the machines this runs on. */
const WORKERS = 2;
const results = [];
const ran = [];
const running = new Set();
const work = mkdtempSync(path.join(tmpdir(), 'sobrin-test-'));
chmodSync(work, 0o755); // the database runs as another user and must pass
let database = null;

/** Runs a script of a package; its output is shown as it comes, or all at once at its end where others are shown meanwhile. */
function node(script, args, { env = {}, atEnd = false } = {}) {
  return new Promise((resolve) => {
    const child = spawn(process.execPath, [path.join(root, 'node_modules', script), ...args], {
      cwd: root,
      stdio: atEnd ? ['ignore', 'pipe', 'pipe'] : 'inherit',
      env: { ...process.env, ...env },
    });
    running.add(child);
    let output = '';
    for (const stream of [child.stdout, child.stderr]) stream?.on('data', (chunk) => (output += chunk));
    const end = (code) => {
      running.delete(child);
      if (output.trim()) console.log(output.trimEnd());
      resolve(code);
    };
    child.on('error', () => end(127));
    child.on('close', (code, signal) => end(signal ? 1 : (code ?? 1)));
  });
}

/** Runs one part and keeps how it ended. One that ended badly counts as failed, also when its report says otherwise; one that ran nothing, too. */
async function run(name, action) {
  say(name);
  const begin = Date.now();
  const { code, passed, failed } = await action();
  const seconds = Math.round((Date.now() - begin) / 1000);
  results.push({ name, seconds, passed, failed: failed || (code !== 0 || passed === 0 ? 1 : 0) });
}

/** A check that passes or fails as a whole. */
const check = (name, script, args) =>
  run(name, async () => {
    const code = await node(script, args, { atEnd: part === 'all' });
    return { code, passed: code === 0 ? 1 : 0, failed: code === 0 ? 0 : 1 };
  });

/** What Jest runs: the name of each part, and the folders that it is made of. */
const UNITS = {
  core: {
    name: 'Core and command line',
    folders: ['packages/core', 'packages/contracts', 'packages/rendering', 'apps/cli'],
  },
  web: { name: 'Interface parts', folders: ['apps/web'] },
  server: { name: 'Server against PostgreSQL', folders: ['apps/server'] },
};

/** Runs parts at once: nobody waits for the last file of one before the next begins. Each counts the seconds of its files. */
async function jest(units, env = {}) {
  const file = path.join(work, 'jest.json');
  const projects = units.flatMap(({ folders }) => folders.map((folder) => path.basename(folder)));
  const folders = units.flatMap((unit) => unit.folders);
  const files = together(folders);
  const args = ['--selectProjects', ...projects, '--json', `--outputFile=${file}`, `--maxWorkers=${WORKERS}`];
  args.push(`--testSequencer=${path.join(root, 'scripts/lib/in-order.cjs')}`, '--runTestsByPath', ...files);
  say(units.map(({ name }) => name).join(' · '));
  // The build before it says "production", which holds for what it builds alone.
  const code = await node('jest/bin/jest.js', args, {
    env: { ...env, NODE_ENV: 'test', SOBRIN_TOGETHER: files.join(':') },
  });
  apart(folders);
  const report = reportOf(file);
  ran.push(...(report ? testsOf(report) : []));
  const ended = units.map(({ name, folders }) => ({ name, ...countsOf(report?.testResults ?? [], folders) }));
  // One that ended badly although nothing failed: no part is known to have passed.
  const isBroken = code !== 0 && ended.every(({ failed }) => !failed);
  for (const part of ended) results.push({ ...part, failed: part.failed || (isBroken || part.passed === 0 ? 1 : 0) });
}

/** The tests of some folders in a report, and how long their files took where `WORKERS` run at once. A file that could not even be read counts as a failure. */
function countsOf(files, folders) {
  const mine = files.filter(({ name }) =>
    folders.some((folder) => name.startsWith(path.join(root, folder) + path.sep)),
  );
  const count = (status) =>
    mine.flatMap((file) => file.assertionResults).filter((test) => test.status === status).length;
  const unread = mine.filter((file) => file.status === 'failed' && !file.assertionResults.length).length;
  const took = mine.reduce((sum, file) => sum + file.endTime - file.startTime, 0);
  return {
    seconds: Math.round(took / 1000 / WORKERS),
    passed: count('passed'),
    failed: count('failed') + unread,
  };
}

function reportOf(file) {
  try {
    return JSON.parse(readFileSync(file, 'utf8'));
  } catch {
    return null; // the runner died before it could say anything
  }
}

const playwright = (name, env) =>
  run(name, async () => {
    const file = path.join(work, 'e2e.json');
    const code = await node('@playwright/test/cli.js', ['test', '--config', 'e2e/playwright.config.ts'], {
      env: { ...env, PLAYWRIGHT_JSON_OUTPUT_NAME: file },
    });
    const report = reportOf(file);
    ran.push(...(report ? testsOf(report) : []));
    return {
      code,
      passed: report?.stats.expected ?? 0,
      failed: report ? report.stats.unexpected + report.stats.flaky : 1,
    };
  });

async function testDatabase() {
  database ??= await startPostgres(path.join(work, 'data'), { fast: true });
  return { TEST_DATABASE_URL: database.url };
}

/** What is looked at without running anything. */
async function staticChecks() {
  await check('Types', 'typescript-native/bin/tsc', ['-b']);
  await check('Lint', 'oxlint/bin/oxlint', ['--deny-warnings', '.']);
  await check('Import directions', 'dependency-cruiser/bin/dependency-cruise.mjs', [
    '--config',
    '.dependency-cruiser.cjs',
    'packages',
    'apps',
  ]);
  await check('Format', 'prettier/bin/prettier.cjs', ['--check', '--log-level', 'warn', '.']);
}

async function tests() {
  const wants = (...names) => part === 'all' || names.includes(part);
  const units = Object.keys(UNITS).filter((unit) => wants(unit));
  // Threads of the server run what is compiled, also under its tests.
  if (wants('server', 'e2e'))
    await run('Production build', async () => {
      const { buildAll } = await import('./lib/build.mjs');
      return buildAll(say).then(
        () => ({ code: 0, passed: 1, failed: 0 }),
        (error) => (console.error(error), { code: 1, passed: 0, failed: 1 }),
      );
    });
  if (wants('core')) await ensureReaders();
  if (units.length)
    await jest(
      units.map((unit) => UNITS[unit]),
      wants('server') ? await testDatabase() : {},
    );
  if (wants('e2e')) {
    await ensureChromium();
    const env = { ...(await testDatabase()), CHROMIUM, E2E_RUN: String(process.pid) };
    await playwright('The real interface (Playwright, Chromium)', env);
  }
}

// Cut short, a run leaves nothing running and no database behind.
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'])
  process.on(signal, () => {
    endCommands();
    for (const child of running) child.kill('SIGTERM');
    database?.stop();
    rmSync(work, { recursive: true, force: true });
    process.exit(130);
  });

let begin = Date.now();
try {
  if (!PARTS.includes(part)) throw new Error(`There is no part "${part}": choose ${PARTS.join(', ')}.`);
  await ensureDependencies();
  begin = Date.now();
  await Promise.all([part === 'all' && staticChecks(), tests()]);
} catch (error) {
  console.error(explain(error));
  results.push({ name: 'Setting up', seconds: 0, passed: 0, failed: 1 });
} finally {
  database?.stop();
  rmSync(work, { recursive: true, force: true });
}

const sum = (key) => results.reduce((total, result) => total + result[key], 0);
console.log('\nSlowest tests');
for (const { seconds, name } of ran.sort((a, b) => b.seconds - a.seconds).slice(0, 10))
  console.log(`  ${seconds.toFixed(1).padStart(6)} s  ${name}`);
const { share, tests: lines, all } = shareOfTests();
console.log(`\nTests are ${share.toFixed(1)} % of the lines of code (${lines} of ${all}); wanted: 25 to 33.`);
// Again at the end: of a long run often only the end is kept.
for (const { name, failed } of ran.filter((test) => test.failed !== null))
  console.log(`\nFailed: ${name}\n${failed.trim().split('\n').slice(0, 8).join('\n').slice(0, 800)}`);
console.log(`\nSummary, ${Math.round((Date.now() - begin) / 1000)} s after installation`);
for (const { name, seconds, passed, failed } of results)
  console.log(`  ${failed ? '✗' : '✓'} ${String(seconds).padStart(4)} s  ${name}: ${passed} passed, ${failed} failed`);
console.log(`\n${sum('passed')} passed, ${sum('failed')} failed`);
process.exitCode = sum('failed') ? 1 : 0;

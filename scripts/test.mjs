// npm test [core|server|web|e2e]: everything that must hold. The last line is "N passed, N failed".
import { spawn } from 'node:child_process';
import { chmodSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { startPostgres } from './lib/postgres.mjs';
import { root } from './lib/root.mjs';
import { endCommands, explain, say } from './lib/say.mjs';
import { CHROMIUM, ensureChromium, ensureDependencies, ensureReaders } from './lib/system.mjs';
import { shareOfTests, slowestOf } from './lib/test-report.mjs';

const part = process.argv[2] ?? 'all';
const PARTS = ['core', 'server', 'web', 'e2e', 'all'];
/** Two at a time: more would only wait for one another on the machines this runs on. */
const WORKERS = 2;
const results = [];
const slow = [];
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

const jest = (name, projects, env = {}) =>
  run(name, async () => {
    const file = path.join(work, `${projects.join('-')}.json`);
    const args = ['--selectProjects', ...projects, '--json', `--outputFile=${file}`, `--maxWorkers=${WORKERS}`];
    const code = await node('jest/bin/jest.js', args, { env });
    return { code, ...read(file) };
  });

const playwright = (name, env) =>
  run(name, async () => {
    const file = path.join(work, 'e2e.json');
    const code = await node('@playwright/test/cli.js', ['test', '--config', 'e2e/playwright.config.ts'], {
      env: { ...env, PLAYWRIGHT_JSON_OUTPUT_NAME: file },
    });
    return { code, ...read(file) };
  });

/** The counts of a runner's report; its slowest tests are kept. */
function read(file) {
  try {
    const report = JSON.parse(readFileSync(file, 'utf8'));
    slow.push(...slowestOf(report));
    return report.stats
      ? { passed: report.stats.expected, failed: report.stats.unexpected + report.stats.flaky }
      : { passed: report.numPassedTests, failed: report.numFailedTests + report.numRuntimeErrorTestSuites };
  } catch {
    return { passed: 0, failed: 1 }; // the runner died before it could say anything
  }
}

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
  if (wants('core')) {
    await ensureReaders();
    await jest('Core and command line', ['core', 'contracts', 'rendering', 'cli']);
  }
  if (wants('web')) await jest('Interface parts', ['web']);
  // Threads of the server run what is compiled, also under its tests.
  if (wants('server', 'e2e'))
    await run('Production build', async () => {
      const { buildAll } = await import('./lib/build.mjs');
      return buildAll(say).then(
        () => ({ code: 0, passed: 1, failed: 0 }),
        (error) => (console.error(error), { code: 1, passed: 0, failed: 1 }),
      );
    });
  if (wants('server')) await jest('Server against PostgreSQL', ['server'], await testDatabase());
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
for (const { seconds, name } of slow.sort((a, b) => b.seconds - a.seconds).slice(0, 10))
  console.log(`  ${seconds.toFixed(1).padStart(6)} s  ${name}`);
const { share, tests: lines, all } = shareOfTests();
console.log(`\nTests are ${share.toFixed(1)} % of the lines of code (${lines} of ${all}); wanted: 25 to 33.`);
console.log(`\nSummary, ${Math.round((Date.now() - begin) / 1000)} s after installation`);
for (const { name, seconds, passed, failed } of results)
  console.log(`  ${failed ? '✗' : '✓'} ${String(seconds).padStart(4)} s  ${name}: ${passed} passed, ${failed} failed`);
console.log(`\n${sum('passed')} passed, ${sum('failed')} failed`);
process.exitCode = sum('failed') ? 1 : 0;

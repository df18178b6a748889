// npm test [core|server|web|e2e]: everything that must hold. The last line is "N passed, N failed".
import { spawn } from 'node:child_process';
import { chmodSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { freePort, startPostgres } from './lib/postgres.mjs';
import { root } from './lib/root.mjs';
import { endCommands, explain, say } from './lib/say.mjs';
import { CHROMIUM, ensureChromium, ensureDependencies, ensureReaders } from './lib/system.mjs';

const part = process.argv[2] ?? 'all';
const PARTS = ['core', 'server', 'web', 'e2e', 'all'];
const results = [];
const work = mkdtempSync(path.join(tmpdir(), 'sobrin-test-'));
chmodSync(work, 0o755); // the database runs as another user and must pass
let database = null;

/** Runs a command; its output is shown. */
function command(file, args, env = {}) {
  return new Promise((resolve) => {
    const child = spawn(file, args, { cwd: root, stdio: 'inherit', env: { ...process.env, ...env } });
    child.on('error', () => resolve(127));
    child.on('exit', (code, signal) => resolve(signal ? 1 : (code ?? 1)));
  });
}
const node = (script, args, env) => command(process.execPath, [path.join(root, 'node_modules', script), ...args], env);

/** One check that passes or fails as a whole. */
async function step(name, run) {
  say(name);
  const code = await run();
  results.push({ name, passed: code === 0 ? 1 : 0, failed: code === 0 ? 0 : 1 });
}

async function jest(name, projects, env = {}) {
  say(name);
  const file = path.join(work, `${projects.join('-')}.json`);
  const code = await node(
    'jest/bin/jest.js',
    ['--selectProjects', ...projects, '--json', `--outputFile=${file}`, '--testLocationInResults=false'],
    env,
  );
  const counts = readCounts(file, (report) => [
    report.numPassedTests,
    report.numFailedTests + report.numRuntimeErrorTestSuites,
  ]);
  record(name, code, counts);
}

async function playwright(env) {
  const name = 'The real interface (Playwright, Chromium)';
  say(name);
  const file = path.join(work, 'e2e.json');
  const code = await node('@playwright/test/cli.js', ['test', '--config', 'e2e/playwright.config.ts'], {
    ...env,
    PLAYWRIGHT_JSON_OUTPUT_NAME: file,
  });
  record(
    name,
    code,
    readCounts(file, ({ stats }) => [stats.expected, stats.unexpected + stats.flaky]),
  );
}

function readCounts(file, counts) {
  try {
    return counts(JSON.parse(readFileSync(file, 'utf8')));
  } catch {
    return [0, 1]; // the runner died before it could say anything
  }
}

/** A part that ended badly counts as failed, also when its report says otherwise; one that ran nothing, too. */
function record(name, code, [passed, failed]) {
  results.push({ name, passed, failed: failed || (code !== 0 || passed === 0 ? 1 : 0) });
}

async function testDatabase() {
  database ??= await startPostgres(path.join(work, 'data'), { fast: true });
  return { TEST_DATABASE_URL: database.url };
}

// Cut short, a run leaves no database behind.
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'])
  process.on(signal, () => {
    endCommands();
    database?.stop();
    rmSync(work, { recursive: true, force: true });
    process.exit(130);
  });

try {
  if (!PARTS.includes(part)) throw new Error(`There is no part "${part}": choose ${PARTS.join(', ')}.`);
  await ensureDependencies();
  const { buildAll } = await import('./lib/build.mjs');
  const wants = (...names) => part === 'all' || names.includes(part);
  if (part === 'all') {
    await step('Types', () => node('typescript/bin/tsc', ['-b']));
    await step('Lint', () => node('eslint/bin/eslint.js', ['.', '--max-warnings', '0']));
    await step('Import directions', () =>
      node('dependency-cruiser/bin/dependency-cruise.mjs', ['--config', '.dependency-cruiser.cjs', 'packages', 'apps']),
    );
    await step('Format', () => node('prettier/bin/prettier.cjs', ['--check', '--log-level', 'warn', '.']));
  }
  if (wants('core')) {
    await ensureReaders();
    await jest('Core and command line', ['core', 'contracts', 'press', 'cli']);
  }
  if (wants('web')) await jest('Interface parts', ['web']);
  // Threads of the server run what is compiled, also under its tests.
  if (wants('server', 'e2e'))
    await step('Production build', () =>
      buildAll(say).then(
        () => 0,
        (error) => (console.error(error), 1),
      ),
    );
  if (wants('server')) await jest('Server against PostgreSQL', ['server'], await testDatabase());
  if (wants('e2e')) {
    await ensureChromium();
    await playwright({ ...(await testDatabase()), CHROMIUM, E2E_PORT: String(await freePort()) });
  }
} catch (error) {
  console.error(explain(error));
  results.push({ name: 'Setting up', passed: 0, failed: 1 });
} finally {
  database?.stop();
  rmSync(work, { recursive: true, force: true });
}
const sum = (key) => results.reduce((total, one) => total + one[key], 0);
console.log('\nSummary');
for (const one of results)
  console.log(`  ${one.failed ? '✗' : '✓'} ${one.name}: ${one.passed} passed, ${one.failed} failed`);
const status = sum('failed') ? 1 : 0;
console.log(`\n${sum('passed')} passed, ${sum('failed')} failed`);
process.exitCode = status;

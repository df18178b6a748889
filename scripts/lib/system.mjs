// What the machine must have: Debian's packages, and the npm packages of the lock file.
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, readdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { root } from './root.mjs';
import { Trouble, runWithProgress, say } from './say.mjs';

export const isRoot = process.getuid?.() === 0;
const lastLines = (output, count) => output.trim().split('\n').slice(-count).join(' ');

/** Installs Debian packages where `isThere` says that they are missing. */
export async function ensurePackages(what, packages, isThere) {
  if (isThere()) return;
  const line = `apt-get install -y --no-install-recommends ${packages.join(' ')}`;
  if (!isRoot) throw new Trouble(`${what} is missing, and this user may not install it. Run as root: ${line}`);
  say(`Installing ${what} from Debian (${packages.join(', ')})`);
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  const apt = (...args) =>
    runWithProgress(`installing ${what}`, 'apt-get', ['-o', 'DPkg::Lock::Timeout=300', '-qq', ...args], { env });
  const update = await apt('update');
  if (update.error?.code === 'ENOENT')
    throw new Trouble(`${what} is missing, and this system has no apt-get. Install it by your system's own means.`);
  const done = await apt('install', '-y', '--no-install-recommends', ...packages);
  if (done.status !== 0 || !isThere()) {
    const output = `${update.output}${done.output}`;
    if (/No space left/i.test(output))
      throw new Trouble(`${what} could not be installed: the disk is full. Free some space, then start again.`);
    throw new Trouble(`${what} could not be installed. apt-get said: ${lastLines(output, 3)}`);
  }
}

/** Runs npm ci where node_modules is not what the lock file says. */
export async function ensureDependencies() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major < 20 || (major === 20 && minor < 19))
    throw new Trouble(`Sobrin needs Node 20.19 or newer: this is ${process.version}.`);
  const lock = createHash('sha256')
    .update(readFileSync(path.join(root, 'package-lock.json')))
    .digest('hex');
  const stamp = path.join(root, 'node_modules', '.sobrin-lock');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return;
  say('Installing npm packages (a few minutes the first time)');
  const args = ['ci', '--no-audit', '--no-fund', '--loglevel=error'];
  const done = await runWithProgress('installing npm packages', 'npm', args, { cwd: root });
  if (done.status !== 0) {
    if (/ENOSPC/.test(done.output))
      throw new Trouble(
        'The npm packages could not be installed: the disk is full. Free some space, then start again.',
      );
    if (/ENOTFOUND|ETIMEDOUT|ECONNREFUSED|EAI_AGAIN/.test(done.output))
      throw new Trouble(
        'The npm packages could not be installed: the npm registry does not answer. Check the network.',
      );
    throw new Trouble(`npm ci failed: ${lastLines(done.output, 6)}`);
  }
  writeFileSync(stamp, lock);
}

export const postgresBin = () => {
  const base = '/usr/lib/postgresql';
  if (!existsSync(base)) return null;
  const versions = readdirSync(base)
    .filter((version) => existsSync(path.join(base, version, 'bin', 'initdb')))
    .sort((a, b) => Number(b) - Number(a));
  return versions[0] ? path.join(base, versions[0], 'bin') : null;
};
export const ensurePostgresPackages = () =>
  ensurePackages('PostgreSQL', ['postgresql-15'], () => postgresBin() !== null);
/** Chromium without the interface of a browser around its pages, which costs as much as they do. */
export const CHROMIUM = '/usr/bin/chromium-headless-shell';
export const ensureChromium = () => ensurePackages('Chromium', ['chromium-headless-shell'], () => existsSync(CHROMIUM));
/** Programs of others that read what Sobrin writes: tests ask them whether it is right. */
const READERS = {
  '/usr/bin/dot': 'graphviz',
  '/usr/bin/rsvg-convert': 'librsvg2-bin',
  '/usr/bin/qpdf': 'qpdf',
  '/usr/bin/pdftotext': 'poppler-utils',
  '/usr/bin/tshark': 'tshark',
  '/usr/lib/python3/dist-packages/networkx': 'python3-networkx',
};
export const ensureReaders = () =>
  ensurePackages('independent readers', Object.values(READERS), () =>
    Object.keys(READERS).every((key) => existsSync(key)),
  );

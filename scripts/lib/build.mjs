// Builds what is stale. A package's stamp is a hash over its sources, so that nothing depends on file times.
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, readdirSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { promisify } from 'node:util';
import { brotliCompress, constants } from 'node:zlib';
import { coreVersion } from './core-version.mjs';
import { root, require } from './root.mjs';

/** Everything the interface is made of: it is bundled from the sources of these folders. */
const WEB_SOURCES = ['apps/web', 'packages/core', 'packages/contracts'];

function hashOf(folders) {
  const hash = createHash('sha256');
  for (const name of ['package-lock.json', '.swcrc', 'tsconfig.base.json'])
    hash.update(readFileSync(path.join(root, name)));
  for (const folder of folders)
    for (const file of readdirSync(path.join(root, folder), { recursive: true }).map(String).sort()) {
      if (/(^|\/)(node_modules|dist)(\/|$)/.test(file) || !/\.(tsx?|css|html|json|svg)$/.test(file)) continue;
      hash.update(`${folder}/${file}\0`).update(readFileSync(path.join(root, folder, file)));
    }
  return hash.digest('hex');
}

function isFresh(folder, hash) {
  const stamp = path.join(root, folder, 'dist', '.stamp');
  return existsSync(stamp) && readFileSync(stamp, 'utf8') === hash;
}

/** Compiles TypeScript packages to CommonJS, those that changed only. */
export async function buildPackages(folders, say = () => {}) {
  const { transformFile } = require('@swc/core');
  for (const folder of folders) {
    const hash = hashOf([folder]);
    if (isFresh(folder, hash)) continue;
    say(`Building ${folder}`);
    // Into a folder beside, then in one step to its place: a build that is cut short leaves no half of one.
    const [source, target, beside] = ['src', 'dist', 'dist.new'].map((name) => path.join(root, folder, name));
    rmSync(beside, { recursive: true, force: true });
    const files = readdirSync(source, { recursive: true })
      .map(String)
      .filter((file) => /\.ts$/.test(file) && !/\.(spec|d)\.ts$|(^|\/)tests\//.test(file));
    await Promise.all(
      files.map(async (file) => {
        const out = path.join(beside, file.replace(/\.ts$/, '.js'));
        const done = await transformFile(path.join(source, file), {
          configFile: path.join(root, '.swcrc'),
          swcrc: false,
        });
        mkdirSync(path.dirname(out), { recursive: true });
        writeFileSync(out, `${done.code}\n//# sourceMappingURL=${path.basename(out)}.map\n`);
        writeFileSync(`${out}.map`, done.map ?? '');
      }),
    );
    if (folder === 'packages/core') nameVersion(path.join(beside, 'version.js'));
    writeFileSync(path.join(beside, '.stamp'), hash);
    rmSync(target, { recursive: true, force: true });
    renameSync(beside, target);
  }
}

/** Writes into the compiled core which one it is. */
function nameVersion(file) {
  const code = readFileSync(file, 'utf8');
  const named = code.replace("'sources'", `'${coreVersion()}'`);
  if (named === code) throw new Error(`${file} has no place for the version of the core.`);
  writeFileSync(file, named);
}

/** Files that are worth it get a compressed twin beside them, so that nothing is compressed while somebody waits. */
async function compressWeb() {
  const folder = path.join(root, 'apps/web/dist');
  const files = readdirSync(folder, { recursive: true })
    .map(String)
    .filter((file) => /\.(js|mjs|css|svg|html)$/.test(file));
  await Promise.all(
    files.map(async (file) => {
      const content = readFileSync(path.join(folder, file));
      if (content.length < LEAST_COMPRESSED) return;
      const { BROTLI_PARAM_QUALITY } = constants;
      const quality = content.length > LARGE ? 9 : 11;
      writeFileSync(
        path.join(folder, `${file}.br`),
        await brotli(content, { params: { [BROTLI_PARAM_QUALITY]: quality } }),
      );
    }),
  );
}
const brotli = promisify(brotliCompress);
/** Bytes: below it is not worth it; above, the last percents cost more time than they save. */
const [LEAST_COMPRESSED, LARGE] = [1000, 450_000];

/** Bundles the interface with Vite. */
export async function buildWeb(say = () => {}) {
  const hash = hashOf(WEB_SOURCES);
  if (isFresh('apps/web', hash)) return;
  say('Building the interface');
  const { build } = await import('vite');
  await build({ root: path.join(root, 'apps/web'), logLevel: 'warn' });
  await compressWeb();
  writeFileSync(path.join(root, 'apps/web/dist/.stamp'), hash);
}

export async function buildAll(say) {
  await buildPackages(['packages/core', 'packages/contracts', 'packages/rendering', 'apps/server', 'apps/cli'], say);
  await buildWeb(say);
}

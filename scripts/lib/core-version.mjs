// The core by which results are made, as one hash: its sources without tests, and the versions of what it depends on.
import { createHash } from 'node:crypto';
import { readFileSync, readdirSync } from 'node:fs';
import path from 'node:path';
import { root } from './root.mjs';

const FOLDER = 'packages/core';
const isSource = (file) => /\.ts$/.test(file) && !/\.(spec|d)\.ts$|(^|\/)tests\//.test(file);

/** The places in the lock file of all that a package depends on, and what that depends on in turn. */
function dependenciesOf(lock, place, found = new Set()) {
  for (const name of Object.keys(lock.packages[place].dependencies ?? {})) {
    // As Node looks for it: beside the package that wants it, then further out.
    const parts = place ? place.split('/node_modules/') : [];
    const places = parts.map(
      (_part, at) => `${parts.slice(0, parts.length - at).join('/node_modules/')}/node_modules/${name}`,
    );
    const at = [...places, `node_modules/${name}`].find((each) => lock.packages[each]);
    if (!at) throw new Error(`package-lock.json does not tell which version of ${name} there is: run npm install.`);
    if (found.has(at)) continue;
    found.add(at);
    dependenciesOf(lock, at, found);
  }
  return found;
}

/** SHA-256 in hex. */
export function coreVersion() {
  const hash = createHash('sha256');
  const source = path.join(root, FOLDER, 'src');
  for (const file of readdirSync(source, { recursive: true }).map(String).filter(isSource).sort())
    hash
      .update(`${file}\0`)
      .update(readFileSync(path.join(source, file)))
      .update('\0');
  const lock = JSON.parse(readFileSync(path.join(root, 'package-lock.json'), 'utf8'));
  for (const place of [...dependenciesOf(lock, FOLDER)].sort()) {
    const { version, integrity } = lock.packages[place];
    hash.update(`${place} ${version} ${integrity}\0`);
  }
  return hash.digest('hex');
}

import { createRequire } from 'node:module';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

/** The folder of the checkout. */
export const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..', '..');
export const require = createRequire(path.join(root, 'package.json'));

/** What some folders of the built core export, as one object. */
export const builtCore = (...folders) =>
  Object.assign({}, ...folders.map((folder) => require(path.join(root, 'packages/core/dist', folder, 'index.js'))));

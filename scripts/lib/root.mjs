import { createRequire } from 'node:module';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

/** The folder of the checkout. */
export const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..', '..');
export const require = createRequire(path.join(root, 'package.json'));

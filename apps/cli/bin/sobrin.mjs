#!/usr/bin/env node
// Builds the core, the rendering and the command where they are stale, then runs the command.
import path from 'node:path';
import { buildPackages } from '../../../scripts/lib/build.mjs';
import { root, require } from '../../../scripts/lib/root.mjs';

try {
  await buildPackages(['packages/core', 'packages/rendering', 'apps/cli']);
} catch (error) {
  console.error(`sobrin: the command could not be built: ${error.message}`);
  process.exit(2);
}
const { run } = require(path.join(root, 'apps/cli/dist/main.js'));
process.exitCode = await run(process.argv, process.stdout, process.stderr);

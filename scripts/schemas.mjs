// npm run schemas: publishes the JSON Schemas of the documents in docs/format. A test says when they are out of date.
import { mkdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { buildPackages } from './lib/build.mjs';
import { root, require } from './lib/root.mjs';

await buildPackages(['packages/core']);
const { publishedSchemas } = require(path.join(root, 'packages/core/dist/formats/index.js'));
const folder = path.join(root, 'docs', 'format');
mkdirSync(folder, { recursive: true });
for (const [name, schema] of Object.entries(publishedSchemas()))
  writeFileSync(path.join(folder, `${name}.schema.json`), `${JSON.stringify(schema, null, 1)}\n`);

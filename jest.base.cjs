const fs = require('node:fs');
const path = require('node:path');

const swcrc = JSON.parse(fs.readFileSync(path.join(__dirname, '.swcrc'), 'utf8'));

module.exports = {
  // With npm test most files are run together: see scripts/lib/together.mjs.
  testMatch: ['**/*.spec.ts', '**/*.spec.tsx', ...(process.env.SOBRIN_TOGETHER ? ['**/together/*.cjs'] : [])],
  testPathIgnorePatterns: ['/node_modules/', '/dist/'],
  modulePathIgnorePatterns: ['/dist/'],
  transform: { '^.+\\.(t|j)sx?$': ['@swc/jest', { ...swcrc, swcrc: false, sourceMaps: 'inline' }] },
  testEnvironment: 'node',
  testEnvironmentOptions: { customExportConditions: ['@sobrin/source', 'require', 'node', 'default'] },
};

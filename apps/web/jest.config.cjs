// Packages that come as ES modules only: Jest runs CommonJS, so they are compiled like our own code.
const ES_MODULES =
  'react-markdown|remark-|micromark|mdast-|unist-|unified|hast-|vfile|devlop|property-information|space-separated|comma-separated|decode-named|character-|ccount|escape-string-regexp|markdown-table|zwitch|longest-streak|trim-lines|trough|bail|is-plain-obj|p-limit|yocto-queue|html-url-attributes|estree-util';

module.exports = {
  ...require('../../jest.base.cjs'),
  displayName: 'web',
  rootDir: __dirname,
  testEnvironment: 'jest-environment-jsdom',
  testEnvironmentOptions: { customExportConditions: ['@sobrin/source', 'browser', 'require', 'default'] },
  moduleNameMapper: {
    '\\.css$': '<rootDir>/src/tests/style-stub.cjs',
    '^@mui/material$': '<rootDir>/src/tests/mui.cjs',
    '^@emotion/sheet$': '<rootDir>/src/tests/sheet-stub.cjs',
  },
  transformIgnorePatterns: [`/node_modules/(?!(${ES_MODULES}))`],
  setupFiles: ['<rootDir>/src/tests/globals.cjs'],
  setupFilesAfterEnv: ['<rootDir>/src/tests/setup.ts'],
};

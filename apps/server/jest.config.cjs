module.exports = {
  ...require('../../jest.base.cjs'),
  displayName: 'server',
  rootDir: __dirname,
  globalSetup: '<rootDir>/src/tests/template.ts',
};

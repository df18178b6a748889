module.exports = {
  ...require('../../jest.base.cjs'),
  displayName: 'web',
  rootDir: __dirname,
  testEnvironment: 'jest-environment-jsdom',
  testEnvironmentOptions: { customExportConditions: ['@sobrin/source', 'browser', 'require', 'default'] },
  moduleNameMapper: { '\\.css$': '<rootDir>/src/tests/style-stub.cjs' },
  setupFiles: ['<rootDir>/src/tests/globals.cjs'],
  setupFilesAfterEnv: ['<rootDir>/src/tests/setup.ts'],
};

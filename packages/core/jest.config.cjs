module.exports = { ...require('../../jest.base.cjs'), displayName: 'core', rootDir: __dirname };

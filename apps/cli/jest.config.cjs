module.exports = { ...require('../../jest.base.cjs'), displayName: 'cli', rootDir: __dirname };

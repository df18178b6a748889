module.exports = { ...require('../../jest.base.cjs'), displayName: 'press', rootDir: __dirname };

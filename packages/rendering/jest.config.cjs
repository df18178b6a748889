module.exports = { ...require('../../jest.base.cjs'), displayName: 'rendering', rootDir: __dirname };

module.exports = { ...require('../../jest.base.cjs'), displayName: 'contracts', rootDir: __dirname };

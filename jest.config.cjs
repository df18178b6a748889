module.exports = {
  projects: ['packages/core', 'packages/contracts', 'apps/server', 'apps/cli', 'apps/web'].map((p) => `<rootDir>/${p}`),
};

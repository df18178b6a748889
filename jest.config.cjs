// Machines are shared: a test is slow when others are busy, and fails only when it hangs.
module.exports = {
  testTimeout: 300_000 * Number(process.env.SOBRIN_RUNS ?? 1),
  projects: ['packages/core', 'packages/contracts', 'packages/rendering', 'apps/server', 'apps/cli', 'apps/web'].map(
    (p) => `<rootDir>/${p}`,
  ),
};

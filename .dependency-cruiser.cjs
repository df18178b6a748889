/** Imports go downwards only: see docs/decisions/0002-layers.md. */
const only = (name, from, allowed) => ({
  name,
  severity: 'error',
  from: { path: `^${from}`, pathNot: '\\.spec\\.tsx?$|/tests/' },
  to: { path: '^(packages|apps)/', pathNot: [from, ...allowed].map((path) => `^${path}`) },
});
const core = 'packages/core/src';
/** What every part of the core may use. */
const base = ['result', 'records', 'plural', 'collation', 'nearest', 'version'].map((file) => `${core}/${file}`);
/** That, and some of its folders. */
const may = (...folders) => [...base, ...folders.map((folder) => `${core}/${folder}/`)];

/** The layers of the engine from below: each uses those before it, by what their index tells. */
const layers = [
  'devices',
  'physical',
  'datalink',
  'filters',
  'network',
  'forwarding',
  'leases',
  'convergence',
  'reach',
  'analysis',
  'services',
  'queries',
  'lints',
];
const engine = layers.flatMap((layer, at) => [
  {
    name: `engine-${layer}-uses-what-lies-below`,
    severity: 'error',
    from: { path: `^${core}/engine/${layer}/`, pathNot: '\\.spec\\.ts$' },
    to: { path: `^${core}/engine/(index|${['no-layer', ...layers.slice(at + 1)].join('/|')}/)` },
  },
  {
    name: `engine-${layer}-by-its-index`,
    severity: 'error',
    from: { path: `^${core}/`, pathNot: `^${core}/engine/${layer}/` },
    to: { path: `^${core}/engine/${layer}/`, pathNot: '/index\\.ts$' },
  },
]);

module.exports = {
  forbidden: [
    ...engine,
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
    only('address-stands-alone', `${core}/address/`, base),
    only('changes-stand-alone', `${core}/changes/`, base),
    only('topology-imports-address', `${core}/topology/`, may('changes', 'address')),
    only('plan-imports-topology', `${core}/plan/`, may('changes', 'address', 'topology')),
    only('drawing-imports-topology', `${core}/drawing/`, may('address', 'topology')),
    only('engine-imports-topology', `${core}/engine/`, may('changes', 'address', 'topology')),
    only('frames-import-engine', `${core}/frames/`, may('address', 'topology', 'engine')),
    only(
      'editing-imports-engine',
      `${core}/editing/`,
      may('changes', 'address', 'topology', 'plan', 'drawing', 'engine'),
    ),
    only(
      'faults-import-editing',
      `${core}/faults/`,
      may('changes', 'address', 'topology', 'plan', 'drawing', 'engine', 'editing'),
    ),
    only(
      'bench-imports-editing',
      `${core}/bench/`,
      may('changes', 'address', 'topology', 'plan', 'drawing', 'engine', 'editing'),
    ),
    only(
      'spec-imports-editing',
      `${core}/spec/`,
      may('changes', 'drawing', 'editing', 'faults', 'address', 'topology', 'engine', 'plan'),
    ),
    only('core-stands-alone', 'packages/core/', []),
    only('contracts-import-core', 'packages/contracts/', ['packages/core/']),
    only('rendering-imports-core', 'packages/rendering/', ['packages/core/']),
    only('server-imports-contracts', 'apps/server/', ['packages/']),
    only('web-imports-contracts', 'apps/web/', ['packages/core/', 'packages/contracts/']),
    {
      name: 'web-takes-types-of-contracts',
      comment: 'Their classes need decorators that no browser has; only how paths are made is taken.',
      severity: 'error',
      from: { path: '^apps/web/', pathNot: '/api/client\\.ts$|\\.spec\\.tsx?$|/tests/' },
      to: { path: '^packages/contracts/', dependencyTypesNot: ['type-only'] },
    },
    only('cli-imports-core', 'apps/cli/', ['packages/core/', 'packages/rendering/']),
    {
      name: 'core-has-no-input-or-output',
      severity: 'error',
      from: { path: `^${core}`, pathNot: '\\.spec\\.ts$|/tests/' },
      to: { dependencyTypes: ['core'] },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '/dist/' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.base.json' },
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['@sobrin/source', 'import', 'require', 'node', 'default'],
    },
  },
};

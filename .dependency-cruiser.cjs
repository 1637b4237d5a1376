/** Imports point only downward: app > features > state, engine > core; cli > engine > core. The core has floors of its own. */
const only = (name, from, to, comment) => ({
  name,
  severity: 'error',
  comment,
  from: { path: from },
  to: { path: to },
});

/** The core's floors, from the ground up. Each may import from those before it. */
const FLOORS = [
  'errors',
  'settings',
  'color',
  'image',
  'kernels',
  'optics',
  'formats',
  'light',
  'stations',
  'look',
  'measure',
  'bench',
  '(print|shot|jobs)',
];
const floor = (name) => `^src/core/${name}(/|\\.ts$)`;

/** One rule a floor. Types of the look, the document that all floors speak of, may be imported upward. */
const floors = FLOORS.slice(0, -1).map((name, index) => ({
  name: `core-floor-${name}`,
  severity: 'error',
  comment: `${name} lies below ${FLOORS.slice(index + 1).join(', ')}`,
  from: { path: floor(name), pathNot: '\\.test\\.ts$' },
  to: {
    path: FLOORS.slice(index + 1).map(floor),
    pathNot: '^src/core/look/.*',
    dependencyTypesNot: [],
  },
}));
const typesOfTheLook = FLOORS.slice(0, FLOORS.indexOf('look')).map((name) => ({
  name: `core-look-types-${name}`,
  severity: 'error',
  comment: 'of the look, only types may be imported upward',
  from: { path: floor(name), pathNot: '\\.test\\.ts$' },
  to: { path: floor('look'), dependencyTypesNot: ['type-only'] },
}));

module.exports = {
  forbidden: [
    {
      name: 'no-circular',
      severity: 'error',
      from: {},
      // Types of the look point up from the stations that it is composed of.
      to: { circular: true, viaOnly: { pathNot: '^src/core/look/', dependencyTypesNot: [] } },
    },
    ...floors,
    ...typesOfTheLook,
    only(
      'core-alone',
      '^src/core/',
      '^(src/(app|features|state|engine|cli)|demo|bench)/',
      'the core knows nothing above it',
    ),
    {
      name: 'core-neutral',
      severity: 'error',
      comment: 'the core computes; no page, no server, no storage in it',
      from: { path: '^src/core/', pathNot: '\\.test\\.ts$' },
      to: {
        path: '^(node_modules/)?(react|react-dom|next|@mui|localforage|zustand)(/|$)|^node:',
        dependencyTypesNot: ['type-only'],
      },
    },
    {
      name: 'core-no-node',
      severity: 'error',
      from: { path: '^src/core/', pathNot: '\\.test\\.ts$' },
      to: { dependencyTypes: ['core'] },
    },
    only('engine-on-core', '^src/engine/', '^src/(app|features|state|cli)/', 'the engine runs the core'),
    only('cli-on-engine', '^src/cli/', '^src/(app|features|state)/', 'the command line has no screen'),
    only(
      'server-on-core',
      '^src/server/',
      '^src/(app|features|state|engine|cli)/',
      'the server runs the command line',
    ),
    only('server-for-app', '^src/(features|state|engine|cli|core)/', '^src/server/', 'only the app serves'),
    only('state-below-features', '^src/state/', '^src/(app|features|cli)/', 'state knows no screen'),
    only('features-below-app', '^src/features/', '^src/(app|cli)/', 'features are mounted by the app'),
    {
      name: 'features-by-their-index',
      severity: 'error',
      comment: 'a feature uses another only through its index',
      from: { path: '^src/features/([^/]+)/' },
      to: {
        path: '^src/features/([^/]+)/.+',
        pathNot: ['^src/features/$1/', '^src/features/[^/]+/index\\.ts$'],
      },
    },
    only('demo-on-core', '^demo/', '^src/(app|features|state|engine|cli)/', 'the tracer uses only the core'),
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'require', 'node', 'default'],
    },
  },
};

/** Directions between the workspaces and between the rooms of the application; no cycles anywhere, of files or of folders. */

const LIB = '^web/src/lib/';
/** Rooms of the application from the lowest up; those in one place know nothing of each other. */
const FLOORS = [['ui', 'api'], ['market'], ['theory'], ['measures'], ['shell'], ['views']];
/** Rooms that others enter by their face alone. */
const FACES = ['market', 'measures'];

/** What a room may not know: its neighbours and every floor above it, and the server. */
const floors = FLOORS.flatMap((rooms, floor) =>
  rooms.map((room) => ({
    name: `${room}-knows-what-is-below`,
    severity: 'error',
    from: { path: `${LIB}${room}/` },
    to: {
      path: `${LIB}(${[...rooms.filter((other) => other !== room), ...FLOORS.slice(floor + 1).flat(), 'server'].join('|')})/`,
    },
  })),
);

const faces = FACES.map((room) => ({
  name: `${room}-by-its-face`,
  severity: 'error',
  from: { pathNot: `${LIB}${room}/` },
  to: { path: `${LIB}${room}/(?!index)` },
}));

module.exports = {
  forbidden: [
    { name: 'no-cycle', severity: 'error', from: {}, to: { circular: true } },
    { name: 'no-folder-cycle', scope: 'folder', severity: 'error', from: {}, to: { circular: true } },
    { name: 'core-is-lowest', severity: 'error', from: { path: '^core/src' }, to: { pathNot: '^core/src' } },
    {
      name: 'core-folders-by-their-face',
      severity: 'error',
      from: { path: '^core/src/([^/]+)/' },
      to: { path: '^core/src/[^/]+/(?!index)', pathNot: '^core/src/$1/' },
    },
    { name: 'market-below-web', severity: 'error', from: { path: '^market/src' }, to: { path: '^(web|bench|e2e)/' } },
    ...floors,
    ...faces,
    {
      name: 'theory-by-its-faces',
      severity: 'error',
      comment: 'One for what computes, one for the thread that only a page has.',
      from: { pathNot: `${LIB}theory/` },
      to: { path: `${LIB}theory/(?!index|thread/index|thread/[a-z]+\\.worker)` },
    },
    {
      name: 'views-know-no-other-view',
      severity: 'error',
      from: { path: `${LIB}views/([^/]+)/` },
      to: { path: `${LIB}views/`, pathNot: `${LIB}views/$1/` },
    },
    {
      name: 'server-knows-no-page',
      severity: 'error',
      from: { path: `${LIB}server/` },
      comment: 'The catalogue of measures is both sides.',
      to: { path: `${LIB}(ui|shell|views)/` },
    },
    {
      name: 'services-know-no-http',
      severity: 'error',
      from: { path: '^web/src/lib/server/(services|repositories|database)' },
      to: { path: '^web/src/(lib/server/http|routes)' },
    },
    {
      name: 'routes-ask-services',
      severity: 'error',
      from: { path: '^web/src/routes' },
      to: { path: '^web/src/lib/server/(repositories|database)' },
    },
    {
      name: 'contract-below-client',
      severity: 'error',
      comment: 'Schemas, then routes made of them, then what asks them.',
      from: { path: `${LIB}api/(?!client)` },
      to: { path: `${LIB}api/client/` },
    },
    {
      name: 'repositories-below-services',
      severity: 'error',
      from: { path: '^web/src/lib/server/(repositories|database)' },
      to: { path: '^web/src/lib/server/services' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(\\.svelte-kit|build|node_modules)' },
    tsPreCompilationDeps: true,
    // Where $lib is.
    tsConfig: { fileName: 'tsconfig.layers.json' },
    enhancedResolveOptions: {
      extensions: ['.ts', '.js', '.svelte'],
      exportsFields: ['exports'],
      conditionNames: ['import', 'types'],
    },
  },
};

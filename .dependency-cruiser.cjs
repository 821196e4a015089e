/** Directions between the workspaces, and no cycles anywhere. */
module.exports = {
  forbidden: [
    { name: 'no-cycle', severity: 'error', from: {}, to: { circular: true } },
    { name: 'core-is-lowest', severity: 'error', from: { path: '^core/src' }, to: { pathNot: '^core/src' } },
    { name: 'market-below-web', severity: 'error', from: { path: '^market/src' }, to: { path: '^(web|bench|e2e)/' } },
    {
      name: 'schema-below-server',
      severity: 'error',
      from: { path: '^web/src/lib/(schema|theory|figures|measures|reading|chart)' },
      to: { path: '^web/src/lib/(server|components|state)' },
    },
    {
      name: 'theory-below-figures',
      severity: 'error',
      from: { path: '^web/src/lib/theory' },
      to: { path: '^web/src/lib/(figures|measures|reading|chart|server|components|state)' },
    },
    {
      name: 'theory-by-its-face',
      severity: 'error',
      from: { pathNot: '^web/src/lib/theory' },
      to: { path: '^web/src/lib/theory/(?!index)' },
    },
    {
      name: 'services-know-no-http',
      severity: 'error',
      from: { path: '^web/src/lib/server/(services|repositories|database)' },
      to: { path: '^web/src/(lib/server/http|routes)' },
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
    enhancedResolveOptions: {
      extensions: ['.ts', '.js', '.svelte'],
      exportsFields: ['exports'],
      conditionNames: ['import', 'types'],
    },
  },
};

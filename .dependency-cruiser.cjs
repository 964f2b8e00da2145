/** One direction of imports: core ← server, web, demo; nobody imports from them sideways. */
module.exports = {
  forbidden: [
    {
      name: 'core-depends-on-nobody',
      severity: 'error',
      from: { path: '^core/' },
      to: { path: '^(server|web|demo|e2e|bench|standins)/' },
    },
    {
      name: 'core-without-node',
      severity: 'error',
      from: { path: '^core/', pathNot: '\\.test\\.ts$' },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'web-not-from-server',
      severity: 'error',
      from: { path: '^web/' },
      to: { path: '^(server|demo|e2e|bench|standins)/' },
    },
    {
      name: 'server-not-from-web',
      severity: 'error',
      from: { path: '^server/' },
      to: { path: '^(web|e2e|bench|standins)/' },
    },
    {
      name: 'standins-only-from-core',
      severity: 'error',
      from: { path: '^standins/' },
      to: { path: '^(server|web|demo|e2e|bench)/' },
    },
    {
      name: 'routes-over-services',
      severity: 'error',
      from: { path: '^server/routes/' },
      to: { path: '^server/(store|migrations)/' },
    },
    {
      name: 'store-below-services',
      severity: 'error',
      from: { path: '^server/store/' },
      to: { path: '^server/(routes|services|jobs)/' },
    },
    {
      name: 'no-circles',
      severity: 'error',
      from: {},
      to: { circular: true },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(^|/)dist/' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'require', 'default'],
      extensions: ['.ts', '.tsx', '.js', '.mjs', '.json'],
    },
  },
};

// The arrows between the rooms: core imports nothing of ours; server, simulator and ui never import
// each other, but ui may take the server's API types; app arranges ui.
const room = (name) => `^src/${name}/`
module.exports = {
  forbidden: [
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
    {
      name: 'core-imports-nothing-of-ours',
      severity: 'error',
      from: { path: room('core') },
      to: { path: '^(src/(server|simulator|ui|app)|e2e|bench|scripts|demo)/' },
    },
    {
      name: 'core-has-no-io',
      severity: 'error',
      from: { path: room('core'), pathNot: '\\.test\\.ts$' },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'server-stays-home',
      severity: 'error',
      from: { path: room('server') },
      to: { path: '^src/(simulator|ui|app)/' },
    },
    {
      name: 'simulator-stays-home',
      severity: 'error',
      from: { path: room('simulator') },
      to: { path: '^src/(server|ui|app)/' },
    },
    {
      name: 'ui-stays-home',
      severity: 'error',
      from: { path: '^src/(ui|app)/' },
      to: { path: '^src/(simulator|server)/', pathNot: '^src/server/api\\.ts$' },
    },
    {
      name: 'ui-takes-types-only',
      severity: 'error',
      from: { path: '^src/(ui|app)/' },
      to: { path: '^src/server/api\\.ts$', dependencyTypesNot: ['type-only'] },
    },
    {
      name: 'ui-does-not-import-routes',
      severity: 'error',
      from: { path: room('ui') },
      to: { path: room('app') },
    },
    {
      name: 'guardian-stays-small',
      severity: 'error',
      from: { path: room('guardian'), pathNot: '\\.test\\.ts$' },
      to: {
        path: '^(src/|node_modules/)',
        pathNot: '^src/(guardian/|core/guardian/|server/links/(httpLogin|pinned)\\.ts$)',
      },
    },
    {
      name: 'guardian-is-alone',
      severity: 'error',
      from: { path: '^src/(core|server|simulator|ui|app)/' },
      to: { path: room('guardian') },
    },
    {
      // What checks a codec shares no code with it.
      name: 'independent-shares-nothing',
      severity: 'error',
      from: { path: '^src/simulator/independent/' },
      to: { path: '^src/', pathNot: '^src/simulator/independent/' },
    },
    {
      name: 'conformance-is-for-tests',
      severity: 'error',
      from: { path: '^src/(core|server|simulator|ui|app|guardian)/' },
      to: { path: '^src/conformance/' },
    },
    { name: 'not-to-unresolvable', severity: 'error', from: {}, to: { couldNotResolve: true } },
    {
      name: 'no-orphans',
      severity: 'error',
      from: { orphan: true, path: '^src/', pathNot: '(^src/app/|\\.d\\.ts$)' },
      to: {},
    },
  ],
  options: {
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    doNotFollow: { path: 'node_modules' },
    enhancedResolveOptions: {
      extensions: ['.web.tsx', '.web.ts', '.tsx', '.ts', '.mjs', '.js', '.json'],
      mainFields: ['module', 'main', 'types'],
      exportsFields: ['exports'],
      conditionNames: ['import', 'require', 'node', 'default', 'types'],
    },
  },
}

/** The rooms and who may enter them (ARCHITECTURE.md). An import that runs the other way is a build error. */
const test = '(\\.test|\\.spec)\\.ts$|/test/';
module.exports = {
  forbidden: [
    { name: 'no-circular', severity: 'error', from: {}, to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only'] } } },
    {
      name: 'core-is-pure',
      comment: 'No Angular, no Fastify, no SQL, no Node: small numeric packages only.',
      severity: 'error',
      from: { path: '^core/src' },
      to: { pathNot: ['^core/src', 'node_modules/(big\\.js|@types/big\\.js|temporal-|tinyqueue)'] },
    },
    { name: 'rig-knows-no-method', comment: 'What makes the readings must not be what judges them.', severity: 'error', from: { path: '^core/src/rig/' }, to: { path: '^core/src/(method|run)/' } },
    { name: 'method-knows-no-rig', severity: 'error', from: { path: '^core/src/(method|run|procedure|quantity|physics|uncertainty|schedule|fit|trend)/' }, to: { path: '^core/src/(rig|practice)/' } },
    { name: 'method-below-run', severity: 'error', from: { path: '^core/src/(method|procedure|quantity|physics|uncertainty|schedule|fit|trend)/' }, to: { path: '^core/src/run/' } },
    { name: 'contract-on-core', severity: 'error', from: { path: '^contract/' }, to: { path: '^(server|web|tools|e2e)/' } },
    { name: 'server-not-web', severity: 'error', from: { path: '^server/', pathNot: test }, to: { path: '^(web|tools|e2e)/' } },
    { name: 'web-not-server', severity: 'error', from: { path: '^web/' }, to: { path: '^(server|tools|e2e)/' } },
    { name: 'tools-not-web', severity: 'error', from: { path: '^tools/' }, to: { path: '^(web|e2e)/' } },
    {
      name: 'by-the-front-door',
      comment: 'A room of the core is entered by its index.',
      severity: 'error',
      from: { path: '^core/src/([^/]+)/' },
      to: { path: '^core/src/([^/]+)/(?!index\\.ts$)', pathNot: ['^core/src/$1/'] },
    },
    { name: 'no-unresolvable', severity: 'error', from: {}, to: { couldNotResolve: true } },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(^|/)(dist|results)/' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.base.json' },
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'types', 'node', 'default'], extensions: ['.ts', '.js', '.mjs', '.json'] },
  },
};

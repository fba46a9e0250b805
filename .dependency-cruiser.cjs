/** The rooms and who may enter them (ARCHITECTURE.md). An import that runs the other way is a build error. */
const test = '(\\.test|\\.spec)\\.ts$|/test/';

/** Rooms from the ground up: a room may know those of the floors below it, never one above. Rooms of one floor stand in one entry. */
const floors = {
  core: ['quantity', 'uncertainty|physics|procedure|register', 'fit|trend|schedule', 'method|calculation', 'run', 'rig', 'practice'],
  server: [
    'base',
    'db',
    'procedure',
    'standing',
    'station|account',
    'register|document',
    'run',
    'record|round',
    'calibration|answer',
    'along',
    'change|transfer|verify',
    'paper',
    'app',
  ],
};

/** No room knows one above it. */
const upward = Object.entries(floors).flatMap(([workspace, rooms]) =>
  rooms.slice(0, -1).map((room, i) => ({
    name: `${workspace}-${room.split('|')[0].replace('/', '-')}-not-upward`,
    severity: 'error',
    from: { path: `^${workspace}/src/(${room})/` },
    to: { path: `^${workspace}/src/(${rooms.slice(i + 1).join('|')})/` },
  })),
);

module.exports = {
  forbidden: [
    ...upward,
    { name: 'no-folder-circles', comment: 'Two folders that know one another are one.', severity: 'error', scope: 'folder', from: {}, to: { circular: true } },
    { name: 'no-circular', severity: 'error', from: {}, to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only'] } } },
    {
      name: 'core-is-pure',
      comment: 'No Angular, no Fastify, no SQL, no Node: small numeric packages only.',
      severity: 'error',
      from: { path: '^core/src' },
      to: { pathNot: ['^core/src', 'node_modules/(big\\.js|@types/big\\.js|temporal-|tinyqueue|suncalc)'] },
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
    {
      name: 'by-the-front-door-of-the-server',
      comment: 'A room of the server is entered by its index.',
      severity: 'error',
      from: { path: '^server/src/((register|answer)/[^/]+|[^/]+)/' },
      to: { path: '^server/src/.+', pathNot: ['^server/src/$1/', '^server/src/((register|answer)/)?[^/]+/index\\.ts$'] },
    },
    { name: 'no-unresolvable', severity: 'error', from: {}, to: { couldNotResolve: true } },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    // What the component tests share knows everything, and nothing but them knows it.
    exclude: { path: '(^|/)(dist|results)/|^web/src/testing/' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.base.json' },
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'types', 'node', 'default'], extensions: ['.ts', '.js', '.mjs', '.json'] },
  },
};

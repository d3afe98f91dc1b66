/** Which folder may know which: the arrows of docs/contributing.md. Type-only imports count, too. */
const to = (...folders) => ({ path: `^(?:${folders.join('|')})/` })
const except = (...folders) => ({
  path: '^(?:app|client|core|extension|gateway|shipper|worker|server|standins|environment|scripts|tests)/',
  pathNot: `^(?:${folders.join('|')})/`,
})
const arrow = (name, from, allowed, comment) => ({
  name,
  comment,
  severity: 'error',
  from: { path: `^${from}/` },
  to: except(...allowed),
})

module.exports = {
  forbidden: [
    {
      name: 'no-cycle',
      comment: 'Two files that need each other are one concept, or one too many.',
      severity: 'error',
      from: {},
      to: { circular: true },
    },
    arrow('core-imports-nobody', 'core', ['core'], 'core imports nobody but itself.'),
    {
      name: 'core-does-no-io',
      comment: 'core does no I/O and knows no framework.',
      severity: 'error',
      from: { path: '^core/' },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'core-knows-no-framework',
      severity: 'error',
      from: { path: '^core/' },
      to: { path: 'node_modules/(?:vue|nuxt|@nuxt|h3|sequelize|mariadb|umzug|vuetify|pinia)/' },
    },
    arrow('environment-imports-nobody', 'environment', ['environment'], 'environment imports nobody.'),
    arrow('client-imports-nobody', 'client', ['client'], 'the client knows the API’s document and nothing else.'),
    arrow('extension-to-core', 'extension', ['extension', 'core'], 'extension → core only.'),
    arrow('server-to-core', 'server', ['server', 'core', 'environment'], 'server → core only.'),
    arrow('gateway-to-core', 'gateway', ['gateway', 'core', 'environment'], 'gateway → core only.'),
    arrow('shipper-to-core', 'shipper', ['shipper', 'core', 'environment'], 'shipper → core only.'),
    arrow('worker-to-usecases', 'worker', ['worker', 'server', 'core', 'environment'], 'worker → server → core.'),
    arrow('app-to-core', 'app', ['app', 'core'], 'app → core only; the server is reached through the API.'),
    {
      name: 'standins-know-dns',
      comment: 'stand-ins know only core/dns.',
      severity: 'error',
      from: { path: '^standins/' },
      to: { path: '^(?:app|core/(?!dns/)|gateway|shipper|worker|server|environment|scripts|tests)/' },
    },
    {
      name: 'docket-below-usecases',
      comment: 'Only routes and the docket’s own use cases know the registry of lanes.',
      severity: 'error',
      from: { path: '^server/usecases/(?!docket/)' },
      to: { path: '^server/docket/lanes' },
    },
    {
      name: 'nobody-imports-app',
      severity: 'error',
      from: { path: '^(?:core|gateway|shipper|worker|server|standins|environment|scripts)/' },
      to: to('app'),
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '^(?:\\.nuxt|\\.output|dist|node_modules|tests/e2e)' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.processes.json' },
    enhancedResolveOptions: { extensions: ['.ts', '.vue', '.mjs', '.js', '.json'] },
  },
}

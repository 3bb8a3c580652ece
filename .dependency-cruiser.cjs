/** What may import what: the way of dependencies, which the folders' names promise. */
const only = (from, to, comment) => ({
  name: `${from}-imports`,
  comment,
  severity: 'error',
  from: { path: `^${from}/`, pathNot: '\\.test\\.ts$' },
  to: { path: '^(app|bench|cli|core|delivery|demo|server|shared|stand-ins|tests)/', pathNot: `^(${to.join('|')})/` },
})

module.exports = {
  forbidden: [
    only('core', ['core'], 'core/ imports nothing outside of core/'),
    only('shared', ['shared', 'core'], 'shared/ imports from core/ only'),
    only('delivery', ['delivery', 'shared', 'core'], 'delivery/ imports from core/ and the protocols in shared/ only'),
    // The preview of a survey is the survey itself.
    only('app', ['app', 'shared', 'core', 'delivery/survey'], 'app/ imports from shared/ and core/ only'),
    only(
      'server',
      ['server', 'shared', 'core', 'stand-ins'],
      'server/ imports from shared/, core/ and stand-ins/ only',
    ),
    {
      name: 'core-packages',
      comment: 'core/ uses small pure libraries only',
      severity: 'error',
      from: { path: '^core/', pathNot: '\\.test\\.ts$' },
      to: {
        dependencyTypesNot: ['local', 'undetermined'],
        pathNot:
          'node_modules/(@stdlib|@noble\/hashes|acorn|pure-rand|css-what|htmlparser2|parse5|redos-detector|temporal-polyfill)/',
      },
    },
    {
      name: 'no-circles',
      severity: 'error',
      from: {},
      to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only'] } },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.tools.json' },
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'node', 'default', 'types'] },
    exclude: { path: '(^|/)(\\.nuxt|\\.output|test-results)/' },
  },
}

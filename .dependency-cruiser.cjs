/** Who may import whom: core imports nothing but itself; page, server and studio import core; app imports studio and server. */
const only = (name, from, allowed, comment) => ({
  name,
  comment,
  severity: 'error',
  from: { path: from, pathNot: '\\.test\\.tsx?$' },
  to: { path: '^(src|demo|bench|standins)/', pathNot: allowed },
});

module.exports = {
  forbidden: [
    {
      name: 'core-floors',
      comment: 'The families of conditions stand on logic, pages, history and time; the rule language stands on the families.',
      severity: 'error',
      from: { path: '^src/core/(logic|parsing|time|geo|history|typing|pages|people|moments|pacing)/', pathNot: '\\.test\\.ts$' },
      to: { path: '^src/core/(rules|rehearsal|release|counting|campaigns|flows|messages|results)/' },
    },
    {
      name: 'logic-alone',
      comment: 'Logic and parsing know no condition.',
      severity: 'error',
      from: { path: '^src/core/(logic|parsing)/', pathNot: '\\.test\\.ts$' },
      to: { path: '^src/core/', pathNot: '^src/core/(logic|parsing|time)/' },
    },
    only('core-alone', '^src/core/', '^src/core/', 'The core is pure and knows nobody.'),
    {
      name: 'core-without-platform',
      comment:
        'No Node, DOM library, database or framework in the core; Zod, changes of immutable documents (immer), colours (d3-color), distribution functions for the results, a distance of words, calendars (ical.js), and the types of fast-check for the kinds’ examples.',
      severity: 'error',
      from: { path: '^src/core/', pathNot: '\\.test\\.ts$' },
      to: {
        dependencyTypes: ['core', 'npm'],
        pathNot: '^node_modules/(zod|immer|d3-color|@stdlib|fastest-levenshtein|ical\.js|fast-check)',
      },
    },
    only('page-on-core', '^src/page/', '^src/(core|page)/', 'The page script is core and itself.'),
    {
      name: 'page-without-packages',
      comment: 'No library in other people’s pages; the dock of a try-out is loaded by nobody else.',
      severity: 'error',
      from: { path: '^src/page/', pathNot: '^src/page/tryout/(dock|pointing)/' },
      to: { dependencyTypes: ['npm'] },
    },
    only('server-on-core', '^src/server/', '^src/(core|server)/', 'The server does not know the interface.'),
    only(
      'studio',
      '^src/studio/',
      '^src/(core|studio|page/(show|chat)|server)/',
      'The studio may take types of the server and the page script’s renderer.',
    ),
    {
      name: 'studio-server-types-only',
      comment: 'What runs in the browser takes no code of the server.',
      severity: 'error',
      from: { path: '^src/studio/' },
      to: { path: '^src/server/', dependencyTypesNot: ['type-only'] },
    },
    only('demo', '^(demo|standins)/', '^(src/(core|server|cli)|demo|standins)/', 'The demo builds on the server.'),
    {
      name: 'beside-the-product',
      comment: 'The demo, the benchmarks and the made-up services are no part of the product: nothing of it imports them.',
      severity: 'error',
      from: { path: '^src/', pathNot: '\\.test\\.tsx?$' },
      to: { path: '^(demo|bench|standins)/' },
    },
    { name: 'nobody-imports-app', severity: 'error', from: { pathNot: '^src/app/' }, to: { path: '^src/app/' } },
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only'] } } },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'node', 'default', 'types'] },
  },
};

/**
 * The floors of the house: each room imports only from the rooms below it. Kept by `npm run lint`.
 * @type {Record<string, string[]>}
 */
const MAY_IMPORT = {
  core: [],
  formats: ['core'],
  contract: ['core'],
  demo: ['core', 'formats', 'contract'],
  server: ['core', 'formats', 'contract', 'demo'],
  web: ['core', 'contract'],
  cli: ['core', 'formats'],
};
const ROOMS = Object.keys(MAY_IMPORT);

module.exports = {
  forbidden: [
    ...ROOMS.map((room) => ({
      name: `${room}-only-from-below`,
      comment: `${room} may import from: ${MAY_IMPORT[room].join(', ') || 'no other room'}.`,
      severity: 'error',
      from: { path: `^${room}/` },
      to: {
        path: `^(${ROOMS.filter((each) => each !== room && !MAY_IMPORT[room].includes(each)).join('|')}|e2e|tools)/`,
      },
    })),
    {
      name: 'core-has-no-outside',
      comment: 'Nothing in core touches files, the network, clocks of the system or an interface.',
      severity: 'error',
      from: { path: '^core/', pathNot: '\\.test\\.ts$' },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'no-circles',
      comment: 'Files that import each other cannot be understood one at a time.',
      severity: 'error',
      from: { pathNot: '^web/src/(app|workbench|report)/' },
      to: { circular: true },
    },
    {
      name: 'routes-ask-no-database',
      comment: 'Queries live in server/src/db; routes call them.',
      severity: 'error',
      from: { path: '^server/src/api/' },
      to: { path: '(drizzle-orm|/pg/)' },
    },
  ],
  options: {
    tsPreCompilationDeps: true,
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(/dist/|/types-out/)' },
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'types'] },
  },
};

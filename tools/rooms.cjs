/**
 * The floors of the house: each of our packages imports only from those named for it.
 * @type {Record<string, string[]>}
 */
const MAY_IMPORT = {
  core: [],
  formats: ['core'],
  documents: ['core'],
  contract: ['core', 'documents'],
  demo: ['core', 'formats', 'contract'],
  server: ['core', 'formats', 'documents', 'contract', 'demo'],
  web: ['core', 'documents', 'contract'],
  cli: ['core', 'formats'],
};
const PACKAGES = Object.keys(MAY_IMPORT);

/**
 * The rooms of a package, or of a room that has rooms of its own (by its path), from the ground up: a folder or file. Each imports only from itself and from those
 * before it, so that there can be no circle of rooms. Rooms joined by a space stand on the same floor and do not know of
 * each other. A test may look at what is above it: it checks what comes of its room there.
 * @type {Record<string, string[]>}
 */
const ROOMS = {
  core: [
    'fault',
    'sheet page',
    'formula find time anchor',
    'reach change recalc',
    'look',
    'chart',
    'face',
  ],
  formats: [
    'source now',
    'package',
    'rules',
    'moved-lines',
    'delimited odf ooxml picture',
    'taking calc',
    'open-source',
    'write-source',
    'plan-lines',
  ],
  documents: [
    'without-jit',
    'object',
    'shared',
    'kind',
    'page',
    'report drawing slides',
    'registry',
  ],
  server: [
    'tell together threads storage',
    'survive',
    'db',
    'events locks',
    'jobs',
    'following',
    'sources',
    'changing',
    'placing',
    'people',
    'documents outputs',
    'services',
    'api',
    'work-threads',
    'app demo',
    'engine',
    'serve',
    'main host testing',
  ],
  web: [
    'ui',
    'state',
    'placed modes',
    'slip sources',
    'documents',
    'page',
    'report drawing slides',
    'kinds',
    'alongside place ledger office',
    'log',
    'workbench',
    'desk',
    'app',
    'main',
  ],
  'server/src/sources': [
    'stamp locate take-in',
    'settle copy-file',
    'reading writing',
    'means',
    'reshow',
    'look',
    'asking',
    'watching',
    'folders',
  ],
  'web/src/page': [
    'surface',
    'drawn',
    'fields',
    'words plan',
    'things',
    'hand',
    'panel',
    'still screen',
  ],
  'web/src/report/text': [
    'shared',
    'reading',
    'finding comments',
    'blocks captions',
    'objects',
    'copying',
    'rail',
  ],
};

/** The folder whose rooms are listed under a name: that of a package, or one named by its path. */
const baseOf = (name) => (name.includes('/') ? name : `${name}/src`);
const labelOf = (name) => name.replaceAll('/', '-');

/** What may not be: an import of a room above, or of another room on the same floor. */
const roomRules = Object.entries(ROOMS).flatMap(([name, floors]) =>
  floors.flatMap((floor, at) =>
    floor.split(' ').map((room) => {
      const others = [...floor.split(' ').filter((each) => each !== room), ...floors.slice(at + 1)];
      return {
        name: `${labelOf(name)}-${room}-only-from-below`,
        comment: `In ${name}, ${room} may not import from: ${others.join(' ')}.`,
        severity: 'error',
        from: { path: `^${baseOf(name)}/${room}(/|\\.)`, pathNot: '\\.(test|fixture)\\.tsx?$' },
        to: { path: `^${baseOf(name)}/(${others.join(' ').split(' ').join('|')})(/|\\.)` },
      };
    }),
  ),
);
/** Every file stands in a room: one that does not is homeless. */
const homelessRules = Object.entries(ROOMS).map(([name, floors]) => ({
  name: `${labelOf(name)}-has-a-room-for-everything`,
  comment: `A file of ${name} stands in none of its rooms (tools/rooms.cjs).`,
  severity: 'error',
  from: {
    path: `^${baseOf(name)}/`,
    pathNot: `^${baseOf(name)}/((${floors.join(' ').split(' ').join('|')})(/|\\.)|[^/]+\\.(test|fixture)\\.tsx?$|index\\.)`,
  },
  to: {},
}));

module.exports = {
  forbidden: [
    ...PACKAGES.map((name) => ({
      name: `${name}-only-from-below`,
      comment: `${name} may import from: ${MAY_IMPORT[name].join(', ') || 'no other package'}.`,
      severity: 'error',
      from: { path: `^${name}/` },
      to: {
        path: `^(${PACKAGES.filter((each) => each !== name && !MAY_IMPORT[name].includes(each)).join('|')}|e2e|tools)/`,
      },
    })),
    ...roomRules,
    ...homelessRules,
    {
      name: 'core-has-no-outside',
      comment: 'Nothing in core touches files, the network, clocks of the system or an interface.',
      severity: 'error',
      from: { path: '^(core|documents)/', pathNot: '\\.test\\.ts$' },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'no-circles',
      comment: 'Files that import each other cannot be understood one at a time.',
      severity: 'error',
      from: {},
      to: { circular: true },
    },
    {
      name: 'routes-ask-no-database',
      comment: 'Queries live in server/src/db; routes call them.',
      severity: 'error',
      from: { path: '^server/src/api/' },
      to: { path: '(drizzle-orm|/pg/)' },
    },
    {
      name: 'one-naming-scheme',
      comment: 'Files are named in words joined by “-”; components and hooks of React as they are.',
      severity: 'error',
      from: {
        path: '/src/.*[A-Z][^/]*$',
        pathNot: '(/[A-Z][A-Za-z]*(\\.test)?\\.tsx|/use[A-Z][A-Za-z]*\\.tsx?)$',
      },
      to: {},
    },
    {
      name: 'one-editor',
      comment: 'The editor of texts is known to reports alone; everything else talks to a surface.',
      severity: 'error',
      from: { path: '^web/src/', pathNot: '^web/src/report/' },
      to: { path: 'node_modules/@tiptap/' },
    },
  ],
  options: {
    tsPreCompilationDeps: true,
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(/dist/|/types-out/)' },
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'types'] },
  },
};

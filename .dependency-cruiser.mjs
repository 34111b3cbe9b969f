// Which imports are not allowed, besides what the linter refuses file by file.
export default {
  forbidden: [
    {
      name: 'no-cycles',
      comment: 'Files that import each other cannot be understood, or moved, one at a time.',
      severity: 'error',
      from: {},
      to: { circular: true },
    },
    {
      name: 'rooms-by-their-door',
      comment: 'A room of the core is entered through its index.ts.',
      severity: 'error',
      from: { path: '^core/src/([^/]+)/' },
      to: { path: '^core/src/[^/]+/.+', pathNot: ['^core/src/$1/', '^core/src/[^/]+/index[.]ts$'] },
    },
    {
      name: 'server-rooms-by-their-door',
      comment: 'Likewise the rooms of the server; files of the ground are doors themselves.',
      severity: 'error',
      from: {
        path: '^app/src/(server)/([^/]+)/|^app/src/(worker|pages|web)/',
        // The program of a thread takes the work alone, not what asks for it.
        pathNot: '^app/src/worker/(web-thread|compute)[.]ts$',
      },
      to: {
        path: '^app/src/server/[^/]+/.+',
        pathNot: [
          '^app/src/server/$2/',
          '^app/src/server/ground/',
          '^app/src/server/[^/]+/index[.]ts$',
        ],
      },
    },
    {
      name: 'pages-by-their-door',
      severity: 'error',
      from: { path: '^app/src/islands/([^/]+)/' },
      to: {
        path: '^app/src/islands/[^/]+/.+',
        pathNot: ['^app/src/islands/$1/', '^app/src/islands/[^/]+/index[.]ts$'],
      },
    },
    {
      name: 'no-server-in-the-browser',
      severity: 'error',
      from: { path: '^app/src/(islands|browser|components|contract)/' },
      to: { path: '^app/src/(server|worker|web)/' },
    },
    {
      name: 'core-alone',
      severity: 'error',
      from: { path: '^core/src/' },
      to: { path: '^(app|demo)/' },
    },
  ],
  options: {
    // Imports of types alone are gone when the program runs.
    tsPreCompilationDeps: false,
    doNotFollow: { path: 'node_modules' },
  },
};

/** The import arrows of docs/ARCHITECTURE.md, and no cycles. */
const inCore = (folder, allowed) => ({
  name: `core-${folder}`,
  comment: `Inside core, ${folder} may use ${allowed.join(', ') || 'nothing else'}.`,
  severity: 'error',
  from: { path: `^packages/core/src/${folder}/`, pathNot: '\\.test\\.ts$' },
  to: { path: '^packages/core/src/', pathNot: `^packages/core/src/(${[folder, ...allowed].join('|')})/` },
});

module.exports = {
  forbidden: [
    { name: 'no-cycles', severity: 'error', from: {}, to: { circular: true } },
    {
      name: 'nothing-missing',
      severity: 'error',
      from: {},
      to: { couldNotResolve: true, pathNot: 'worker&url$|\\?worker' },
    },
    {
      name: 'core-stands-alone',
      severity: 'error',
      from: { path: '^packages/core/src/', pathNot: '\\.test\\.ts$' },
      to: { path: '^packages/(server|web|cli|contract)/' },
    },
    {
      name: 'core-has-no-platform',
      severity: 'error',
      from: { path: '^packages/core/src/', pathNot: '\\.test\\.ts$' },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'contract',
      severity: 'error',
      from: { path: '^packages/contract/' },
      to: { path: '^packages/(server|web|cli)/' },
    },
    {
      name: 'no-sideways',
      comment: 'Server, page and command line know core and the contract, not one another.',
      severity: 'error',
      from: { path: '^packages/(server|web|cli)/' },
      to: {
        path: '^packages/(server|web|cli)/',
        pathNot: '^packages/($1|server/src/(database|databaseFaults|migrate|archive/.*|threads/.*)\\.ts)',
      },
    },
    {
      name: 'only-the-command-line-reaches-the-database',
      comment: 'It writes and reads archives without a server; the page goes through the API.',
      severity: 'error',
      from: { path: '^packages/web/' },
      to: { path: '^packages/server/' },
    },
    inCore('dsp', []),
    inCore('parameters', ['dsp']),
    inCore('patch', ['parameters', 'dsp']),
    inCore('engine', ['patch', 'parameters', 'dsp']),
    inCore('reading', ['patch', 'parameters', 'dsp']),
    inCore('matching', ['reading', 'engine', 'patch', 'parameters', 'dsp']),
    inCore('formats', ['reading', 'engine', 'patch', 'parameters', 'dsp']),
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(^|/)(dist|node_modules|test-output)/' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'require', 'node', 'default', 'types'],
      extensions: ['.ts', '.tsx', '.js', '.mjs', '.cjs', '.json'],
    },
  },
};

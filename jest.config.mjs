/** ES modules that Jest, which runs CommonJS, must have translated. */
const esModules = [
  '@wasm-audio-decoders',
  'mpg123-decoder',
  'ogg-opus-decoder',
  'opus-decoder',
  'codec-parser',
  '@eshaz',
  'simple-yenc',
  'pitchy',
  'multistream',
  'wavefile',
  'react-hotkeys-hook',
  'p-limit',
  'yocto-queue',
  'idb-keyval',
];

const transform = {
  '^.+\\.(t|j|mj)sx?$': [
    '@swc/jest',
    {
      jsc: {
        target: 'es2022',
        parser: { syntax: 'typescript', tsx: true },
        transform: { react: { runtime: 'automatic' } },
      },
      module: { type: 'commonjs' },
    },
  ],
};

const shared = {
  transform,
  transformIgnorePatterns: [`node_modules/(?!(${esModules.join('|')})/)`],
  testEnvironment: 'node',
  // Threads are started by their bundled files, which there are none of here; styles say nothing to a test.
  moduleNameMapper: { '\\?worker(&url)?$': '<rootDir>/packages/web/test/workerStub.ts' },
  // Tests run in a sandbox in which every look-up of a global is slow; these are looked up in inner loops.
  sandboxInjectedGlobals: ['Math', 'Float32Array', 'Float64Array'],
  rootDir: '.',
};

/** Tests in the browser that record sound as it is played: a page each, two at a time. */
const sounding = ['buildTones', 'demoJob'];
/** Tests in the browser that measure times or memory. */
const timed = ['longFile', 'openAndClose'];
/** Tests of a server that runs, which they start from its build. */
const withServer = { ...shared, globalSetup: '<rootDir>/scripts/lib/buildServerForTests.mjs' };
const oneOf = (names) => names.map((name) => `**/${name}.test.ts`);

export default {
  testTimeout: 300_000,
  testSequencer: '<rootDir>/scripts/lib/longestFirst.mjs',
  maxWorkers: 2,
  projects: [
    {
      displayName: 'core',
      rootDir: '.',
      runner: '<rootDir>/scripts/lib/plainRunner.mjs',
      testMatch: ['**/*.test.ts'],
      roots: ['<rootDir>/packages/core'],
    },
    {
      ...shared,
      displayName: 'stores',
      testMatch: ['**/*.test.ts'],
      roots: ['<rootDir>/packages/cli', '<rootDir>/packages/web'],
    },
    {
      ...shared,
      displayName: 'page',
      roots: ['<rootDir>/packages/web'],
      testMatch: ['**/*.test.tsx'],
      testEnvironment: 'jsdom',
      // Else packages are taken in the form that a bundler wants.
      testEnvironmentOptions: { customExportConditions: ['node', 'require'] },
      setupFiles: ['<rootDir>/packages/web/test/setup.ts'],
      setupFilesAfterEnv: ['<rootDir>/packages/web/test/library.ts'],
    },
    { ...withServer, displayName: 'server', roots: ['<rootDir>/packages/server'] },
    // The start command from outside: it waits more than it computes.
    { ...shared, displayName: 'start', roots: ['<rootDir>/e2e'], testMatch: ['**/start.test.ts'] },
    {
      ...withServer,
      displayName: 'browser',
      roots: ['<rootDir>/e2e'],
      testPathIgnorePatterns: [
        '/node_modules/',
        'start.test.ts',
        ...[...sounding, ...timed].map((name) => `${name}.test.ts`),
      ],
    },
    { ...withServer, displayName: 'sounding', roots: ['<rootDir>/e2e'], testMatch: oneOf(sounding) },
    // These want the machine for themselves.
    { ...withServer, displayName: 'timed', roots: ['<rootDir>/e2e'], testMatch: oneOf(timed) },
  ],
};

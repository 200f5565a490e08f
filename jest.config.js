/** Unit tests of every room: a test stands beside what it tests. */
export default {
  testEnvironment: 'node',
  // Machines that build are shared: what takes a second on a quiet one can take many.
  testTimeout: 120_000,
  // One more than it takes by itself on two cores: tests wait for databases and processes, and so it is a third quicker.
  maxWorkers: 3,
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  transform: {
    '^.+\\.tsx?$': [
      '@swc/jest',
      {
        jsc: {
          parser: { syntax: 'typescript', tsx: true },
          transform: { react: { runtime: 'automatic' } },
          target: 'es2022',
        },
        module: { type: 'es6' },
      },
    ],
  },
  // Our own packages are symbolic links inside node_modules and must be transformed too.
  transformIgnorePatterns: ['/node_modules/(?!@tether/)'],
  testMatch: [
    '<rootDir>/{core,formats,documents,contract,server,web,demo,cli}/src/**/*.test.{ts,tsx}',
  ],
  modulePathIgnorePatterns: ['<rootDir>/.run/', '/dist/', '/types-out/'],
};

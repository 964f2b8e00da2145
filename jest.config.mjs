/**
 * Jest over core, server, demo, stand-ins and single components of the interface; whole tasks are tested in a real browser (e2e/).
 * Files named *.long.test.ts sweep many samples or wait for faults: `npm test` leaves them out, `npm run test:all` runs them too.
 */
export default {
  testEnvironment: 'node',
  testMatch: ['<rootDir>/{core,server,web,demo,standins}/**/*.test.{ts,tsx}'],
  transform: { '^.+\\.(t|j|mj)sx?$': '<rootDir>/script/jest-transform.cjs' },
  transformIgnorePatterns: [
    '/node_modules/(?!(@noble|transliteration|@gltf-transform|property-graph|clipper2-ts|three)/)',
  ],
  moduleNameMapper: {
    '^@jossel/core/(.*)$': '<rootDir>/core/$1/index.ts',
    '^echarts/': '<rootDir>/script/jest-echarts.cjs',
    '^three$': '<rootDir>/node_modules/three/build/three.module.js',
  },
  testPathIgnorePatterns: [
    '/node_modules/',
    ...(process.env.JOSSEL_TESTS === 'short' ? ['\\.long\\.test\\.'] : []),
  ],
  testSequencer: '<rootDir>/script/jest-sequencer.cjs',
  modulePathIgnorePatterns: ['/dist/', '/.data/'],
  setupFiles: ['<rootDir>/script/jest-setup.cjs'],
  setupFilesAfterEnv: ['<rootDir>/script/jest-equality.cjs'],
  // The one limit of every test and hook: it ends what hangs, and must hold where the machine is five times slower.
  testTimeout: 400_000,
  // Both cores: the default leaves one for the person.
  maxWorkers: 2,
};

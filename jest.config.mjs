/** Jest over core, server and demo; the interface is tested in a real browser (e2e/). */
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
  modulePathIgnorePatterns: ['/dist/', '/.data/'],
  setupFiles: ['<rootDir>/script/jest-setup.cjs'],
  setupFilesAfterEnv: ['<rootDir>/script/jest-equality.cjs'],
  // The one limit of every test and hook: it ends what hangs, and must hold where the machine is five times slower.
  testTimeout: 400_000,
  // Both cores: the default leaves one for the person.
  maxWorkers: 2,
};

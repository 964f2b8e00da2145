import { defineConfig } from '@playwright/test';
import { launchOptions } from './browser';

export default defineConfig({
  testDir: '.',
  testMatch: '*.spec.ts',
  // Walks through single panels, in *.long.spec.ts, are left out of `npm test`; `npm run test:all` takes them too.
  testIgnore: process.env['JOSSEL_TESTS'] === 'short' ? '*.long.spec.ts' : [],
  globalSetup: './make-studio.ts',
  // Limits that only a walk that hangs runs into: shared machines draw several times slower at their worst.
  timeout: 600000,
  expect: { timeout: 150000 },
  // Both cores: a browser that draws in software fills little more than one.
  workers: 2,
  reporter: [
    ['list'],
    ...(process.env['JOSSEL_RESULTS']
      ? [['json', { outputFile: process.env['JOSSEL_RESULTS'] }] as const]
      : []),
  ] as never,
  outputDir: '../test-results',
  use: {
    viewport: { width: 1280, height: 800 },
    actionTimeout: 150000,
    launchOptions,
  },
});

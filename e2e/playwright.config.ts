import { defineConfig } from '@playwright/test';
import { launchOptions } from './browser';

export default defineConfig({
  testDir: '.',
  testMatch: '*.spec.ts',
  globalSetup: './make-studio.ts',
  timeout: 300000,
  expect: { timeout: 60000 },
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
    actionTimeout: 80000,
    launchOptions,
  },
});

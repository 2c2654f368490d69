import { defineConfig } from '@playwright/test';
import { LAUNCH } from '../tools/browser.js';

export default defineConfig({
  testDir: '.',
  outputDir: '../test-results',
  timeout: 240_000,
  expect: { timeout: 40_000 },
  workers: 1,
  reporter: 'line',
  use: { viewport: { width: 1280, height: 800 }, launchOptions: LAUNCH, acceptDownloads: true },
});

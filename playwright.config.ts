import { defineConfig } from '@playwright/test'

const FLAGS = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
]

export default defineConfig({
  testDir: 'tests/e2e',
  testMatch: '*.spec.ts',
  // Measured by commands of their own: `npm run test:jobs`, `npm run test:views`.
  testIgnore: process.env.FIDES_MEASURE ? [] : ['jobs.spec.ts', 'views.spec.ts'],
  globalSetup: './tests/e2e/start.ts',
  workers: 1,
  timeout: 90_000,
  // Limits, not waits: on a machine that does other work a page may take long.
  expect: { timeout: 30_000 },
  reporter: [['line'], ['json', { outputFile: 'test-results/e2e.json' }]],
  outputDir: 'test-results/e2e',
  use: {
    viewport: { width: 1280, height: 800 },
    timezoneId: 'Europe/Lisbon',
    // Without a graphics card each frame of a movement is drawn by the processor the tests need.
    contextOptions: { reducedMotion: 'reduce' },
    launchOptions: { executablePath: '/usr/bin/chromium', args: FLAGS },
  },
})

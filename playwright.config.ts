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
  globalSetup: './tests/e2e/start.ts',
  workers: 1,
  timeout: 60_000,
  expect: { timeout: 15_000 },
  reporter: [['line'], ['json', { outputFile: 'test-results/e2e.json' }]],
  outputDir: 'test-results/e2e',
  use: {
    viewport: { width: 1280, height: 800 },
    timezoneId: 'Europe/Lisbon',
    launchOptions: { executablePath: '/usr/bin/chromium', args: FLAGS },
  },
})

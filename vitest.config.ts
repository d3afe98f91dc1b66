import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vitest/config'

export default defineConfig({
  test: {
    projects: [
      // Files of tests that leave nothing behind in what they load share it: loading took a third of the time.
      {
        test: {
          name: 'unit',
          environment: 'node',
          isolate: false,
          testTimeout: 60_000,
          include: ['tests/unit/**/*.test.ts'],
        },
      },
      {
        test: {
          name: 'reference',
          environment: 'node',
          isolate: false,
          testTimeout: 60_000,
          hookTimeout: 120_000,
          include: ['tests/reference/**/*.test.ts'],
        },
      },
      {
        plugins: [vue()],
        resolve: { alias: { '~~': import.meta.dirname, '~': `${import.meta.dirname}/app` } },
        test: {
          name: 'component',
          environment: 'happy-dom',
          testTimeout: 60_000,
          include: ['tests/component/**/*.test.ts'],
          setupFiles: ['tests/component/set-up.ts'],
          server: { deps: { inline: ['vuetify'] } },
        },
      },
      {
        // Use cases against a private MariaDB for each file, without any process of ours.
        test: {
          name: 'usecases',
          environment: 'node',
          isolate: false,
          globalSetup: ['tests/prepared-database.ts', 'tests/system/build.ts'],
          // Threads and processes start from their bundles, as they ship; from the sources each takes seconds.
          env: { FIDES_BUNDLED_THREADS: 'on' },
          testTimeout: 60_000,
          hookTimeout: 120_000,
          include: ['tests/usecases/**/*.test.ts'],
        },
      },
      {
        // Whole processes against a private MariaDB and the production build; one file after the other, as they share
        // two cores.
        test: {
          name: 'system',
          environment: 'node',
          include: ['tests/system/**/*.test.ts'],
          globalSetup: ['tests/prepared-database.ts', 'tests/system/build.ts'],
          fileParallelism: false,
          testTimeout: 60_000,
          hookTimeout: 120_000,
        },
      },
    ],
  },
})

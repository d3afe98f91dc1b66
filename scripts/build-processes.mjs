// Bundles the processes beside the admin server; packages stay outside, as they are installed.
import { build } from 'esbuild'

await build({
  entryPoints: {
    gateway: 'gateway/main.ts',
    likely: 'gateway/likely-thread.ts',
    shipper: 'shipper/main.ts',
    worker: 'worker/main.ts',
    'compute-process': 'server/threads/compute-process.ts',
    'replay-thread': 'server/threads/replay-thread.ts',
    'import-process': 'server/threads/import-process.ts',
    'export-process': 'server/threads/export-process.ts',
    'log-process': 'server/threads/log-process.ts',
    'traffic-thread': 'server/threads/traffic-thread.ts',
    'tally-thread': 'server/threads/tally-thread.ts',
    crowd: 'standins/visitors/main.ts',
    names: 'standins/names/main.ts',
    website: 'standins/web/main.ts',
    sites: 'standins/sites/main.ts',
    mailbox: 'standins/mailbox/main.ts',
  },
  outdir: 'dist',
  outExtension: { '.js': '.mjs' },
  bundle: true,
  platform: 'node',
  target: 'node20',
  format: 'esm',
  packages: 'external',
  sourcemap: true,
})

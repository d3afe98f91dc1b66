// npm run extension: puts the browser extension together in dist/extension, to be loaded unpacked.
import { buildExtension } from './build-extension'

await buildExtension('dist/extension')
process.stdout.write('dist/extension is ready: load it unpacked in the browser’s list of extensions.\n')

import { cpSync, mkdirSync } from 'node:fs'
import { build } from 'esbuild'

/** Builds the extension into a folder. */
export async function buildExtension(folder: string): Promise<void> {
  mkdirSync(folder, { recursive: true })
  for (const file of ['manifest.json', 'options.html', 'options.css']) cpSync(`extension/${file}`, `${folder}/${file}`)
  await build({
    entryPoints: ['background', 'content', 'options'].map((name) => `extension/src/${name}.ts`),
    outdir: folder,
    bundle: true,
    format: 'iife',
    target: 'chrome120',
  })
}

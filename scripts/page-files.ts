/** An item of the manifest of a client build, as far as it says what else it needs. */
interface Item {
  file: string
  imports?: string[]
  css?: string[]
  assets?: string[]
  prefetch?: boolean
}
export type Manifest = Record<string, Item>

/** Files a page needs besides those of every page, as names within the folder of built files. */
export interface PageFiles {
  /** The page's address as a regular expression. */
  path: string
  scripts: string[]
  styles: string[]
}

/** The keys of a manifest that some of its items import, with these items themselves. */
export function importedBy(manifest: Manifest, keys: readonly string[]): Set<string> {
  const found = new Set<string>()
  const add = (key: string) => {
    const item = manifest[key]
    if (!item || found.has(key)) return
    found.add(key)
    for (const imported of item.imports ?? []) add(imported)
  }
  for (const key of keys) add(key)
  return found
}

/** The files of some items of a manifest, without those the entry brings along. */
export function filesOf(
  manifest: Manifest,
  keys: readonly string[],
  entry: ReadonlySet<string>,
): Omit<PageFiles, 'path'> {
  const items = [...importedBy(manifest, keys)].filter((key) => !entry.has(key)).map((key) => manifest[key]!)
  return {
    scripts: [...new Set(items.map(({ file }) => file).filter((file) => file.endsWith('.js')))],
    styles: [...new Set(items.flatMap(({ css }) => css ?? []))],
  }
}

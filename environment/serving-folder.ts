import { mkdirSync, readdirSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { segmentPrefix, writerLives } from './spool-folder'

const folderOf = (state: string): string => join(state, 'serving')

/**
 * Notes that this process serves visitors, so that the next leading process finds it after the last was killed.
 * Returns what removes the note.
 */
export function registerServing(state: string): () => void {
  mkdirSync(folderOf(state), { recursive: true, mode: 0o700 })
  const file = join(folderOf(state), segmentPrefix())
  writeFileSync(file, '', { mode: 0o600 })
  return () => rmSync(file, { force: true })
}

/** The process ids of those that serve; notes of processes that ended are removed. */
export function livingServings(state: string): number[] {
  let names: string[]
  try {
    names = readdirSync(folderOf(state))
  } catch {
    return []
  }
  return names.flatMap((name) => {
    if (writerLives(name) === true) return [Number(name.split('.')[0])]
    rmSync(join(folderOf(state), name), { force: true })
    return []
  })
}

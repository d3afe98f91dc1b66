import { mkdirSync, statfsSync } from 'node:fs'

/** Megabytes that are free where a folder is; it is made where it is missing. */
export function freeMegabytes(folder: string): number {
  mkdirSync(folder, { recursive: true })
  const { bavail, bsize } = statfsSync(folder)
  return Math.floor((bavail * bsize) / 1e6)
}

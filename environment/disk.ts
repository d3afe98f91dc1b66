import { open, readFile, rename, unlink } from 'node:fs/promises'

/** What is written to of an open file. */
export interface OpenFile {
  /** Writes at the end; returns how many bytes were written, which may be fewer than asked. */
  write(bytes: Uint8Array): Promise<{ bytesWritten: number }>
  truncate(length: number): Promise<void>
  /** fdatasync(2). */
  datasync(): Promise<void>
  close(): Promise<void>
}

/** The operations by which files are made durable; tests put one that fails in its place. */
export interface Disk {
  /** Opens for appending and creates the file, readable by its owner only; `w` empties it first. */
  open(file: string, flags: 'a' | 'w'): Promise<OpenFile>
  rename(from: string, to: string): Promise<void>
  unlink(file: string): Promise<void>
  readFile(file: string): Promise<Buffer>
  /** Makes renames and new files in a folder durable (fsync(2) of the folder). */
  syncFolder(folder: string): Promise<void>
}

export const DISK: Disk = {
  open: (file, flags) => open(file, flags, 0o600),
  rename,
  unlink,
  readFile: (file) => readFile(file),
  async syncFolder(folder) {
    const handle = await open(folder, 'r')
    try {
      await handle.sync()
    } finally {
      await handle.close()
    }
  },
}

/** Writes all bytes, however few the system takes at a time. */
export async function writeAll(file: OpenFile, bytes: Uint8Array): Promise<void> {
  for (let from = 0; from < bytes.length;) {
    const { bytesWritten } = await file.write(from === 0 ? bytes : bytes.subarray(from))
    if (bytesWritten === 0) throw Object.assign(new Error('the disk took nothing'), { code: 'EIO' })
    from += bytesWritten
  }
}

import { DISK, type Disk, type OpenFile } from '../../../environment/disk'

type Fault = 'error' | 'short' | 'torn'
type Operation = 'open' | 'write' | 'truncate' | 'datasync' | 'close' | 'rename' | 'unlink' | 'syncFolder'

const refused = () => Object.assign(new Error('ENOSPC: no space left on device'), { code: 'ENOSPC' })

/**
 * A disk that fails as `faultOf` says: an error before anything is done, a short write, which the caller must go on
 * from, or a torn one, which leaves part behind and then fails. A failed datasync leaves unknown what is on disk: here
 * nothing of it.
 */
export function faultyDisk(faultOf: (operation: Operation) => Fault | undefined): Disk {
  const maybe = (operation: Operation): Fault | undefined => {
    const fault = faultOf(operation)
    if (fault === 'error' || (fault !== undefined && operation !== 'write')) throw refused()
    return fault
  }
  const wrap = (file: OpenFile): OpenFile => ({
    async write(bytes) {
      const fault = maybe('write')
      if (fault === undefined) return file.write(bytes)
      const part = bytes.subarray(0, Math.max(1, Math.floor(bytes.length / 2)))
      const written = await file.write(part)
      if (fault === 'torn') throw refused()
      return written
    },
    async truncate(length) {
      maybe('truncate')
      await file.truncate(length)
    },
    async datasync() {
      maybe('datasync')
      await file.datasync()
    },
    async close() {
      await file.close()
      maybe('close')
    },
  })
  return {
    async open(file, flags) {
      maybe('open')
      return wrap(await DISK.open(file, flags))
    },
    async rename(from, to) {
      maybe('rename')
      await DISK.rename(from, to)
    },
    async unlink(file) {
      maybe('unlink')
      await DISK.unlink(file)
    },
    readFile: DISK.readFile,
    async syncFolder(folder) {
      maybe('syncFolder')
      await DISK.syncFolder(folder)
    },
  }
}

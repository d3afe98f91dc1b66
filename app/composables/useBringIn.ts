import { ref } from 'vue'

/** One file with the folders it lies in. */
export interface DroppedFile {
  path: string
  file: Blob
}

/** Everything of a drop, folders with what is in them. */
export async function filesOfDrop(transfer: DataTransfer): Promise<DroppedFile[]> {
  const entries = [...transfer.items].flatMap((item) => item.webkitGetAsEntry() ?? [])
  if (entries.length === 0) return [...transfer.files].map((file) => ({ path: file.name, file }))
  const found: DroppedFile[] = []
  const walk = async (entry: FileSystemEntry, path: string): Promise<void> => {
    if (entry.isFile) {
      const file = await new Promise<File>((resolve, reject) => (entry as FileSystemFileEntry).file(resolve, reject))
      found.push({ path: path + entry.name, file })
      return
    }
    const reader = (entry as FileSystemDirectoryEntry).createReader()
    for (;;) {
      const some = await new Promise<FileSystemEntry[]>((resolve, reject) => reader.readEntries(resolve, reject))
      if (some.length === 0) return
      for (const inner of some) await walk(inner, `${path}${entry.name}/`)
    }
  }
  for (const entry of entries) await walk(entry, '')
  return found
}

/** Several files as one, packed; a single one as it is. */
async function packed(files: readonly DroppedFile[]): Promise<{ name: string; body: Blob }> {
  const [first] = files
  if (files.length === 1) return { name: first!.path.split('/').at(-1)!, body: first!.file }
  const { zipSync } = await import('fflate')
  const contents: Record<string, Uint8Array> = {}
  for (const { path, file } of files) contents[path] = new Uint8Array(await file.arrayBuffer())
  const root = first!.path.split('/')[0]!
  const name = files.every(({ path }) => path.startsWith(`${root}/`)) ? root : `${files.length} files`
  return { name, body: new Blob([zipSync(contents, { level: 1 }) as Uint8Array<ArrayBuffer>]) }
}

/** Longest file that is sent, in octets. */
const MAX_OCTETS = 50_000_000

/** Sends files or pasted text, and opens what comes of it. */
export function useBringIn() {
  const exchange = useExchangeStore()
  const sending = ref(false)
  const fault = ref('')
  async function send(files: readonly DroppedFile[], domain: string): Promise<void> {
    if (sending.value || files.length === 0) return
    fault.value = ''
    const size = files.reduce((sum, { file }) => sum + file.size, 0)
    if (size > MAX_OCTETS * 2) {
      const megabytes = Math.round(size / 1_000_000)
      fault.value = `The files total ${megabytes} MB; the maximum per import is ${MAX_OCTETS / 1_000_000} MB.`
      return
    }
    sending.value = true
    try {
      const { name, body } = await packed(files)
      const made = await exchange.bring(body, { name: name.slice(0, 300), domain })
      await navigateTo(`/exchange/${made.id}`)
    } catch (error) {
      fault.value = (error as Error).message
    } finally {
      sending.value = false
    }
  }
  /** Has a file fetched, and opens what comes of it. */
  async function fetchFrom(address: string, domain: string): Promise<void> {
    if (sending.value) return
    fault.value = ''
    sending.value = true
    try {
      const made = await exchange.fetchFrom(address, domain)
      await navigateTo(`/exchange/${made.id}`)
    } catch (error) {
      fault.value = (error as Error).message
    } finally {
      sending.value = false
    }
  }
  return { send, fetchFrom, sending, fault }
}

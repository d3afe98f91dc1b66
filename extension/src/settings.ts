/// <reference types="chrome" />

/** What the browser keeps, and nothing else does. */
export interface Settings {
  /** The desk’s address, without a slash at its end. */
  desk: string
  token: string
  /** Where new short addresses are made. */
  domain: string
  /** Hosts of ours: addresses on them are short already. */
  hosts: string[]
  /** The token’s scope lets it make links. */
  mayMake: boolean
  /** Sites it works on, by their origin. */
  sites: string[]
}

const NONE: Settings = { desk: '', token: '', domain: '', hosts: [], mayMake: false, sites: [] }

export async function readSettings(): Promise<Settings> {
  const { settings } = await chrome.storage.local.get('settings')
  return { ...NONE, ...(settings as Partial<Settings> | undefined) }
}

export const writeSettings = (settings: Settings): Promise<void> => chrome.storage.local.set({ settings })

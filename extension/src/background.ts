/// <reference types="chrome" />
import { ask, make } from './desk'
import type { Asked, Command, Told } from './messages'
import { readSettings, type Settings } from './settings'

const SCRIPT = 'marks'
/** So long an answer is good for the same address. */
const KNOWN_MS = 60_000
const MAX_KNOWN = 500

const known = new Map<string, { told: Told; at: number }>()

function remember(address: string, told: Told): Told {
  if (known.size >= MAX_KNOWN) known.clear()
  if (told.state !== 'refused') known.set(address, { told, at: Date.now() })
  return told
}

async function answer(asked: Asked, origin: string | undefined): Promise<Told> {
  const settings = await readSettings()
  if (!settings.desk || !settings.token || !origin || !settings.sites.includes(origin)) return { state: 'quiet' }
  const address = 'ask' in asked ? asked.ask : asked.make
  if (isShort(address, settings)) return { state: 'quiet' }
  if ('make' in asked) return remember(address, await make(settings, address))
  const before = known.get(address)
  if (before && Date.now() - before.at < KNOWN_MS) return before.told
  return remember(address, await ask(settings, address))
}

/** Whether an address is one of ours already, or the desk’s own. */
function isShort(address: string, { hosts, desk }: Settings): boolean {
  if (!URL.canParse(address)) return true
  const { hostname, origin } = new URL(address)
  return hosts.includes(hostname) || origin === desk
}

let registering: Promise<void> = Promise.resolve()
/** Has the script run on the sites that were chosen, and on no others; one change after the other. */
const register = () => (registering = registering.then(registerNow).catch(() => undefined))

async function registerNow(): Promise<void> {
  const { sites } = await readSettings()
  await chrome.scripting.unregisterContentScripts({ ids: [SCRIPT] }).catch(() => undefined)
  if (sites.length === 0) return
  await chrome.scripting.registerContentScripts([
    {
      id: SCRIPT,
      // A pattern of a site names no port: the page’s origin is looked at once more when it asks.
      matches: sites.map((site) => `${new URL(site).protocol}//${new URL(site).hostname}/*`),
      js: ['content.js'],
      allFrames: true,
      runAt: 'document_idle',
      persistAcrossSessions: true,
    },
  ])
}

chrome.runtime.onInstalled.addListener(() => void register())
chrome.storage.onChanged.addListener(() => {
  known.clear()
  void register()
})
chrome.action.onClicked.addListener(() => void chrome.runtime.openOptionsPage())
chrome.commands.onCommand.addListener(async (command) => {
  if (command !== 'shorten') return
  const [tab] = await chrome.tabs.query({ active: true, lastFocusedWindow: true })
  if (tab?.id !== undefined) await chrome.tabs.sendMessage(tab.id, { command } satisfies Command).catch(() => undefined)
})
chrome.runtime.onMessage.addListener((asked: Asked, sender, tell: (told: Told) => void) => {
  if (sender.id !== chrome.runtime.id) return false
  answer(asked, sender.origin)
    .then(tell)
    .catch(() => tell({ state: 'refused', sentence: 'Something failed in the extension.' }))
  return true
})

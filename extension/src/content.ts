/// <reference types="chrome" />
import { addressesIn, type AddressInText } from '../../core/address/in-text'
import { fieldOf, type Field } from './field'
import type { Asked, Command, Told } from './messages'
import { Strip } from './strip'

/** Shorter ones are left alone: a short address would win nothing. */
const LONG = 28
/** Whoever writes is not asked about before they rest. */
const REST_MS = 500
const MAX_SHOWN = 5
const MARK = 'fides-long'

const answers = new Map<string, Told>()
const leftAlone = new Set<string>()
let field: Field | undefined
let timer: ReturnType<typeof setTimeout> | undefined
const strip = new Strip((address, told) => void act(address, told), leave)

/** Only the one address goes out of the page. */
async function send(asked: Asked): Promise<Told> {
  try {
    return (await chrome.runtime.sendMessage(asked)) as Told
  } catch {
    return { state: 'quiet' }
  }
}

const longIn = (text: string): AddressInText[] =>
  addressesIn(text).filter(
    ({ address }) => address.length >= LONG && !leftAlone.has(address) && answers.get(address)?.state !== 'quiet',
  )

const isWorth = ({ address }: AddressInText) => {
  const told = answers.get(address)
  return told !== undefined && (told.state !== 'none' || told.mayMake)
}

/** Shows what there is to show of the field one writes in. */
function show(): void {
  if (!field) return
  const found = longIn(field.text()).filter(isWorth)
  mark(found)
  const rows = [...new Map(found.map(({ address }) => [address, { address, told: answers.get(address) }])).values()]
  if (rows.length === 0) strip.hide()
  else strip.show(field.element, rows.slice(0, MAX_SHOWN))
}

const sheeted = new WeakSet<Node>()

/** Underlines addresses where the page’s own text shows them, without touching it (CSS Custom Highlight API). */
function mark(found: readonly AddressInText[]): void {
  if (!field || !('highlights' in CSS)) return
  const ranges = found.map(({ start, end }) => field!.rangeOf(start, end)).filter((range) => range !== undefined)
  if (ranges.length === 0) return void CSS.highlights.delete(MARK)
  const root = field.element.getRootNode() as Document | ShadowRoot
  if (!sheeted.has(root)) {
    const sheet = new CSSStyleSheet()
    sheet.replaceSync(`::highlight(${MARK}) { text-decoration: underline wavy #6a2c4f; }`)
    root.adoptedStyleSheets = [...root.adoptedStyleSheets, sheet]
    sheeted.add(root)
  }
  CSS.highlights.set(MARK, new Highlight(...ranges))
}

async function look(): Promise<void> {
  const now = field
  if (!now?.element.isConnected) return hide()
  const unknown = [...new Set(longIn(now.text()).map(({ address }) => address))].filter(
    (address) => !answers.has(address),
  )
  await Promise.all(
    unknown.slice(0, MAX_SHOWN).map(async (address) => {
      const told = await send({ ask: address })
      // What could not be told now may be later.
      answers.set(address, told)
      if (told.state === 'refused') setTimeout(() => answers.delete(address), 10_000)
    }),
  )
  if (field === now) show()
}

async function act(address: string, told: Told): Promise<void> {
  const now = field
  if (!now) return
  let answer = told
  if (told.state === 'none') {
    answer = await send({ make: address })
    answers.set(address, answer)
  }
  if (answer.state === 'known') {
    // From the last on, so that the places of those before stay what they are.
    for (const found of addressesIn(now.text()).reverse())
      if (found.address === address) now.replace(found.start, found.end, address, answer.copy)
  }
  if (field === now) show()
}

function leave(): void {
  for (const { address } of field ? longIn(field.text()) : []) leftAlone.add(address)
  const element = field?.element
  hide()
  element?.focus()
}

function hide(): void {
  CSS.highlights?.delete(MARK)
  strip.hide()
  field = undefined
}

function written(event: Event): void {
  // A page’s own events are no person’s: only what somebody typed or went to counts.
  if (!event.isTrusted) return
  const found = fieldOf(event)
  if (!found) return
  field = found
  clearTimeout(timer)
  timer = setTimeout(() => void look(), REST_MS)
}

for (const kind of ['input', 'focusin'] as const) addEventListener(kind, written, { capture: true, passive: true })
addEventListener('scroll', () => field && strip.place(field.element), { capture: true, passive: true })
addEventListener(
  'pointerdown',
  (event) => {
    if (event.isTrusted && field && !strip.owns(event) && !event.composedPath().includes(field.element)) hide()
  },
  { capture: true, passive: true },
)
chrome.runtime.onMessage.addListener(({ command }: Command) => {
  if (command !== 'shorten' || !field) return
  const first = longIn(field.text()).find(isWorth)
  const told = first && answers.get(first.address)
  if (first && told) void act(first.address, told)
})

import type { Told } from './messages'

/** What is shown of one long address. */
export interface Shown {
  address: string
  told: Told | undefined
}

const STYLE = `
:host { all: initial; }
.strip { position: fixed; z-index: 2147483647; display: flex; flex-direction: column; gap: 4px; max-width: 560px;
  padding: 6px 8px; border: 1px solid #ddd6c8; border-left: 3px solid #6a2c4f; background: #fffdf9; color: #22252b;
  font: 13px/1.4 system-ui, sans-serif; box-shadow: 0 2px 8px rgb(0 0 0 / 18%); }
.row { display: flex; gap: 8px; align-items: baseline; }
.long { overflow: hidden; color: #5b606b; text-overflow: ellipsis; white-space: nowrap; max-width: 220px; }
.short { font-weight: 700; white-space: nowrap; }
button { padding: 3px 8px; border: 1px solid #6a2c4f; border-radius: 3px; background: #6a2c4f; color: #fffdf9;
  font: inherit; white-space: nowrap; cursor: pointer; }
button:focus-visible { outline: 2px solid #22252b; outline-offset: 2px; }
.close { margin-left: auto; border-color: transparent; background: transparent; color: #5b606b; }
@media (prefers-color-scheme: dark) {
  .strip { border-color: #4a4c52; border-left-color: #d9a3c0; background: #23252b; color: #ece8df; }
  .long, .close { color: #b4b1a9; }
  button { border-color: #d9a3c0; background: #d9a3c0; color: #23252b; }
  .close { background: transparent; color: #b4b1a9; border-color: transparent; }
  button:focus-visible { outline-color: #ece8df; }
}`

/** A strip beside a field, in a shadow tree of its own that neither styles nor scripts of the page reach. */
export class Strip {
  private readonly host = document.createElement('fides-strip')
  private readonly root = this.host.attachShadow({ mode: 'closed' })
  private readonly box = document.createElement('div')

  constructor(
    private readonly act: (address: string, told: Told) => void,
    private readonly close: () => void,
  ) {
    // A sheet made by a script is none that the page’s policy speaks of (CSP3 §8.4 is about elements and attributes).
    const sheet = new CSSStyleSheet()
    sheet.replaceSync(STYLE)
    this.root.adoptedStyleSheets = [sheet]
    this.box.className = 'strip'
    this.box.setAttribute('role', 'group')
    this.box.setAttribute('aria-label', 'Short addresses')
    this.root.append(this.box)
    // Whoever presses a button there goes on writing: the field keeps the focus.
    this.box.addEventListener('mousedown', (event) => event.preventDefault())
    this.box.addEventListener('keydown', (event) => event.key === 'Escape' && this.close())
  }

  /** Whether an event is the strip’s own. */
  owns = (event: Event) => event.composedPath().includes(this.host)

  show(beside: HTMLElement, rows: readonly Shown[]): void {
    this.box.replaceChildren(...rows.map((row, index) => this.row(row, index === 0)))
    if (!this.host.isConnected) document.documentElement.append(this.host)
    this.place(beside)
  }

  /** Puts it beside a field, wherever that is by now. */
  place(beside: HTMLElement): void {
    if (!this.host.isConnected) return
    const { left, bottom, top } = beside.getBoundingClientRect()
    const height = this.box.getBoundingClientRect().height
    const below = bottom + height + 8 < innerHeight
    this.box.style.left = `${Math.max(4, Math.min(left, innerWidth - this.box.offsetWidth - 4))}px`
    this.box.style.top = `${below ? bottom + 4 : Math.max(4, Math.min(top - height - 4, innerHeight - height - 4))}px`
  }

  hide(): void {
    this.host.remove()
  }

  private row({ address, told }: Shown, first: boolean): HTMLElement {
    const row = document.createElement('div')
    row.className = 'row'
    const part = (name: string, text: string) => {
      const span = document.createElement('span')
      span.className = name
      span.textContent = text
      row.append(span)
      return span
    }
    part('long', address.replace(/^https?:\/\//, '')).title = address
    const button = (text: string, label: string) => {
      const made = document.createElement('button')
      made.type = 'button'
      made.textContent = text
      made.setAttribute('aria-label', label)
      made.addEventListener('click', (event) => event.isTrusted && told && this.act(address, told))
      row.append(made)
    }
    if (told?.state === 'known') {
      part('short', told.short)
      button('Replace', `Replace by ${told.short}`)
    } else if (told?.state === 'none' && told.mayMake)
      button('Make a short address', `Make a short address of ${address}`)
    else if (told?.state === 'none') part('', 'has no short address')
    else if (told?.state === 'refused') part('', told.sentence).setAttribute('role', 'alert')
    else part('', 'looking …')
    if (first) {
      const close = document.createElement('button')
      close.type = 'button'
      close.className = 'close'
      close.textContent = '✕'
      close.setAttribute('aria-label', 'Leave these as they are')
      close.addEventListener('click', this.close)
      row.append(close)
    }
    return row
  }
}

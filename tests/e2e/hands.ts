import { expect, type Locator, type Page } from '@playwright/test'

/** Most presses of a key it takes to get anywhere on a page. */
const MOST_PRESSES = 250

/**
 * A person at the keyboard. `actions` are counted as a person would count them: a key chord, a field typed or pasted, a
 * control used. `keys` are the presses it took, with those that move the focus there.
 */
export class Hands {
  actions = 0
  keys = 0
  private readonly began = Date.now()
  constructor(readonly page: Page) {}

  async press(key: string): Promise<void> {
    this.actions++
    await this.strike(key)
  }
  async type(text: string): Promise<void> {
    this.actions++
    await this.page.keyboard.insertText(text)
  }
  /** Pastes as a clipboard does: with its line breaks. */
  async paste(text: string): Promise<void> {
    this.actions++
    this.keys++
    await this.page.evaluate((pasted) => {
      const field = document.activeElement as HTMLInputElement
      const clipboardData = new DataTransfer()
      clipboardData.setData('text/plain', pasted)
      const event = new ClipboardEvent('paste', { clipboardData, bubbles: true, cancelable: true })
      // What nobody handles is put in by the browser.
      if (field.dispatchEvent(event)) document.execCommand('insertText', false, pasted)
    }, text)
  }
  /** Presses a button or follows a link, by Tab and Enter. */
  async use(control: Locator): Promise<void> {
    this.actions++
    await this.move(control, 'Tab')
    await this.strike('Enter')
  }
  /** Goes to a field by Tab and replaces what is in it. */
  async fill(field: Locator, text: string): Promise<void> {
    await this.move(field, 'Tab')
    await this.strike('Control+a')
    await this.type(text)
  }
  /** Chooses from the menu that is open, or that a field opens, by the arrow keys. */
  async choose(item: Locator): Promise<void> {
    this.actions++
    await this.move(item, 'ArrowDown')
    await this.strike('Enter')
  }
  /** Goes to a list of choices by Tab and spells the one wanted. */
  async select(field: Locator, choice: string): Promise<void> {
    this.actions++
    await this.move(field, 'Tab')
    this.keys += choice.length
    await this.page.keyboard.type(choice)
  }
  get seconds(): number {
    return (Date.now() - this.began) / 1000
  }
  /** Checks that the focus is on an element, not on the document. */
  async keepsFocus(): Promise<void> {
    await expect
      .poll(() => this.page.evaluate(() => document.activeElement !== document.body && document.activeElement !== null))
      .toBe(true)
  }

  private async strike(key: string): Promise<void> {
    this.keys++
    await this.page.keyboard.press(key)
  }
  private async move(target: Locator, key: string): Promise<void> {
    await expect(target).toBeVisible()
    await expect(target).toBeEnabled()
    for (let press = 0; press < MOST_PRESSES; press++) {
      if (await target.evaluate((element) => element.contains(document.activeElement))) return
      await this.strike(key)
    }
    throw new Error(`${String(target)} is not reached by ${key}`)
  }
}

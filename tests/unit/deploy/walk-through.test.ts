import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { namedIn, readWalkThrough } from '../../fresh/page'

const ROOT = join(import.meta.dirname, '../../..')
const { shell, browser } = readWalkThrough()

const screens = (readdirSync(join(ROOT, 'app'), { recursive: true }) as string[])
  .filter((name) => name.endsWith('.vue') || name.endsWith('.ts'))
  .map((name) => readFileSync(join(ROOT, 'app', name), 'utf8'))
  .join('\n')

describe('the walk-through of docs/operating.md, which npm run test:fresh follows', () => {
  it('has three blocks for a shell and five steps for a browser', () => {
    expect(shell).toHaveLength(3)
    expect(browser.map((step) => namedIn(step).length)).toEqual([5, 5, 1, 1, 4])
  })
  it('calls commands that there are', () => {
    const { scripts } = JSON.parse(readFileSync(join(ROOT, 'package.json'), 'utf8')) as {
      scripts: Record<string, string>
    }
    for (const [, name] of shell.join('\n').matchAll(/^npm (?:run )?(\S+)/gm)) expect(scripts).toHaveProperty([name!])
  })
  it('sets variables that the page describes', () => {
    const page = readFileSync(join(ROOT, 'docs/operating.md'), 'utf8')
    const set = [...shell[0]!.matchAll(/^(FIDES_[A-Z_]+)=/gm)].map(([, name]) => name!)
    expect(set.length).toBeGreaterThan(0)
    for (const name of set) expect(page).toContain(`| \`${name}\``)
  })
  it('names fields and buttons as the screens do', () => {
    for (const name of browser.flatMap(namedIn)) {
      const word = name.replace(/ rider\.example$/, ' ')
      expect(screens.includes(word), name).toBe(true)
    }
  })
})

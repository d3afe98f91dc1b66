import { expect, test } from '@playwright/test'
import { DAILY_JOBS, listed } from './daily-jobs'
import { admin, signInQuickly } from './desk'
import { Hands } from './hands'
import { OTHER_JOBS } from './other-jobs'

test.describe('daily jobs by keyboard', () => {
  test.use({ permissions: ['clipboard-read', 'clipboard-write'] })
  const rows: string[] = []
  for (const { name, before, most, from, ready, work } of [...DAILY_JOBS, ...OTHER_JOBS])
    test(`${name}, in at most ${most} actions`, async ({ page }) => {
      await signInQuickly(page)
      await page.goto(admin() + from)
      await ready(page)
      const hands = new Hands(page)
      await work(hands, page)
      await hands.keepsFocus()
      const figures = [before, hands.actions, hands.keys, hands.seconds.toFixed(1)].map((figure) =>
        String(figure).padStart(8),
      )
      rows.push(name.padEnd(44) + figures.join(''))
      expect(hands.actions).toBeLessThanOrEqual(most)
    })
  test.afterAll(() => {
    process.stdout.write(`\n${'job'.padEnd(44)}  before     now    keys seconds\n${rows.join('\n')}\n`)
  })
})

test('nothing that was typed is lost on Escape, Back or a reload', async ({ page }) => {
  await signInQuickly(page)
  await page.goto(admin() + '/register')
  await listed(page)
  await page.keyboard.press('n')
  const destination = page.getByRole('textbox', { name: 'Destination' })
  await destination.fill('https://jobs.example/draft')
  await page.getByRole('textbox', { name: 'Slug' }).fill('jobs-draft')
  for (const leave of ['Escape', 'reload', 'back'] as const) {
    // What was typed is kept a moment after the last letter.
    await expect
      .poll(() => page.evaluate(() => Object.values(sessionStorage).some((text) => text.includes('jobs-draft'))))
      .toBe(true)
    if (leave === 'Escape') await page.keyboard.press('Escape')
    else if (leave === 'reload') await page.reload()
    else {
      await page.goto(admin() + '/ledger')
      await page.goBack()
    }
    await listed(page)
    await page.keyboard.press('n')
    await expect(destination).toHaveValue('https://jobs.example/draft')
    await expect(page.getByRole('textbox', { name: 'Slug' })).toHaveValue('jobs-draft')
  }
})

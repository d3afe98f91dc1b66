import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import type { Page } from '@playwright/test'

const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8')

/** Serious and critical findings of axe-core under WCAG 2.2 A and AA, as text that says where. */
export async function faults(page: Page): Promise<string[]> {
  // What is on its way in or out is neither there nor gone: its contrast is nobody's.
  await page.evaluate(() =>
    Promise.all(
      document
        .getAnimations()
        .filter((animation) => animation.effect?.getComputedTiming().endTime !== Infinity)
        .map((animation) => animation.finished.catch(() => undefined)),
    ),
  )
  await page.evaluate(axe)
  return page.evaluate(async () => {
    const run = (
      globalThis as unknown as {
        axe: {
          run(
            context: Document,
            options: object,
          ): Promise<{
            violations: { id: string; impact: string; nodes: { html: string; failureSummary: string }[] }[]
          }>
        }
      }
    ).axe
    const { violations } = await run.run(document, {
      runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'],
    })
    return violations
      .filter((violation) => ['serious', 'critical'].includes(violation.impact))
      .map(
        (violation) =>
          `${violation.id}: ${violation.nodes
            .slice(0, 3)
            .map((node) => `${node.html.slice(0, 160)} (${node.failureSummary.split('\n')[1]})`)
            .join(' | ')}`,
      )
  })
}

/** How far the page runs over its window to the right, in pixels. */
export const widthOf = (page: Page) => page.evaluate(() => document.documentElement.scrollWidth)

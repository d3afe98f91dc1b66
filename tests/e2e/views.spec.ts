import { expect, test, type Page } from '@playwright/test'
import { admin, signInQuickly } from './desk'

/** The views where people find, create, change and resolve. */
const VIEWS = [
  '/docket',
  '/docket?lane=targets',
  '/morning-round',
  '/register',
  '/register?link=2',
  '/links/2',
  '/links/2?tab=placements',
  '/links/2?tab=checks',
  '/links/2?tab=history',
  '/domains',
  '/ledger',
  '/misses',
  '/traffic',
  '/trace?address=ansl.example/night',
]
const WIDTHS = [360, 640, 1280, 1920]

/** Finds what is wider than the window, over its edge, or too small to press. */
function measure(width: number) {
  const faults: string[] = []
  if (document.documentElement.scrollWidth > width) faults.push(`${document.documentElement.scrollWidth} px wide`)
  const shown = (element: Element) => {
    const box = element.getBoundingClientRect()
    if (box.width === 0 || box.height === 0 || box.bottom <= 0 || box.top >= innerHeight) return undefined
    const { visibility, opacity, clipPath } = getComputedStyle(element)
    return visibility === 'hidden' || opacity === '0' || clipPath !== 'none' ? undefined : box
  }
  const nameOf = (element: Element) =>
    (element.getAttribute('aria-label') ?? element.textContent?.trim() ?? element.tagName).slice(0, 40)
  const MIN_TARGET = 24
  const MIN_THUMB = 44
  for (const element of document.querySelectorAll(
    'button, select, summary, input:not([type="hidden"]), nav a, .v-btn',
  )) {
    // A box within its label is pressed by the label.
    // A closed drawer lies outside the window.
    if (element.closest('.v-navigation-drawer:not(.v-navigation-drawer--active)')) continue
    const pressed = element.closest('label') ?? element.closest('.v-field, .v-selection-control') ?? element
    const box = shown(element) && shown(pressed)
    if (!box) continue
    if (Math.min(box.width, box.height) < MIN_TARGET - 0.5)
      faults.push(`${nameOf(element)}: ${Math.round(box.width)} × ${Math.round(box.height)}`)
    const isForThumbs = element.matches('nav[aria-label="Sections"] *, header *, main .v-btn:not(.v-btn--size-small)')
    if (width === 360 && isForThumbs && box.height < MIN_THUMB - 0.5)
      faults.push(`${nameOf(element)}: ${Math.round(box.height)} px high for a thumb`)
    if (box.left < -1 || box.right > width + 1) faults.push(`${nameOf(element)} runs over the edge`)
  }
  // A slug is never broken into letters.
  for (const slug of document.querySelectorAll('.short .slug')) {
    const box = shown(slug)
    if (box && box.height > 48) faults.push(`${nameOf(slug)} is broken over ${Math.round(box.height)} px`)
  }
  return faults
}

async function settle(page: Page): Promise<void> {
  await expect(page.getByRole('heading').first()).toBeVisible()
  await page.waitForLoadState('networkidle')
}

test.describe('views fit their window', () => {
  test.use({ contextOptions: { reducedMotion: 'reduce' } })
  for (const path of VIEWS)
    test(path, async ({ page }) => {
      test.setTimeout(120_000)
      await signInQuickly(page)
      // The stream of live events never ends, and a page with it is never idle.
      await page.route('**/api/v1/traffic/events', (route) => route.abort())
      for (const width of WIDTHS) {
        await page.setViewportSize({ width, height: width === 360 ? 740 : 800 })
        // The first width is loaded with; the others are what turning or dragging a window does.
        if (width === WIDTHS[0]) await page.goto(admin() + path)
        await settle(page)
        await expect.poll(() => page.evaluate(measure, width), { message: `at ${width} px` }).toEqual([])
      }
    })
})

test('scripts and styles travel compressed, and the first view needs few of them', async ({ page }) => {
  await signInQuickly(page)
  const session = await page.context().newCDPSession(page)
  await session.send('Network.enable')
  let [received, uncompressed] = [0, 0]
  const kinds = new Map<string, boolean>()
  session.on('Network.responseReceived', ({ requestId, response }) => {
    const isCode = /javascript|css/.test(response.mimeType)
    kinds.set(requestId, isCode)
    const headers = new Headers(response.headers)
    if (isCode && !/^(?:br|gzip)$/.test(headers.get('content-encoding') ?? '')) uncompressed++
  })
  session.on('Network.loadingFinished', ({ requestId, encodedDataLength }) => {
    if (kinds.get(requestId)) received += encodedDataLength
  })
  await page.goto(admin() + '/docket')
  await expect(page.getByRole('heading', { name: 'Docket' })).toBeVisible()
  await page.waitForLoadState('networkidle')
  expect(uncompressed).toBe(0)
  expect(received).toBeGreaterThan(50_000)
  expect(received).toBeLessThan(700_000)
})

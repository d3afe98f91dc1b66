import { expect, test } from '@playwright/test'
import { admin, signInQuickly, visit } from './desk'

test('make, find, trace and change a link with the keyboard only', async ({ page }, { repeatEachIndex }) => {
  const slug = `e2e-keys-${repeatEachIndex}`
  await signInQuickly(page)
  await page.goto(admin() + '/register')
  await expect(page.getByRole('row').nth(3)).toBeVisible()
  const press = (key: string) => page.keyboard.press(key)

  await press('n')
  await expect(page.getByRole('textbox', { name: 'Destination' })).toBeFocused()
  await page.keyboard.type(`keys.example/page-${repeatEachIndex}`)
  await press('Tab')
  await expect(page.getByRole('textbox', { name: 'Destination' })).toHaveValue(
    `https://keys.example/page-${repeatEachIndex}`,
  )
  await press('Tab')
  await expect(page.getByRole('textbox', { name: 'Slug' })).toBeFocused()
  await page.keyboard.type(slug)
  await press('Enter')
  await expect(page.getByRole('article', { name: `ansl.example/${slug}` })).toBeVisible()
  await expect
    .poll(() => visit('ansl.example', `/${slug}`))
    .toEqual({ status: 302, location: `https://keys.example/page-${repeatEachIndex}` })

  // The register lists anew after a making; keys move in the list that is shown.
  await expect(page.locator('tr[aria-current]')).toContainText(slug)
  await press('j')
  await press('k')
  await expect(page.locator('tr[aria-current]')).toContainText(slug)
  await press('e')
  await expect(page.getByRole('dialog').getByRole('textbox', { name: 'Destination' })).toBeFocused()
  await press('Escape')
  await expect(page.getByRole('dialog')).toHaveCount(0)
  await press('t')
  await expect(page.getByText('Redirects to its destination')).toBeVisible()
  await press('g')
  await press('l')
  await expect(page.getByRole('heading', { name: 'Ledger' })).toBeVisible()
  await press('g')
  await press('r')
  await expect(page.getByRole('heading', { name: 'Register' })).toBeVisible()
  await press('?')
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible()
  await press('Escape')
  await expect(page.getByRole('dialog', { name: 'Keys' })).toHaveCount(0)
  await press('/')
  await page.keyboard.type(slug)
  await expect(page.getByRole('option').nth(1)).toContainText(slug)
  await press('ArrowDown')
  await press('Enter')
  await expect(page).toHaveURL(/\/links\/\d+$/)
})

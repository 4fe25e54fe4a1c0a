import { readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { expect, type Page } from '@playwright/test'
import { chooseStep, kept, newProject, row, sound } from './helpers'
import { test } from './test'

const mark = readFileSync(fileURLToPath(new URL('../../core/test/mark.svg', import.meta.url)))

async function chooseDrawing(page: Page, name: string, buffer: Buffer): Promise<void> {
  const chooser = page.waitForEvent('filechooser')
  await row(page, 'vector-file')
    .getByRole('button', { name: /^Choose (a|another) drawing$/ })
    .click()
  await (await chooser).setFiles({ name, mimeType: 'image/svg+xml', buffer })
}

test('a drawing that finds the readers busy is handed over again by itself, and arrives', async ({ page }) => {
  await newProject(page)
  await page.getByRole('button', { name: 'New piece' }).click()
  await page.getByRole('menuitem', { name: 'A drawing' }).click()
  let asked = 0
  await page.route('**/api/files', async (route) => {
    asked++
    const busy = { error: { code: 'busy', message: 'Kelvar is busy reading other files.', remedy: 'Try again in a few seconds.' } }
    if (asked < 3) await route.fulfill({ status: 503, contentType: 'application/json', body: JSON.stringify(busy) })
    else await route.continue()
  })
  await chooseDrawing(page, 'mark.svg', mark)
  await expect(row(page, 'vector-file')).toContainText('mark.svg')
  await sound(page)
  expect(asked).toBe(3)
})

test('a mark is brought in, its layers set many at once, and all of it survives undo, redo and a reload', async ({ page }) => {
  await newProject(page)
  await page.getByRole('button', { name: 'New piece' }).click()
  await page.getByRole('menuitem', { name: 'A drawing' }).click()
  await expect(row(page, 'vector-file')).toContainText('No drawing has been chosen')
  // what cannot be read is refused where it was chosen, with the reason
  await chooseDrawing(page, 'letter.svg', Buffer.from('<html>not a drawing</html>'))
  await expect(row(page, 'vector-file').getByRole('alert').filter({ hasText: 'letter.svg' })).toContainText('no SVG drawing')
  await chooseDrawing(page, 'mark.svg', mark)
  await expect(row(page, 'vector-file')).toContainText('mark.svg')
  await sound(page)
  await row(page, 'layers')
    .getByRole('button', { name: /Layers/ })
    .first()
    .click()
  const list = page.getByRole('grid', { name: 'Layers' })
  await expect(list.getByRole('row')).not.toHaveCount(0)
  const count = await list.getByRole('row').count()
  expect(count).toBeGreaterThan(5)
  await list.getByRole('row').nth(1).click()
  await page.getByRole('button', { name: 'All of this colour' }).click()
  await page.getByRole('textbox', { name: 'Layer: depth' }).fill('11')
  await page.keyboard.press('Enter')
  await expect(list.getByRole('row').nth(1)).toContainText('11 deep')
  await sound(page)
  await expect(page.getByLabel('Readout')).toContainText('× 11.0')
  await list.getByRole('button', { name: /^Hide/ }).first().click()
  await expect(row(page, 'layers')).toContainText('1 hidden')
  await page.getByRole('button', { name: /^Undo/ }).click()
  await expect(row(page, 'layers')).not.toContainText('1 hidden')
  await page.getByRole('button', { name: /^Redo/ }).click()
  await expect(row(page, 'layers')).toContainText('1 hidden')
  await kept(page)
  await page.reload()
  await sound(page)
  await page.getByRole('button', { name: 'Piece 2', exact: true }).click()
  await expect(row(page, 'layers')).toContainText('1 hidden')
  await expect(row(page, 'vector-file')).toContainText('mark.svg')
  await sound(page)
})

test('words are sliced into waves, each band a layer, and stay words', async ({ page }) => {
  await newProject(page)
  await page.keyboard.press('Escape')
  await row(page, 'lettering').hover()
  await page.getByRole('button', { name: 'Insert a step after 1' }).click({ force: true })
  await chooseStep(page, 'Slice')
  await row(page, 'slice').getByRole('button', { name: /Cuts/ }).click()
  await page.getByRole('option', { name: 'Waves' }).click()
  await page.getByRole('textbox', { name: 'How many' }).fill('3')
  await page.keyboard.press('Enter')
  await expect(row(page, 'slice')).toContainText('3 waved cuts')
  await sound(page)
  await row(page, 'lettering')
    .getByRole('button', { name: /Lettering/ })
    .first()
    .click()
  await page.getByRole('textbox', { name: 'Words' }).fill('Wave')
  await expect(row(page, 'lettering')).toContainText('“Wave”')
  await sound(page)
  await kept(page)
  await page.reload()
  await sound(page)
  await expect(row(page, 'slice')).toContainText('3 waved cuts')
})

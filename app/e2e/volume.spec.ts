import { expect, type Page } from '@playwright/test'
import { chooseStep, kept, newProject, openStep, row, setNumber, sound, words } from './helpers'
import { test } from './test'

const volume = async (page: Page) => Number(((await page.getByLabel('Readout').textContent()) ?? '').match(/([\d.]+) cm³/)?.[1])

/** Has the open step take voxels of one size, of which there are fewer than of those that fit. */
async function giveVoxel(page: Page, voxel: string): Promise<void> {
  await page.getByRole('button', { name: /Voxels$/ }).click()
  await page.getByRole('option', { name: 'As given' }).click()
  await setNumber(page, 'Voxel', voxel)
}

/** A step behind the form. */
const insertAfterForm = (page: Page) => page.getByRole('button', { name: 'Insert a step after 2' }).click({ force: true })

test('a fine remesh says what it comes to while it is made, is stopped there, and made coarser', async ({ page }) => {
  await newProject(page)
  await page.getByRole('button', { name: 'Insert a step after 3' }).click({ force: true })
  await chooseStep(page, 'Voxel remesh')
  await sound(page)
  await giveVoxel(page, '0.12')
  const bar = page.getByRole('status').filter({ hasText: 'Comes to' })
  await expect(bar).toContainText(/Comes to about [\d,]+ triangles, [\d,]+ MB and [\d.]+ s/, { timeout: 90_000 })
  // a coarser one is seen meanwhile, and said to be that
  await expect(bar).toContainText('What you see is a first sight')
  await expect(page.getByLabel('Readout')).not.toContainText('triangles')
  await bar.getByRole('button', { name: 'Stop' }).click()
  await expect(page.getByRole('status').filter({ hasText: 'Stopped' })).toContainText('a first sight, coarser than asked for')
  await setNumber(page, 'Voxel', '1.5')
  await sound(page)
  await expect(row(page, 'voxel-remesh')).toContainText('from voxels of 1.5 mm')
  await expect(page.getByLabel('Readout')).toContainText('triangles')
  await expect(page.getByRole('status').filter({ hasText: 'Comes to' })).toBeHidden()
})

test('a word is melted, softened and hollowed, retyped, undone and found again', async ({ page }) => {
  await newProject(page)
  await words(page).fill('or')
  await sound(page)
  await insertAfterForm(page)
  await chooseStep(page, 'Melt together')
  await giveVoxel(page, '0.8')
  await expect(row(page, 'melt')).toContainText('triangles from voxels of 0.8 mm', { timeout: 150_000 })
  await sound(page)
  const melted = await volume(page)
  await page.getByRole('slider', { name: /Radius/ }).focus()
  for (let i = 0; i < 8; i++) await page.keyboard.press('ArrowRight')
  await expect(row(page, 'melt')).toContainText('Letters, 4 mm')
  await sound(page)
  // the words go on being words
  await openStep(page, 'lettering', 'Lettering')
  await words(page).fill('o')
  await expect.poll(() => volume(page), { timeout: 150_000 }).toBeLessThan(melted)
  await sound(page)
  const before = await volume(page)
  await page.getByRole('button', { name: 'Insert a step after 3' }).click({ force: true })
  await chooseStep(page, 'Hollow')
  await expect(row(page, 'hollow')).toContainText(/cavit/, { timeout: 150_000 })
  await sound(page)
  await expect.poll(() => volume(page)).toBeLessThan(before)
  // too thick a wall is said with what there is, and the last good solid stays
  await setNumber(page, 'Wall', '60')
  await expect(row(page, 'hollow').getByRole('alert')).toContainText('no room inside', { timeout: 150_000 })
  await page.getByRole('button', { name: 'Undo' }).click()
  await sound(page)
  await kept(page)
  await page.reload()
  await sound(page)
  await expect(row(page, 'hollow')).toContainText('mm wall')
  await expect(row(page, 'melt')).toContainText('4 mm')
})

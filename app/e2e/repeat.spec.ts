import { readFile } from 'node:fs/promises'
import { expect, type Page } from '@playwright/test'
import { strFromU8, unzipSync } from 'fflate'
import { chooseStep, kept, newProject, openStep, row, setNumber, sound, words, writeOut } from './helpers'
import { test } from './test'

const readout = async (page: Page) => (await page.getByLabel('Readout').textContent()) ?? ''
const widthOf = async (page: Page) => Number(/([\d.]+) × [\d.]+ × [\d.]+ mm/.exec(await readout(page))?.[1])
const trianglesOf = async (page: Page) => Number(/([\d,]+) triangles/.exec(await readout(page))?.[1].replaceAll(',', ''))
const insertAfter = (page: Page, number: number) => page.getByRole('button', { name: `Insert a step after ${number}` }).click({ force: true })
const picked = (page: Page) => page.getByRole('status').filter({ hasText: /^Copy \d/ })
/** How many bulbs the docket tells of. */
const bulbs = async (page: Page) => Number(/(\d+) bulbs/.exec((await row(page, 'fill-inside').textContent()) ?? '')?.[1])

/** Presses the view, from its middle outwards and upwards, until a copy is hit. */
async function pressACopy(page: Page, from = 0): Promise<void> {
  const canvas = page.locator('canvas').first()
  const box = await canvas.boundingBox()
  if (!box) throw new Error('no canvas')
  for (let up = from; up < from + 120; up += 7) {
    await page.mouse.click(box.x + box.width / 2, box.y + box.height / 2 - up)
    if (
      await picked(page)
        .isVisible()
        .catch(() => false)
    )
      return
    await page.waitForTimeout(60)
    if (
      await picked(page)
        .isVisible()
        .catch(() => false)
    )
      return
  }
  throw new Error('no copy was hit')
}

test('bulbs stand down the middle; one is left out, one moved; they follow the words, vary by seed, and are found again', async ({ page }) => {
  await newProject(page)
  await words(page).fill('I')
  await sound(page)
  await insertAfter(page, 2)
  await chooseStep(page, 'Fill inside')
  await expect(row(page, 'fill-inside')).toContainText('down the middle')
  await setNumber(page, 'Width', '2')
  await setNumber(page, 'Spacing', '4')
  await sound(page)
  await expect.poll(() => bulbs(page)).toBeGreaterThan(4)
  const all = await bulbs(page)
  await page.getByRole('radio', { name: 'Front' }).click()
  await pressACopy(page)
  await page.getByRole('button', { name: 'Leave it out' }).click()
  await expect.poll(() => bulbs(page), { timeout: 90_000 }).toBe(all - 1)
  await expect(page.getByText(/In “I”: left out/)).toBeVisible()
  await page.keyboard.press('Escape')
  await pressACopy(page, 20)
  await page.getByRole('slider', { name: /^Copy \d+: move/ }).press('ArrowRight')
  await expect(page.getByText(/In “I”: moved by 0\.5, 0, 0 mm/)).toBeVisible({ timeout: 90_000 })
  // the letter stands elsewhere, and what was done to its bulbs with it
  await openStep(page, 'lettering', 'Lettering')
  await words(page).fill('HI')
  await sound(page)
  await openStep(page, 'fill-inside', 'Fill inside')
  await expect(page.getByText(/In “I”: left out/)).toBeVisible()
  await expect(page.getByText(/In “I”: moved by/)).toBeVisible()
  expect(await bulbs(page)).toBeGreaterThan(all)
  await insertAfter(page, 3)
  await chooseStep(page, 'Vary')
  await setNumber(page, 'Size', '40')
  await expect(row(page, 'vary')).toContainText('size 40 %, by lot')
  await sound(page)
  const first = await readout(page)
  await setNumber(page, 'Up', '3')
  await sound(page)
  await expect.poll(() => readout(page), { timeout: 90_000 }).not.toBe(first)
  await page.getByRole('button', { name: 'Undo' }).click()
  await sound(page)
  await kept(page)
  await page.reload()
  await sound(page)
  await expect(row(page, 'vary')).toContainText('size 40 %, by lot')
  await openStep(page, 'fill-inside', 'Fill inside')
  await page.getByRole('button', { name: 'Put all back' }).click()
  await expect(page.getByText(/In “I”: left out/)).toHaveCount(0)
})

test('nine copies with gaps are written as copies and as one solid; a bend takes them as one', async ({ page }) => {
  await newProject(page)
  await words(page).fill('Q')
  await sound(page)
  const [wide, triangles] = [await widthOf(page), await trianglesOf(page)]
  await insertAfter(page, 2)
  await chooseStep(page, 'Grid')
  await setNumber(page, 'Gap', '10')
  await expect(row(page, 'grid')).toContainText('9 copies', { timeout: 90_000 })
  await sound(page)
  await expect.poll(() => widthOf(page), { timeout: 90_000 }).toBeCloseTo(3 * wide + 20, 0)
  expect(await trianglesOf(page)).toBe(9 * triangles)
  const glb = await readFile(await (await writeOut(page, /^For a web page/)).path())
  const json = JSON.parse(glb.subarray(20, 20 + glb.readUInt32LE(12)).toString())
  expect(json.extensionsUsed).toContain('EXT_mesh_gpu_instancing')
  expect(json.meshes.length).toBe(1)
  const nodes = await readFile(
    await (
      await writeOut(page, /^For a web page/, async () => {
        await page.getByRole('radio', { name: 'A node each' }).click()
      })
    ).path(),
  )
  expect(JSON.parse(nodes.subarray(20, 20 + nodes.readUInt32LE(12)).toString()).nodes.length).toBe(10)
  const model = unzipSync(await readFile(await (await writeOut(page, /^For printing in colours/)).path()))['3D/3dmodel.model']
  expect(strFromU8(model).match(/<component /g)?.length).toBe(9)
  const stl = await readFile(await (await writeOut(page, /^For a 3D printer/)).path())
  expect(stl.readUInt32LE(80)).toBe(9 * triangles)
  await insertAfter(page, 3)
  await chooseStep(page, 'Bend')
  await expect(row(page, 'bend')).toContainText('Works on all 9 copies as one solid', { timeout: 150_000 })
  await sound(page)
})

test('a word becomes a lattice of bars and balls that is one sound solid', async ({ page }) => {
  await newProject(page)
  await words(page).fill('L')
  await sound(page)
  await insertAfter(page, 2)
  await chooseStep(page, 'Strut lattice')
  await expect(row(page, 'lattice')).toContainText(/[\d,]+ bars/, { timeout: 150_000 })
  await sound(page)
  // thicker than they can be: what is shown stays, and the step says what to do
  await setNumber(page, 'Radius of bars', '3')
  await expect(row(page, 'lattice').getByRole('alert')).toContainText('leave no opening', { timeout: 90_000 })
})

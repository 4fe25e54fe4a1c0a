import { newProject as newDocument } from '@kelvar/core/project/new-project'
import { expect, type Page } from '@playwright/test'
import { chooseStep, kept, newProject, openStep, row, setNumber, sound, words } from './helpers'
import { test } from './test'

const volume = async (page: Page) => Number(((await page.getByLabel('Readout').textContent()) ?? '').match(/([\d.]+) cm³/)?.[1])
const insert = (page: Page) => page.getByRole('button', { name: 'insert a step' }).click()
const knob = (page: Page, does: string) => page.getByRole('slider', { name: `Raise lettering: ${does}` })

/** A project of words and a body, which is in hand. */
async function wordsAnd(page: Page, block: Record<string, unknown>, text = 'Pier', size = 12): Promise<void> {
  const document = newDocument()
  const [piece] = document.pieces
  piece.name = 'Name'
  Object.assign(piece.route[0].params, { text, size })
  document.pieces.unshift({ id: 'body', name: 'Body', route: [{ id: 'block-1', kind: 'block', on: true, params: block }] })
  await newProject(page, document)
}

const chooseWords = async (page: Page) => {
  await page.getByRole('button', { name: /Choose a piece/ }).click()
  await page.getByRole('option', { name: 'Name' }).click()
}

test('a word is raised round a bottle by pressing a spot, slid, turned, sized, retyped, undone and found again', async ({ page }) => {
  await wordsAnd(page, { shape: 'cylinder', width: 60, height: 90 })
  const plain = await volume(page)
  await insert(page)
  await chooseStep(page, 'Raise lettering')
  await chooseWords(page)
  const step = row(page, 'raise-lettering')
  await step.getByRole('button', { name: /Laid/ }).click()
  await page.getByRole('option', { name: 'Wrapped round' }).click()
  await expect(step).toContainText('round a cylinder, radius 30 mm', { timeout: 90_000 })
  await sound(page)
  expect(await volume(page)).toBeGreaterThan(plain)
  // another spot, by pressing it
  await step.getByRole('button', { name: 'Pick in the view' }).click()
  await expect(step).toContainText('Press the piece now')
  const box = await page.getByLabel('View of the piece').boundingBox()
  if (!box) throw new Error('no view')
  await page.mouse.click(box.x + box.width / 2, box.y + box.height * 0.38)
  await expect(step.getByRole('button', { name: 'Pick in the view' })).toBeVisible()
  await expect(step.getByRole('button', { name: 'Middle of the front' })).toBeVisible()
  await sound(page)
  // slid and turned by its knobs, each as one step of undo
  const slide = await knob(page, 'slide over the surface').boundingBox()
  if (!slide) throw new Error('no knob')
  const [x, y] = [slide.x + slide.width / 2, slide.y + slide.height / 2]
  await page.mouse.move(x, y)
  await page.mouse.down()
  await page.mouse.move(x - 20, y + 40, { steps: 6 })
  await page.mouse.up()
  await expect.poll(async () => ((await knob(page, 'slide over the surface').boundingBox())?.y ?? 0) - slide.y, { timeout: 90_000 }).toBeGreaterThan(15)
  await sound(page)
  await knob(page, 'turn').focus()
  await page.keyboard.press('ArrowUp')
  await expect(page.getByRole('textbox', { name: 'Angle', exact: true })).toHaveValue('5')
  await knob(page, 'size').focus()
  await page.keyboard.press('ArrowRight')
  await expect(page.getByRole('textbox', { name: 'Size', exact: true })).toHaveValue('105')
  await expect(step).toContainText('at 5°')
  await sound(page)
  const four = await volume(page)
  // the word is changed and what is raised follows
  await step.getByRole('button', { name: /Go to Name/ }).click()
  await words(page).fill('Pier 7')
  await sound(page)
  await page.getByRole('button', { name: 'Body', exact: true }).first().click()
  await sound(page)
  await expect.poll(() => volume(page), { timeout: 90_000 }).toBeGreaterThan(four)
  // over any surface, and letter by letter
  await openStep(page, 'raise-lettering', 'Raise lettering')
  await step.getByRole('button', { name: /Laid/ }).click()
  await page.getByRole('option', { name: 'Over the surface' }).click()
  await expect(step).toContainText('over the surface')
  await page.getByRole('radio', { name: 'Each as it is' }).click()
  await expect(step).toContainText('letter by letter')
  await sound(page)
  const last = await volume(page)
  await page.getByRole('button', { name: /^Undo/ }).click()
  await expect(step).not.toContainText('letter by letter')
  await page.getByRole('button', { name: /^Redo/ }).click()
  await expect(step).toContainText('letter by letter')
  await kept(page)
  await page.reload()
  await sound(page)
  expect(await volume(page)).toBeCloseTo(last, 1)
})

test('a word that runs off its body is told, with its remedy at hand', async ({ page }) => {
  await wordsAnd(page, { shape: 'box', width: 60, height: 40, depth: 10 }, 'Quay', 14)
  await insert(page)
  await chooseStep(page, 'Carve lettering')
  await chooseWords(page)
  const step = row(page, 'carve-lettering')
  await step.getByRole('button', { name: /Laid/ }).click()
  await page.getByRole('option', { name: 'Wrapped round' }).click()
  await expect(step).toContainText('No cylinder, cone or ball is found at this spot', { timeout: 90_000 })
  await step.getByRole('button', { name: 'Over the surface' }).click()
  await sound(page)
  await setNumber(page, 'Size', '300')
  await expect(step).toContainText(/(have|has) no surface beneath|bends more under the words/, { timeout: 150_000 })
})

test('a pocket and its insert fit into each other in two pieces and follow one step’s values', async ({ page }) => {
  await wordsAnd(page, { shape: 'box', width: 80, height: 40, depth: 12 }, 'T7', 20)
  const plain = await volume(page)
  await insert(page)
  await chooseStep(page, 'Inlay')
  await chooseWords(page)
  await expect(row(page, 'inlay')).toContainText('cut out', { timeout: 90_000 })
  await sound(page)
  expect(await volume(page)).toBeLessThan(plain)
  // what goes into it is made of the words by a button, and stands in it
  await row(page, 'inlay').getByRole('button', { name: 'Add its insert' }).click()
  await expect(row(page, 'insert')).toContainText('Fits the pocket', { timeout: 90_000 })
  await sound(page)
  await expect(page.getByLabel('Readout')).toContainText(/× 3\.0 mm/)
  await page.getByRole('button', { name: 'Undo: Insert' }).click()
  await page.getByRole('button', { name: 'Body', exact: true }).first().click()
  await openStep(page, 'inlay', 'Inlay')
  // or the words themselves become it
  await page.getByRole('button', { name: 'Go to Name' }).click()
  await sound(page)
  for (const kind of ['extrude', 'dress']) {
    await row(page, kind).getByRole('button', { name: /more/ }).click()
    await page.getByRole('menuitem', { name: 'Remove' }).click()
  }
  await insert(page)
  await chooseStep(page, 'Insert')
  await expect(row(page, 'insert')).toContainText('No piece with a pocket has been chosen')
  await page.getByRole('button', { name: /Choose a piece/ }).click()
  await page.getByRole('option', { name: 'Body' }).click()
  await sound(page)
  await expect(page.getByLabel('Readout')).toContainText(/× 3\.0 mm/)
  // another height, set where the pocket is
  await page.getByRole('button', { name: 'Go to Body' }).click()
  await openStep(page, 'inlay', 'Inlay')
  await setNumber(page, 'Depth', '5')
  await setNumber(page, 'Stands out', '1')
  await sound(page)
  await page.getByRole('button', { name: 'Name', exact: true }).first().click()
  await expect(page.getByLabel('Readout')).toContainText(/× 6\.0 mm/, { timeout: 90_000 })
})

test('a mark in two colours is let into a token as two inserts, which are seen together, undone, and found again', async ({ page }) => {
  const step = (kind: string, params: object = {}) => ({ id: `${kind}-1`, kind, on: true, params })
  const square = (id: string, layer: string, at: number, side: number) => ({
    id,
    layer,
    closed: true,
    nodes: [
      { x: at, y: at },
      { x: at + side, y: at },
      { x: at + side, y: at + side },
      { x: at, y: at + side },
    ],
  })
  const layers = [
    { id: 'sea', name: 'Sea', colour: '#1f6f8b' },
    { id: 'lamp', name: 'Lamp', colour: '#e8a13a' },
  ]
  await newProject(page, {
    ...newDocument(),
    name: 'Token',
    pieces: [
      {
        id: 'body',
        name: 'Token',
        route: [
          step('block', { shape: 'box', width: 60, height: 60, depth: 10 }),
          step('inlay', { words: { piece: 'mark' }, depth: 3, clearance: 0.2, proud: 1 }),
          step('dress'),
        ],
      },
      { id: 'mark', name: 'Mark', route: [step('drawing', { layers, shapes: [square('a', 'sea', -20, 40), square('b', 'lamp', -8, 16)] })] },
    ],
  })
  await openStep(page, 'inlay', 'Inlay')
  await row(page, 'inlay').getByRole('button', { name: 'Add an insert for each of 2 colours' }).click()
  await expect(row(page, 'insert')).toContainText('Fits the pocket')
  await sound(page)
  await expect(page.getByLabel('Readout')).toContainText('40.0 × 40.0 × 4.0 mm')
  // the square in the middle with the gap all round is cut out of it, and the lead-in is taken off its foot
  const whole = ((1600 - 16.4 ** 2) * 4) / 1000
  const sea = await volume(page)
  expect(sea).toBeLessThan(whole + 0.05)
  expect(sea).toBeGreaterThan(0.97 * whole - 0.05)
  // its first step is open
  await expect(page.getByRole('checkbox', { name: 'Sea' })).toBeChecked()
  await expect(page.getByRole('checkbox', { name: 'Lamp' })).not.toBeChecked()
  await page.getByRole('button', { name: 'Lamp for Token', exact: true }).first().click()
  await sound(page)
  await expect(page.getByLabel('Readout')).toContainText('16.0 × 16.0 × 4.0 mm')
  await page.getByRole('button', { name: 'All pieces' }).click()
  await sound(page)
  await kept(page)
  await page.reload()
  await sound(page)
  await page.getByRole('button', { name: 'Token', exact: true }).first().click()
  await openStep(page, 'inlay', 'Inlay')
  await expect(row(page, 'inlay')).toContainText('2 pieces go into this pocket')
  await row(page, 'inlay').getByRole('button', { name: 'Add its insert' }).click()
  await expect(page.getByRole('group', { name: 'Pieces' }).getByRole('button', { name: 'Insert for Token', exact: true })).toBeVisible()
  await page.getByRole('button', { name: 'Undo: Insert' }).click()
  await expect(page.getByRole('group', { name: 'Pieces' }).getByRole('button', { name: 'Insert for Token', exact: true })).toHaveCount(0)
})

test('an insert lies round a post with its pocket, and keeps to it when both are changed', async ({ page }) => {
  await wordsAnd(page, { shape: 'cylinder', width: 60, height: 50 }, 'T7', 20)
  await insert(page)
  await chooseStep(page, 'Inlay')
  await chooseWords(page)
  const step = row(page, 'inlay')
  await step.getByRole('button', { name: /Laid/ }).click()
  await page.getByRole('option', { name: 'Wrapped round' }).click()
  await expect(step).toContainText('round a cylinder, radius 30 mm', { timeout: 90_000 })
  await sound(page)
  await step.getByRole('button', { name: 'Add its insert' }).click()
  await expect(row(page, 'insert')).toContainText('round a cylinder, radius 30 mm', { timeout: 90_000 })
  await sound(page)
  await page.getByRole('button', { name: 'Body', exact: true }).first().click()
  await setNumber(page, 'Width', '80')
  await sound(page)
  await page.getByRole('button', { name: 'Insert for Body', exact: true }).first().click()
  await expect(row(page, 'insert')).toContainText('radius 40 mm', { timeout: 90_000 })
  await sound(page)
})

test('bridges hold the counters of a stencil', async ({ page }) => {
  await newProject(page)
  await words(page).fill('ROPE 80')
  await sound(page)
  await page.getByRole('button', { name: 'Insert a step after 1' }).click()
  await chooseStep(page, 'Stencil')
  const step = row(page, 'stencil')
  await expect(step).toContainText(/\d+ counters held/, { timeout: 90_000 })
  await setNumber(page, 'Width', '3')
  await setNumber(page, 'Angle', '45')
  await expect(step).toContainText('2 bridges of 3 mm at 45°')
  await sound(page)
  await page.getByRole('button', { name: /^Undo/ }).click()
  await expect(step).toContainText('at 90°')
})

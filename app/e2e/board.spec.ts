import { encode } from 'fast-png'
import { expect, type Locator, type Page } from '@playwright/test'
import { chooseStep, kept, newProject, row, sound, words } from './helpers'
import { test } from './test'

const board = (page: Page) => page.getByRole('application', { name: 'Board in millimetres' })
const undo = (page: Page) => page.getByRole('button', { name: /^Undo/ })
const redo = (page: Page) => page.getByRole('button', { name: /^Redo/ })

/** A grey sheet with a dark bar across it. */
function picture(): Buffer {
  const [w, h] = [240, 160]
  const data = new Uint8Array(4 * w * h)
  for (let i = 0; i < w * h; i++) {
    const [x, y] = [i % w, Math.floor(i / w)]
    const v = x > 40 && x < 200 && y > 60 && y < 100 ? 40 : 225
    data.set([v, v, v, 255], 4 * i)
  }
  return Buffer.from(encode({ width: w, height: h, data, channels: 4, depth: 8 }))
}

/** Presses at shares of the board; with a second place, drags there. */
async function press(page: Page, x: number, y: number, to?: readonly [number, number]): Promise<void> {
  const box = await board(page).boundingBox()
  if (!box) throw new Error('no board')
  const at = (u: number, v: number) => [box.x + box.width * u, box.y + box.height * v] as const
  await page.mouse.move(...at(x, y))
  await page.mouse.down()
  if (to) await page.mouse.move(...at(...to), { steps: 8 })
  await page.mouse.up()
}

/** What a step's row says after undoing and redoing what was done last. */
async function thereAndBack(page: Page, step: Locator, before: string | RegExp, after: string | RegExp): Promise<void> {
  await expect(step).toContainText(after)
  await undo(page).click()
  await expect(step).toContainText(before)
  await redo(page).click()
  await expect(step).toContainText(after)
}

test('a shape is drawn with pen and pencil over a picture that is given its scale', async ({ page }) => {
  await newProject(page)
  await page.getByRole('button', { name: 'New piece' }).click()
  await page.getByRole('menuitem', { name: 'Drawn by hand' }).click()
  await expect(board(page)).toBeVisible()
  await page.getByRole('button', { name: 'Picture underneath' }).click()
  const chooser = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: 'Choose a picture' }).click()
  await (await chooser).setFiles({ name: 'bar.png', mimeType: 'image/png', buffer: picture() })
  await expect(page.getByRole('textbox', { name: 'Width', exact: true })).toHaveValue('120')
  await page.keyboard.press('Escape')
  await expect(board(page).locator('image')).toBeVisible()
  await page.getByRole('button', { name: 'All in sight' }).click()
  // two points at the bar’s ends are given their true distance
  const image = await board(page).locator('image').boundingBox()
  const frame = await board(page).boundingBox()
  if (!image || !frame) throw new Error('no picture')
  const onPicture = (u: number, v: number) =>
    [(image.x + image.width * u - frame.x) / frame.width, (image.y + image.height * v - frame.y) / frame.height] as const
  await page.getByRole('button', { name: 'Picture', exact: true }).click()
  await page.getByRole('button', { name: 'Scale by two points' }).click()
  await press(page, ...onPicture(40 / 240, 0.5))
  await press(page, ...onPicture(200 / 240, 0.5))
  await page.getByRole('textbox', { name: 'True distance' }).fill('160')
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'Scale', exact: true }).click()
  await page.getByRole('button', { name: 'Picture', exact: true }).click()
  const width = Number(await page.getByRole('textbox', { name: 'Width', exact: true }).inputValue())
  expect(Math.abs(width - 240)).toBeLessThan(3)
  await page.keyboard.press('Escape')
  // the pen: a bent outline, closed by pressing its first node
  const drawing = row(page, 'drawing')
  await page.getByRole('radio', { name: 'Pen', exact: true }).click()
  await press(page, 0.3, 0.7)
  await press(page, 0.3, 0.4, [0.36, 0.34])
  await press(page, 0.5, 0.4)
  await press(page, 0.5, 0.7)
  await press(page, 0.3, 0.7)
  await thereAndBack(page, drawing, '1 open line', '1 shape drawn')
  await sound(page)
  // the pencil: a line with a width of its own
  await page.getByRole('radio', { name: 'Pencil' }).click()
  await page.getByRole('textbox', { name: 'New lines' }).fill('6')
  await page.keyboard.press('Enter')
  await press(page, 0.58, 0.6, [0.72, 0.45])
  await thereAndBack(page, drawing, '1 shape drawn', '2 shapes drawn')
  // a node is moved by its figures, made smooth, and its line parted and closed again
  await page.getByRole('radio', { name: 'Nodes' }).click()
  await press(page, 0.5, 0.7)
  await page.getByRole('textbox', { name: 'Node: across' }).fill('12.5')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('button', { name: /12\.5 mm across/ })).toBeVisible()
  await page.getByRole('radio', { name: 'Smooth' }).click()
  await expect(page.getByRole('button', { name: /smooth: 12\.5 mm across/ })).toBeVisible()
  await undo(page).click()
  await expect(page.getByRole('button', { name: /corner: 12\.5 mm across/ })).toBeVisible()
  // a guide is drawn out of the ruler and holds a node
  const box = await board(page).boundingBox()
  if (!box) throw new Error('no board')
  await page.mouse.move(box.x + 300, box.y + 10)
  await page.mouse.down()
  await page.mouse.move(box.x + 300, box.y + 200, { steps: 5 })
  await page.mouse.up()
  await expect(board(page).locator('.guide')).toHaveCount(1)
  await kept(page)
  await page.reload()
  await sound(page)
  await page.getByRole('button', { name: 'Piece 2', exact: true }).click()
  await expect(drawing).toContainText('2 shapes drawn')
  await sound(page)
  await page.getByRole('radio', { name: 'Draw' }).click()
  await expect(board(page).locator('.guide')).toHaveCount(1)
  await expect(board(page).locator('image')).toBeVisible()
})

test('a letter is redrawn, a limb tied, a part smoothed and the word sliced, and the words can still be typed anew', async ({ page }) => {
  await newProject(page)
  await page.getByRole('radio', { name: 'Draw' }).click()
  // redraw: the H is taken in hand and its upper left corner pulled up
  await page.getByRole('button', { name: /^Redraw/ }).click()
  // as soon as it lies on the board
  await expect(async () => {
    await press(page, 0.11, 0.5)
    await expect(page.getByText('Changing “H”')).toBeVisible({ timeout: 5000 })
  }).toPass({ timeout: 90_000 })
  const node = page.getByRole('button', { name: /^Node \d+, corner: .* 40\.0 mm up/ }).first()
  const at = await node.boundingBox()
  if (!at) throw new Error('no node')
  await page.mouse.move(at.x + 4, at.y + 4)
  await page.mouse.down()
  await page.mouse.move(at.x - 10, at.y - 60, { steps: 6 })
  await page.mouse.up()
  await thereAndBack(page, row(page, 'redraw'), 'Nothing redrawn yet', 'Redrawn by hand: H')
  const back = async () => {
    await row(page, 'lettering')
      .getByRole('button', { name: /Lettering/ })
      .first()
      .click()
    await expect(page.getByRole('group', { name: 'What to draw' })).toBeVisible()
  }
  // extend: a limb from the H’s foot to the o
  await back()
  await page.getByRole('button', { name: /^Extend/ }).click()
  await expect(page.getByText('Draw from one letter’s edge to another’s')).toBeVisible()
  const frame = await board(page).boundingBox()
  if (!frame) throw new Error('no board')
  const lowest = (await page.getByText('Baseline', { exact: true }).boundingBox()) as { y: number; height: number }
  const y = lowest.y + lowest.height
  await page.mouse.move(frame.x + frame.width * 0.11, y)
  await page.mouse.down()
  for (let i = 1; i <= 12; i++) await page.mouse.move(frame.x + frame.width * (0.11 + 0.063 * i), y + 60 * Math.sin((Math.PI * i) / 12))
  await page.mouse.up()
  await thereAndBack(page, row(page, 'extend'), 'No limb drawn yet', '1 limb drawn')
  await expect(row(page, 'extend')).toHaveAttribute('data-state', 'sound')
  // smooth: brushed over the H’s new peak
  await back()
  await page.getByRole('button', { name: /^Smooth/ }).click()
  await press(page, 0.07, 0.4, [0.1, 0.38])
  await thereAndBack(page, row(page, 'smooth'), 'Nothing brushed yet', 'where brushed')
  // slice along a line drawn with the pen
  await back()
  await page.getByRole('button', { name: /^Slice/ }).click()
  await press(page, 0.03, 0.6)
  await press(page, 0.95, 0.55)
  await page.keyboard.press('Enter')
  await thereAndBack(page, row(page, 'slice'), /1 drawn line/, '2 parts')
  await sound(page)
  // the words are typed anew: what belongs to letters that stay is kept
  await row(page, 'lettering')
    .getByRole('button', { name: /Lettering/ })
    .first()
    .click()
  await words(page).fill('Hallo')
  await expect(row(page, 'lettering')).toContainText('“Hallo”')
  await expect(row(page, 'redraw')).toContainText('1 of 1 in use')
  await expect(row(page, 'extend')).toHaveAttribute('data-state', 'sound')
  await sound(page)
  await words(page).fill('allo')
  await expect(row(page, 'redraw')).toContainText('Set aside: “H”')
  await undo(page).click()
  await expect(row(page, 'redraw')).toContainText('1 of 1 in use')
  await kept(page)
  await page.reload()
  await sound(page)
  for (const [kind, says] of [
    ['redraw', 'Redrawn by hand: H'],
    ['extend', '1 limb drawn'],
    ['smooth', 'where brushed'],
    ['slice', '2 parts'],
  ] as const)
    await expect(row(page, kind)).toContainText(says)
})

test('one piece is cut out of another, follows it, and a ring of pieces cannot be chosen', async ({ page }) => {
  await newProject(page)
  await page.getByRole('button', { name: 'New piece' }).click()
  await page.getByRole('menuitem', { name: 'Drawn by hand' }).click()
  await press(page, 0.05, 0.9)
  await press(page, 0.95, 0.9)
  await press(page, 0.95, 0.1)
  await press(page, 0.05, 0.1)
  await press(page, 0.05, 0.9)
  await expect(row(page, 'drawing')).toContainText('1 shape drawn')
  await row(page, 'drawing').hover()
  await page.getByRole('button', { name: 'Insert a step after 1' }).click({ force: true })
  await chooseStep(page, 'Combine')
  await expect(row(page, 'combine')).toContainText('No piece has been chosen')
  await row(page, 'combine')
    .getByRole('button', { name: /Choose a piece/ })
    .click()
  await page.getByRole('option', { name: 'Words' }).click()
  await expect(row(page, 'combine')).toHaveAttribute('data-state', 'sound')
  await sound(page)
  // what is left of the plate: how long it took differs every time, and its size never
  const volume = async () => /([\d.]+) cm³/.exec((await page.getByLabel('Readout').textContent()) ?? '')?.[1]
  const before = await volume()
  expect(before).toBeTruthy()
  // the words change: the plate follows by itself
  await page.getByRole('button', { name: 'Words', exact: true }).click()
  await words(page).fill('Hi')
  await expect(row(page, 'lettering')).toContainText('“Hi”')
  // this piece cannot be made with one that is made with it
  await row(page, 'lettering').hover()
  await page.getByRole('button', { name: 'Insert a step after 1' }).click({ force: true })
  await chooseStep(page, 'Combine')
  // but with one that is added for it at once
  await row(page, 'combine').getByRole('button', { name: 'Add a piece: Piece' }).click()
  await page.getByRole('menuitem', { name: /^Words/ }).click()
  await expect(row(page, 'combine').getByRole('button', { name: 'Go to Piece 3' })).toBeVisible()
  for (let i = 0; i < 3; i++) await undo(page).click()
  await expect(page.getByRole('button', { name: 'Piece 3', exact: true })).toHaveCount(0)
  await page.getByRole('button', { name: 'Piece 2', exact: true }).click()
  await page.getByRole('radio', { name: 'Model' }).click()
  await sound(page)
  expect(Number(await volume())).toBeGreaterThan(Number(before))
})

test('ridged letters stand on a plate that takes its size from them', async ({ page }) => {
  await newProject(page)
  await row(page, 'lettering').hover()
  await page.getByRole('button', { name: 'Insert a step after 1' }).click({ force: true })
  await chooseStep(page, 'Prismatic')
  // another form cannot follow a form: the row says so, and the rest is put right by removing it
  await expect(row(page, 'extrude')).toContainText('needs an outline, but gets a solid')
  await page.getByRole('button', { name: 'Extrude: more' }).click()
  await page.getByRole('menuitem', { name: 'Remove' }).click()
  await expect(row(page, 'prismatic')).toContainText(/highest \d/)
  await sound(page)
  await page.getByRole('textbox', { name: 'Slope' }).fill('55')
  await page.keyboard.press('Enter')
  await thereAndBack(page, row(page, 'prismatic'), 'Ridges at 40°', 'Ridges at 55°')
  // the plate: a piece of its own
  await page.getByRole('button', { name: 'New piece' }).click()
  await page.getByRole('menuitem', { name: /^A drawing/ }).click()
  await page.getByRole('button', { name: 'Vector file: more' }).click()
  await page.getByRole('menuitem', { name: 'Remove' }).click()
  await page.getByRole('button', { name: 'Layers: more' }).click()
  await page.getByRole('menuitem', { name: 'Remove' }).click()
  await page.getByRole('button', { name: 'Extrude: more' }).click()
  await page.getByRole('menuitem', { name: 'Remove' }).click()
  await page.getByRole('button', { name: 'Dress: more' }).click()
  await page.getByRole('menuitem', { name: 'Remove' }).click()
  await page.getByRole('button', { name: 'Begin with a source' }).click()
  await chooseStep(page, 'Plate')
  await page.getByRole('radio', { name: 'From a piece' }).click()
  await expect(row(page, 'plate')).toContainText('No piece has been chosen')
  await row(page, 'plate')
    .getByRole('button', { name: /Choose a piece/ })
    .click()
  await page.getByRole('option', { name: 'Words' }).click()
  await expect(row(page, 'plate')).toHaveAttribute('data-state', 'sound')
  await kept(page)
  await page.reload()
  await sound(page)
  await page.getByRole('button', { name: 'Piece 2', exact: true }).click()
  await expect(row(page, 'plate')).toContainText('8 mm about a piece')
})

import { newProject as newDocument } from '@kelvar/core/project/new-project'
import { expect, type Page } from '@playwright/test'
import { chooseStep, kept, newProject, postProject, row, sound, words } from './helpers'
import { test } from './test'

const unfold = (page: Page, kind: string, title: string) =>
  row(page, kind)
    .getByRole('button', { name: new RegExp(title) })
    .first()
    .click()
const editor = (page: Page) => page.getByRole('region', { name: 'Front edge: profile' })
const triangles = async (page: Page) => Number(((await page.getByLabel('Readout').textContent()) ?? '').match(/([\d,]+) triangles/)?.[1].replaceAll(',', ''))

test('a profile is drawn with its nodes, seen at once, kept in the cabinet and used by another edge', async ({ page }) => {
  const name = `Quay rail ${Date.now() % 100000}`
  await newProject(page)
  await words(page).fill('Io')
  await sound(page)
  await unfold(page, 'extrude', 'Extrude')
  await page.getByRole('button', { name: 'Edit the curve' }).first().click()
  // the place where strokes close in ridges is drawn in
  await expect(editor(page)).toContainText(/half the (thinnest )?stroke/)
  const before = await triangles(page)
  const board = (await editor(page).getByRole('group', { name: 'Nodes of the profile' }).boundingBox()) as {
    x: number
    y: number
    width: number
    height: number
  }
  const node = async (n: number) => {
    const box = (await editor(page)
      .getByRole('button', { name: new RegExp(`^Node ${n}:`) })
      .boundingBox()) as { x: number; y: number; width: number; height: number }
    return { x: box.x + box.width / 2, y: box.y + box.height / 2 }
  }
  const [a, b] = [await node(1), await node(2)]
  // a press on the chamfer's line puts a node there, which is then dragged outwards and made smooth
  await page.mouse.click((a.x + b.x) / 2, (a.y + b.y) / 2)
  await expect(editor(page).getByRole('button', { name: /^Node 3:/ })).toBeVisible()
  const middle = await node(2)
  await page.mouse.move(middle.x, middle.y)
  await page.mouse.down()
  await page.mouse.move(middle.x - board.width * 0.04, middle.y - board.height * 0.12, { steps: 5 })
  await page.mouse.up()
  await editor(page).getByRole('radio', { name: 'Smooth' }).click()
  await expect.poll(() => triangles(page)).toBeGreaterThan(before)
  await sound(page)
  await expect(row(page, 'extrude')).toContainText('own profile')
  // typed exactly
  const inset = editor(page).getByRole('textbox', { name: 'Node: inset' })
  await inset.fill('0.4')
  await inset.press('Enter')
  await expect(editor(page).getByRole('button', { name: /^Node 2: inset 0.4 mm/ })).toBeVisible()
  // one drag is one step of undo
  await editor(page).getByRole('textbox', { name: 'Name in the cabinet' }).fill(name)
  await editor(page).getByRole('button', { name: 'Keep in the cabinet' }).click()
  await expect(row(page, 'extrude')).toContainText(name)
  await editor(page).getByRole('button', { name: 'Close the profile editor' }).click()
  await kept(page)
  await page.reload()
  await sound(page)
  await expect(row(page, 'extrude')).toContainText(name)
  // another project finds it among the profiles
  await newProject(page)
  await unfold(page, 'extrude', 'Extrude')
  await page
    .getByRole('button', { name: /^All \d+ profiles/ })
    .first()
    .click()
  await page.getByRole('radiogroup', { name: 'Front edge: profile' }).getByRole('radio', { name }).click()
  await expect(row(page, 'extrude')).toContainText(name)
  await sound(page)
  await page.getByRole('button', { name: 'Edit the curve' }).first().click()
  await editor(page).getByRole('textbox', { name: 'Name in the cabinet' }).fill(name)
  await editor(page)
    .getByRole('button', { name: `Remove ${name} from the cabinet` })
    .click()
  await expect(editor(page).getByRole('button', { name: `Remove ${name} from the cabinet` })).toHaveCount(0)
})

test('letters are inflated instead of extruded, bent into tubes, and dressed letter by letter, while the words stay words', async ({ page }) => {
  await newProject(page)
  await words(page).fill('Fair')
  await sound(page)
  await row(page, 'extrude').getByRole('button', { name: 'Extrude: more' }).click()
  await page.getByRole('menuitem', { name: 'Change into another step…' }).click()
  await chooseStep(page, 'Inflate')
  await expect(row(page, 'inflate')).toContainText('Swells 6 mm on both sides')
  await sound(page)
  await page.getByRole('textbox', { name: 'Height' }).fill('4')
  await page.keyboard.press('Enter')
  await expect(page.getByLabel('Readout')).toContainText('× 8.0')
  await sound(page)
  await unfold(page, 'lettering', 'Lettering')
  await words(page).fill('Quay')
  await sound(page)
  await expect(page.getByLabel('Readout')).toContainText('× 8.0')
  // the same words as a bent bar
  await row(page, 'inflate').getByRole('button', { name: 'Inflate: more' }).click()
  await page.getByRole('menuitem', { name: 'Change into another step…' }).click()
  await chooseStep(page, 'Tube')
  await expect(row(page, 'tube')).toContainText('Round bar, 2 mm radius')
  await sound(page)
  await expect(page.getByLabel('Readout')).toContainText('× 4.0')
  await unfold(page, 'dress', 'Dress')
  await page.getByRole('button', { name: /^Face: material/ }).click()
  await page.getByRole('button', { name: 'Warm neon' }).click()
  await page.keyboard.press('Escape')
  await expect(row(page, 'dress')).toContainText('Face warm neon')
  await page.getByRole('button', { name: 'Dress some of it differently' }).click()
  await page.getByRole('textbox', { name: 'Rule 1: letters' }).fill('Q')
  await expect(row(page, 'dress')).toContainText('1 rule')
  await kept(page)
  await page.reload()
  await sound(page)
  await expect(row(page, 'tube')).toContainText('Round bar')
  await expect(row(page, 'dress')).toContainText('1 rule')
})

test('an edge wider than the strokes offers to stop at a flat, and a band of it takes its own material', async ({ page }) => {
  await newProject(page)
  await words(page).fill('Io')
  await sound(page)
  await unfold(page, 'extrude', 'Extrude')
  const inset = page.getByRole('textbox', { name: 'Front edge: inset' })
  await inset.fill('9')
  await inset.press('Enter')
  await expect(row(page, 'extrude').getByRole('note').first()).toContainText('no face is left')
  await page.getByRole('button', { name: 'Stop at a flat of 1 mm' }).click()
  await expect(row(page, 'extrude').getByRole('note')).toHaveCount(0)
  await expect(page.getByRole('textbox', { name: 'Flat left' }).first()).toHaveValue('1')
  await sound(page)
  await page.getByRole('button', { name: 'Name a band of the edge' }).click()
  await expect(page.getByRole('group', { name: 'Band 1' })).toBeVisible()
  await unfold(page, 'dress', 'Dress')
  await page.getByRole('button', { name: 'Dress some of it differently' }).click()
  await expect(page.getByRole('group', { name: 'Rule 1', exact: true }).first()).toContainText('Rim')
  await sound(page)
  await expect(row(page, 'dress').getByRole('note')).toHaveCount(0)
})

test('a bar follows curves along its length, and one of its strokes becomes the profile of an edge', async ({ page }) => {
  const document = newDocument()
  const nodes = [
    { x: 0, y: 0, out: [10, 20] },
    { x: 40, y: 30, in: [-20, 0] },
  ]
  const points = [
    [0, 28],
    [0.22, 105],
    [0.5, 62],
    [0.8, 108],
    [1, 14],
  ]
  document.pieces.unshift({
    id: 'pen',
    name: 'Pen',
    route: [
      {
        id: 'drawing-1',
        kind: 'drawing',
        on: true,
        params: { layers: [{ id: 'ink', name: 'Ink' }], shapes: [{ id: 's', layer: 'ink', closed: false, nodes }] },
      },
      { id: 'sweep-1', kind: 'sweep', on: true, params: { width: 4, height: 4, course: 'curves', sizeCurve: points } },
    ],
  })
  await page.goto(`/project/${await postProject(page, document)}`)
  const pieces = page.getByRole('group', { name: 'Pieces' })
  await unfold(page, 'sweep', 'Sweep')
  await expect(row(page, 'sweep')).toContainText('along drawn curves')
  await sound(page)
  const volume = async () => Number(/([\d.]+) cm³/.exec((await page.getByLabel('Readout').textContent()) ?? '')?.[1])
  const before = await volume()
  const dots = page.getByRole('slider', { name: /^Size: point/ })
  await expect(dots).toHaveCount(5)
  // typed, added and taken away
  await page.getByRole('slider', { name: 'Size: point 3' }).focus()
  const value = page.getByRole('textbox', { name: 'Size: value there' })
  await value.fill('100')
  await value.press('Enter')
  await sound(page)
  await expect.poll(volume).toBeGreaterThan(before)
  await page.getByRole('button', { name: 'Size: add a point after this one' }).click()
  await expect(dots).toHaveCount(6)
  await page.getByRole('button', { name: 'Size: take this point away' }).click()
  await expect(dots).toHaveCount(5)
  // dragged, as one step of undo
  const dot = await page.getByRole('slider', { name: 'Size: point 2' }).boundingBox()
  if (!dot) throw new Error('no point')
  await page.mouse.move(dot.x + 11, dot.y + 11)
  await page.mouse.down()
  await page.mouse.move(dot.x + 31, dot.y + 31, { steps: 5 })
  await page.mouse.up()
  await expect(page.getByRole('textbox', { name: 'Size: value there' })).not.toHaveValue('105')
  await sound(page)

  await pieces.getByRole('button', { name: 'Words', exact: true }).click()
  await unfold(page, 'extrude', 'Extrude')
  await sound(page)
  await page.getByRole('button', { name: 'Edit the curve' }).first().click()
  await editor(page).getByRole('button', { name: 'Take a drawn stroke' }).click()
  await editor(page).getByRole('button', { name: 'Stroke 1' }).click()
  await expect(row(page, 'extrude')).toContainText(/own profile/)
  await sound(page)
})

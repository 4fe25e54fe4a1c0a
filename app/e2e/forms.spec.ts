import { expect, type Page, test } from '@playwright/test'
import { chooseStep, kept, newProject, row, sound, words } from './helpers'

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

import { writeGlb } from '@kelvar/core/format/glb'
import { writeObj } from '@kelvar/core/format/obj'
import { writeStl } from '@kelvar/core/format/stl'
import { turnedRing } from '@kelvar/core/solid/revolve'
import { newProject as newDocument } from '@kelvar/core/project/new-project'
import { expect, type Page } from '@playwright/test'
import { decode, encode } from 'fast-png'
import { boxSolid } from '../../core/test/helpers'
import { chooseStep, kept, newProject, openStep, postProject, row, setNumber, sound, words } from './helpers'
import { test } from './test'

const volume = async (page: Page) => Number(((await page.getByLabel('Readout').textContent()) ?? '').match(/([\d.]+) cm³/)?.[1])
const insert = (page: Page) => page.getByRole('button', { name: 'insert a step' }).click()

/** A project of words and a block that stands some way behind them. */
async function wordsAndBlock(page: Page): Promise<void> {
  const document = newDocument()
  const [piece] = document.pieces
  piece.name = 'Name'
  Object.assign(piece.route[0].params, { text: 'Pier', size: 20 })
  document.pieces.unshift({
    id: 'stone',
    name: 'Stone',
    place: { position: [0, -10, -60], turn: [0, 0, 0], size: 1 },
    route: [{ id: 'block-1', kind: 'block', on: true, params: { shape: 'box', width: 90, height: 40, depth: 20 } }],
  })
  await newProject(page, document)
}

test('a word is carved into a stone, sunk where it floated, retyped, cut right through, undone and found again', async ({ page }) => {
  await wordsAndBlock(page)
  const whole = await volume(page)
  expect(whole).toBeCloseTo(72, 0)
  // where it is thinnest is measured, and shown when asked for
  const thinnest = page.getByRole('button', { name: /mm thinnest/ })
  await expect(thinnest).toHaveText('20.0 mm thinnest')
  await thinnest.click()
  await expect(page.getByRole('img', { name: '1 place pointed out' }).locator('i')).toBeVisible()
  await thinnest.click()
  await expect(page.getByRole('img', { name: '1 place pointed out' })).toHaveCount(0)
  await insert(page)
  await chooseStep(page, 'Carve')
  await expect(row(page, 'carve')).toContainText('No piece has been chosen')
  await page.getByRole('button', { name: /Choose a piece/ }).click()
  await page.getByRole('option', { name: 'Name' }).click()
  // it stands far in front of the stone: said, and mended by one press
  await expect(row(page, 'carve')).toContainText('“Name” does not reach into this piece')
  await row(page, 'carve').getByRole('button', { name: 'Sink to 2 mm' }).click()
  await expect(row(page, 'carve')).toContainText('18 mm left behind')
  await sound(page)
  const carved = await volume(page)
  expect(carved).toBeLessThan(whole)
  await setNumber(page, 'Depth', '5')
  await expect.poll(() => volume(page)).toBeLessThan(carved)
  await sound(page)
  // the word is changed, and what is carved follows
  await row(page, 'carve').getByRole('button', { name: 'Name', exact: true }).click()
  await expect(words(page)).toBeVisible()
  await words(page).fill('Pier 77')
  await sound(page)
  await page.getByRole('button', { name: 'Stone', exact: true }).first().click()
  await sound(page)
  const retyped = await volume(page)
  expect(retyped).toBeLessThan(carved - 0.5)
  await openStep(page, 'carve', 'Carve')
  await row(page, 'carve')
    .getByRole('button', { name: /How deep/ })
    .click()
  await page.getByRole('option', { name: 'Right through' }).click()
  await expect.poll(() => volume(page)).toBeLessThan(retyped)
  await sound(page)
  const through = await volume(page)
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect.poll(() => volume(page)).toBeCloseTo(retyped, 1)
  await page.getByRole('button', { name: 'Redo' }).click()
  await expect.poll(() => volume(page)).toBeCloseTo(through, 1)
  await kept(page)
  await page.reload()
  await sound(page)
  expect(await volume(page)).toBeCloseTo(through, 1)
})

test('words are raised on a stone by standing on its face, and moved with their place', async ({ page }) => {
  await wordsAndBlock(page)
  const whole = await volume(page)
  await insert(page)
  await chooseStep(page, 'Fuse')
  await page.getByRole('button', { name: /Choose a piece/ }).click()
  await page.getByRole('option', { name: 'Name' }).click()
  await row(page, 'fuse').getByRole('button', { name: 'Stand it on the face' }).click()
  await expect.poll(() => volume(page)).toBeGreaterThan(whole)
  await sound(page)
  await expect(row(page, 'fuse')).toContainText('more')
  // left out again
  await row(page, 'fuse').getByRole('button', { name: 'Leave Name out' }).click()
  await expect(row(page, 'fuse')).toContainText('No piece has been chosen')
})

test('a broken model is brought in by its button, said to be broken, repaired, and carved into', async ({ page }) => {
  await wordsAndBlock(page)
  const ring = turnedRing(30, 14, 48, 32, 2 ** -14)
  await row(page, 'block').getByRole('button', { name: 'Block: more' }).click()
  await page.getByRole('menuitem', { name: 'Change into another step…' }).click()
  await chooseStep(page, 'Model file')
  await expect(row(page, 'model-file')).toContainText('No model has been chosen')
  const bring = async (name: string, buffer: Buffer) => {
    const chooser = page.waitForEvent('filechooser')
    await row(page, 'model-file')
      .getByRole('button', { name: /Choose (a|another) model/ })
      .click()
    await (await chooser).setFiles([{ name, mimeType: 'model/stl', buffer }])
  }
  await bring('words.svg', Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" width="9mm" height="9mm" viewBox="0 0 9 9"><path d="M0 0h9v9z"/></svg>'))
  await expect(row(page, 'model-file').getByRole('alert').last()).toContainText('Use the step Vector file')
  await bring('lifebelt.stl', Buffer.from(writeStl({ ...ring, indices: ring.indices.subarray(3) })))
  await expect(row(page, 'model-file')).toContainText('lifebelt.stl is broken: one hole')
  await row(page, 'model-file').getByRole('button', { name: 'Repair it' }).click()
  await sound(page)
  await expect(row(page, 'model-file')).toContainText('3,072 triangles, one part; repaired: one hole')
  const whole = await volume(page)
  await insert(page)
  await chooseStep(page, 'Carve')
  await page.getByRole('button', { name: /Choose a piece/ }).click()
  await page.getByRole('option', { name: 'Name' }).click()
  await row(page, 'carve').getByRole('button', { name: 'Right through' }).click()
  await expect.poll(() => volume(page)).toBeLessThan(whole)
  await sound(page)
  await kept(page)
  await page.reload()
  await sound(page)
  await expect(row(page, 'model-file')).toContainText('lifebelt.stl')
})

test('words are cut as a groove and raised with an edge of their own, in one step each', async ({ page }) => {
  await wordsAndBlock(page)
  const whole = await volume(page)
  await insert(page)
  await chooseStep(page, 'Carve lettering')
  await page.getByRole('button', { name: /Choose a piece/ }).click()
  await page.getByRole('option', { name: 'Name' }).click()
  await expect(row(page, 'carve-lettering')).toContainText('V-groove of 90°')
  await expect.poll(() => volume(page)).toBeLessThan(whole)
  await sound(page)
  const groove = await volume(page)
  await setNumber(page, 'Tool', '50')
  await expect.poll(() => volume(page)).toBeLessThan(groove)
  await row(page, 'carve-lettering').getByRole('button', { name: 'V-groove Cut' }).click()
  await page.getByRole('option', { name: 'Flat floor' }).click()
  await expect(row(page, 'carve-lettering')).toContainText('Flat, 2 mm deep')
  await expect(row(page, 'carve-lettering')).toContainText('18 mm left behind')
  await sound(page)
  await row(page, 'carve-lettering').getByRole('button', { name: 'Carve lettering: more' }).click()
  await page.getByRole('menuitem', { name: 'Change into another step…' }).click()
  await chooseStep(page, 'Raise lettering')
  // the words it works with are those of the step it was
  await expect(row(page, 'raise-lettering')).toContainText('3 mm high')
  await expect.poll(() => volume(page)).toBeGreaterThan(whole)
  await sound(page)
  await kept(page)
})

test('a piece is cut open in the view, the section pushed and tilted, and shut again', async ({ page }) => {
  await wordsAndBlock(page)
  const canvas = page.getByLabel('View of the piece').locator('canvas')
  const whole = await canvas.screenshot()
  await page.getByRole('button', { name: 'Section', exact: true }).click()
  const push = page.getByRole('slider', { name: 'Section: push' })
  await expect(push).toHaveAttribute('aria-valuetext', 'Section 0.0 mm off the middle')
  await expect.poll(async () => (await canvas.screenshot()).equals(whole)).toBe(false)
  const open = await canvas.screenshot()
  const box = await push.boundingBox()
  if (!box) throw new Error('no knob')
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2]
  await page.mouse.move(x, y)
  await page.mouse.down()
  await page.mouse.move(x - 60, y, { steps: 5 })
  await page.mouse.up()
  await expect(push).not.toHaveAttribute('aria-valuetext', 'Section 0.0 mm off the middle')
  await expect.poll(async () => (await canvas.screenshot()).equals(open)).toBe(false)
  const pushed = await canvas.screenshot()
  await page.getByRole('slider', { name: 'Section: tilt' }).focus()
  await page.keyboard.press('ArrowRight')
  await expect.poll(async () => (await canvas.screenshot()).equals(pushed)).toBe(false)
  await page.getByRole('button', { name: 'Section', exact: true }).click()
  await expect(push).toHaveCount(0)
  // all pieces are cut open by one plane, each filled in its own material
  await page.getByRole('button', { name: 'All pieces' }).click()
  await expect(page.getByRole('group', { name: /^Place of/ })).toBeVisible()
  await page.getByRole('button', { name: 'Section', exact: true }).click()
  await expect(push).toHaveAttribute('aria-valuetext', 'Section 0.0 mm off the middle')
  const cut = await canvas.screenshot()
  await push.focus()
  await page.keyboard.press('ArrowRight')
  await expect(push).toHaveAttribute('aria-valuetext', /Section -?1.0 mm off the middle/)
  await expect.poll(async () => (await canvas.screenshot()).equals(cut)).toBe(false)
  await page.getByRole('button', { name: 'All pieces' }).click()
  await expect(push).toHaveCount(0)
})

test('a piece is pushed, lifted and turned among the others, stood on the ground and laid against a face', async ({ page }) => {
  await wordsAndBlock(page)
  await page.getByRole('button', { name: 'All pieces' }).click()
  const value = (name: string) => page.getByRole('group', { name: 'Place of Stone' }).getByRole('textbox', { name, exact: true })
  await expect(value('Forward')).toHaveValue('-60')
  // by keys, each as one step of undo
  await page.getByRole('slider', { name: 'Push Stone' }).focus()
  await page.keyboard.press('ArrowRight')
  await expect(value('Across')).toHaveValue('1')
  await page.getByRole('slider', { name: 'Lift Stone' }).focus()
  await page.keyboard.press('ArrowUp')
  await expect(value('Up')).toHaveValue('-9')
  await page.getByRole('slider', { name: 'Turn Stone' }).focus()
  await page.keyboard.press('ArrowRight')
  await expect(value('Turn about y')).toHaveValue('5')
  await page.getByRole('button', { name: /^Undo/ }).click()
  await expect(value('Turn about y')).toHaveValue('0')
  await page.getByRole('button', { name: 'On the ground' }).click()
  await expect(value('Up')).toHaveValue('0')
  // by hand
  const knob = await page.getByRole('slider', { name: 'Push Stone' }).boundingBox()
  if (!knob) throw new Error('no knob')
  const [x, y] = [knob.x + knob.width / 2, knob.y + knob.height / 2]
  await page.mouse.move(x, y)
  await page.mouse.down()
  await page.mouse.move(x + 90, y, { steps: 6 })
  await page.mouse.up()
  await expect.poll(async () => Number(await value('Across').inputValue())).toBeGreaterThan(5)
  await expect(value('Up')).toHaveValue('0')
  // its back against a letter’s face, wherever one is met
  await page.getByRole('radio', { name: 'Front' }).click()
  const against = page.getByRole('group', { name: 'Place of Stone' }).getByRole('button', { name: /Against a face|Press a face now/ })
  await against.click()
  await expect(against).toHaveText('Press a face now')
  const view = await page.getByLabel('View of the piece').boundingBox()
  if (!view) throw new Error('no view')
  for (let i = 0; i < 60 && (await against.textContent()) === 'Press a face now'; i++)
    await page.mouse.click(view.x + view.width * (0.2 + 0.03 * (i % 20)), view.y + view.height * (0.35 + 0.1 * Math.floor(i / 20)))
  await expect(against).toHaveText('Against a face')
  // in front of the words now, the right way up
  await expect.poll(async () => Number(await value('Forward').inputValue())).toBeGreaterThan(10)
  await kept(page)
})

test('a model keeps the picture that lies on it, also where something is cut out of it', async ({ page }) => {
  // red on the left, blue on the right, across the whole of a box
  const picture = encode({ width: 2, height: 1, channels: 3, data: Uint8Array.from([255, 0, 0, 0, 0, 255]) })
  const looks = [
    {
      name: 'lid',
      material: { colour: '#bc00bc', roughness: 0.9, metalness: 0, picture: { key: 'lid', type: 'image/png' as const, bytes: picture, tint: '#ffffff' } },
    },
  ]
  const plain = boxSolid([-30, 0, -10], [30, 40, 10], { look: 0 }, { looks })
  const pictureUv = Float32Array.from({ length: 2 * plain.indices.length }, (_, i) =>
    i % 2 === 0 ? (plain.positions[3 * plain.indices[i / 2]] + 30) / 60.01 : 0.5,
  )
  const glb = await writeGlb({ ...plain, attributes: { pictureUv } }, 'lid')
  const document = newDocument()
  Object.assign(document.pieces[0].route[0].params, { text: 'Pier', size: 20 })
  document.pieces[0].route.splice(1)
  const words = document.pieces[0].id
  document.pieces.unshift({
    id: 'lid',
    name: 'Lid',
    route: [
      { id: 'model-file-1', kind: 'model-file', on: true, params: {} },
      { id: 'carve-lettering-1', kind: 'carve-lettering', on: true, params: { words: { piece: words } } },
    ],
  })
  await page.goto(`/project/${await postProject(page, document)}`)
  const chooser = page.waitForEvent('filechooser')
  await row(page, 'model-file')
    .getByRole('button', { name: /Choose (a|another) model/ })
    .click()
  await (await chooser).setFiles([{ name: 'lid.glb', mimeType: 'model/gltf-binary', buffer: Buffer.from(glb) }])
  await sound(page)
  await expect(row(page, 'carve-lettering')).toContainText('cut out')
  await page.getByRole('radio', { name: 'Front', exact: true }).click()
  /** So many pixels of the view are rather red, so many rather blue. */
  const seen = async () => {
    const { data, channels } = decode(await page.locator('canvas').first().screenshot())
    let [red, blue] = [0, 0]
    for (let i = 0; i < data.length; i += channels) {
      if (data[i] > data[i + 2] + 80) red++
      if (data[i + 2] > data[i] + 80) blue++
    }
    return Math.min(red, blue)
  }
  await expect.poll(seen).toBeGreaterThan(8000)
  // the same as an OBJ, chosen together with its materials and its picture
  const { obj, mtl, pictures } = writeObj({ ...plain, attributes: { pictureUv } }, 'lid', 'lid.mtl')
  const again = page.waitForEvent('filechooser')
  await row(page, 'model-file').getByRole('button', { name: 'Choose another model' }).click()
  await (await again).setFiles([
    { name: 'lid.obj', mimeType: 'model/obj', buffer: Buffer.from(obj) },
    { name: 'lid.mtl', mimeType: 'model/mtl', buffer: Buffer.from(mtl) },
    ...Object.entries(pictures).map(([name, bytes]) => ({ name, mimeType: 'image/png', buffer: Buffer.from(bytes) })),
  ])
  await expect(row(page, 'model-file')).toContainText('lid.obj')
  await sound(page)
  await expect.poll(seen).toBeGreaterThan(8000)
})

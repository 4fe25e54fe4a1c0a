import { readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { SHIPPED_FACES } from '@kelvar/core/fonts'
import { expect, type Page } from '@playwright/test'
import { kept, newProject, row, sound, words } from './helpers'
import { test } from './test'

const fonts = fileURLToPath(new URL('../../core/fonts', import.meta.url))

/** A shipped font told apart from it by its modification date. */
function ownFont(file: string, byte: number): Buffer {
  const bytes = readFileSync(`${fonts}/${file}`)
  for (let i = 0; i < bytes.readUInt16BE(4); i++)
    if (bytes.toString('latin1', 12 + 16 * i, 16 + 16 * i) === 'head') bytes[bytes.readUInt32BE(12 + 16 * i + 8) + 35] = byte
  return bytes
}

const openCase = (page: Page) => page.getByRole('button', { name: /^Face:/ }).click()
const typeCase = (page: Page) => page.getByRole('complementary', { name: 'Type case' })
const letter = (page: Page, text: string) => page.getByRole('listbox', { name: 'Letters' }).getByRole('option', { name: text, exact: true })
const choose = async (page: Page, field: RegExp, value: string) => {
  await row(page, 'lettering').getByRole('button', { name: field }).click()
  await page.getByRole('option', { name: value, exact: true }).click()
}

test('fonts of one’s own are taken in or refused with the reason, and travel with the project', async ({ page }) => {
  await newProject(page)
  await openCase(page)
  await expect(typeCase(page).getByRole('row').first()).toBeVisible()
  const chooser = page.waitForEvent('filechooser')
  await typeCase(page).getByRole('button', { name: 'Add fonts of your own' }).click()
  await (await chooser).setFiles([
    { name: 'empty.ttf', mimeType: 'font/ttf', buffer: Buffer.alloc(0) },
    { name: 'half.ttf', mimeType: 'font/ttf', buffer: readFileSync(`${fonts}/Jost-Bold.ttf`).subarray(0, 30_000) },
    { name: 'holiday.ttf', mimeType: 'font/ttf', buffer: Buffer.concat([Buffer.from('89504e470d0a1a0a', 'hex'), Buffer.alloc(400)]) },
    { name: 'Lantern Brush.ttf', mimeType: 'font/ttf', buffer: ownFont('Knewave-Regular.ttf', 61) },
    { name: 'huge.otf', mimeType: 'font/otf', buffer: Buffer.alloc(31 * 1024 * 1024) },
  ])
  const told = typeCase(page).getByRole('status', { name: 'What became of the files' })
  await expect(told).toContainText('The font file is empty', { timeout: 90_000 })
  await expect(told).toContainText('cut short')
  await expect(told).toContainText('it is a PNG picture')
  await expect(told).toContainText('The file is 31 MB')
  // the one that can be read is in use at once, under a name of its own
  await expect(page.getByRole('button', { name: /^Face: Knewave \(\d\)/ })).toBeVisible()
  await sound(page)
  await kept(page)
  await page.reload()
  await sound(page)
  await expect(page.getByRole('button', { name: /^Face: Knewave \(\d\)/ })).toBeVisible()
})

test('faces are filtered, and the licence is there to read', async ({ page }) => {
  await newProject(page)
  await openCase(page)
  await page
    .getByRole('button', { name: 'Script All scripts' })
    .or(typeCase(page).getByRole('button', { name: /Script/ }))
    .first()
    .click()
  await page.getByRole('option', { name: 'Devanagari' }).click()
  await expect(typeCase(page).getByRole('row')).toHaveCount(1)
  await expect(typeCase(page).getByRole('row', { name: 'Yatra One' })).toBeVisible()
  const licence = await page.request.get(`/api/licences/yatra-one`)
  expect(await licence.text()).toContain('SIL Open Font License')
  await typeCase(page).getByRole('searchbox', { name: 'Search faces' }).fill('nothing like it')
  await expect(typeCase(page)).toContainText('No face is called that')
})

test('one letter takes an alternate and a place of its own, and keeps both through what is typed around it', async ({ page }) => {
  await newProject(page)
  await openCase(page)
  await typeCase(page).getByRole('row', { name: 'Bodoni Moda Black Italic' }).click()
  await typeCase(page).getByRole('button', { name: 'Close the type case' }).click()
  await words(page).fill('RARER')
  await letter(page, 'R').nth(1).click()
  await page.getByRole('radio', { name: 'Shape 3' }).click()
  await page.getByRole('textbox', { name: 'Letter: turn' }).fill('12')
  await page.keyboard.press('Enter')
  await expect(letter(page, 'R').nth(1)).toHaveAttribute('data-changed', '')
  await sound(page)
  // typed before, between and behind
  await words(page).focus()
  await page.keyboard.press('Home')
  await page.keyboard.type('THE ')
  await page.keyboard.press('End')
  await page.keyboard.type('R')
  await expect(words(page)).toHaveValue('THE RARERR')
  const changed = () =>
    page
      .getByRole('listbox', { name: 'Letters' })
      .getByRole('option')
      .evaluateAll((all) =>
        all.map((o) => (o.hasAttribute('data-changed') ? `[${o.textContent || o.getAttribute('aria-label')}]` : (o.getAttribute('aria-label') ?? ''))).join(''),
      )
  await expect.poll(changed).toBe('THERA[R]ERR')
  await kept(page)
  await page.reload()
  await expect.poll(changed).toBe('THERA[R]ERR')
  // undone and redone with everything else
  await page.getByRole('listbox', { name: 'Letters' }).getByRole('option').nth(5).click()
  await expect(page.getByRole('textbox', { name: 'Letter: turn' })).toHaveValue('12')
  await page.getByRole('button', { name: 'Reset' }).click()
  await expect.poll(changed).toBe('THERARERR')
  await page.getByRole('button', { name: /^Undo/ }).click()
  await expect.poll(changed).toBe('THERA[R]ERR')
})

test('letters are picked in the view and in the text', async ({ page }) => {
  await newProject(page)
  await words(page).fill('HIH')
  await expect(page.getByRole('listbox', { name: 'Letters' }).getByRole('option')).toHaveCount(3)
  await sound(page)
  await page.getByRole('radio', { name: 'Front' }).click()
  await expect(page.getByRole('radio', { name: 'Front' })).toBeChecked()
  const view = page.locator('canvas').first()
  const box = (await view.boundingBox()) as { x: number; y: number; width: number; height: number }
  // the I stands in the middle
  await page.mouse.click(box.x + box.width / 2, box.y + box.height / 2)
  await expect(letter(page, 'I')).toHaveAttribute('aria-selected', 'true')
  await words(page).focus()
  await page.keyboard.press('Home')
  await page.keyboard.press('Shift+ArrowRight')
  await expect(letter(page, 'H').first()).toHaveAttribute('aria-selected', 'true')
  await expect(letter(page, 'I')).toHaveAttribute('aria-selected', 'false')
})

test('words go round a circle, with the remedy at hand when it is too small, and along a stroke', async ({ page }) => {
  await newProject(page)
  await words(page).fill('Lantern Fair at Tern Quay')
  await choose(page, /Baseline/, 'Around a circle')
  await expect(row(page, 'lettering').getByRole('note')).toContainText('longer than the way round')
  await page.getByRole('button', { name: /Set the radius to \d+ mm/ }).click()
  await expect(row(page, 'lettering').getByRole('note')).toHaveCount(0)
  await sound(page)
  const size = await page.getByLabel('Readout').textContent()
  const [width, height] = (size?.match(/[\d.]+/g) ?? []).map(Number)
  expect(Math.abs(width - height) / width).toBeLessThan(0.1)
  // a circle of no radius: the field says what there can be
  await page.getByRole('textbox', { name: 'Radius' }).fill('0')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('textbox', { name: 'Radius' })).toHaveValue('1')
  await expect(row(page, 'lettering').getByRole('note').first()).toBeVisible()
  await page.getByRole('button', { name: /^Undo/ }).click()
  await choose(page, /Baseline/, 'On an arc')
  await expect(row(page, 'lettering')).toContainText('on an arc of 90°')
  await expect(row(page, 'lettering').getByRole('note')).toHaveCount(0)
  await sound(page)
  await choose(page, /Baseline/, 'Along a stroke')
  await page.getByRole('button', { name: 'Enlarge the stroke to take the words' }).click()
  await expect(row(page, 'lettering').getByRole('note')).toHaveCount(0)
  await sound(page)
  const point = page.getByRole('button', { name: /^Point 2:/ })
  const before = await point.getAttribute('aria-label')
  await point.focus()
  await page.keyboard.press('Shift+ArrowUp')
  await expect(point).not.toHaveAttribute('aria-label', before ?? '')
  await kept(page)
  await page.reload()
  await sound(page)
  await expect(row(page, 'lettering')).toContainText('along a stroke')
})

test('a right-to-left line: the lack is named, a face that has it is one press away, and it is set from right to left', async ({ page }) => {
  await newProject(page)
  await words(page).fill('ميناء Quay')
  await expect(row(page, 'lettering')).toContainText('Archivo Bold has no shape for')
  await row(page, 'lettering').getByRole('button', { name: 'Lalezar' }).click()
  await expect(row(page, 'lettering').getByRole('note')).toHaveCount(0)
  await sound(page)
  await page.getByRole('radio', { name: 'Front' }).click()
  // Latin stands at the left, though it was typed last
  const box = (await page.locator('canvas').first().boundingBox()) as { x: number; y: number; width: number; height: number }
  await expect(async () => {
    await page.mouse.click(box.x + box.width * 0.2, box.y + box.height * 0.51)
    await expect(letter(page, 'u').or(letter(page, 'Q')).or(letter(page, 'a')).and(page.locator('[aria-selected="true"]'))).toHaveCount(1, { timeout: 500 })
  }).toPass({ timeout: 60_000 })
  await kept(page)
  await page.reload()
  await sound(page)
  await expect(words(page)).toHaveValue('ميناء Quay')
})

test('the type case scrolls two hundred faces and draws each specimen once', async ({ page }) => {
  const asked = new Map<string, number>()
  const faces = Array.from({ length: 200 }, (_, i) => {
    const face = SHIPPED_FACES[i % SHIPPED_FACES.length]
    const sha256 = i < SHIPPED_FACES.length ? face.sha256 : i.toString(16).padStart(64, 'f')
    return { ...face, sha256, name: `${face.name} ${i}`, shipped: face.id }
  })
  const stamp = (url: string) => url.split('/').at(-1) as string
  await page.route('**/api/fonts', (route) => route.fulfill({ json: { faces } }))
  await page.route('**/api/assets/*', async (route) => {
    const sha256 = stamp(route.request().url())
    asked.set(sha256, (asked.get(sha256) ?? 0) + 1)
    const file = faces.find((f) => f.sha256 === sha256)?.file
    await route.fulfill({ body: readFileSync(`${fonts}/${file}`), contentType: 'font/ttf' })
  })
  await newProject(page)
  await openCase(page)
  const list = typeCase(page).getByRole('grid', { name: 'Faces' })
  await expect(list.locator('svg.specimen').first()).toBeVisible({ timeout: 90_000 })
  // only what is seen is there
  expect(await list.getByRole('row').count()).toBeLessThan(40)
  const sweep = () =>
    list.evaluate(async (element) => {
      const work: number[] = []
      // three rows on; seven are seen at once
      for (let top = 0; top < element.scrollHeight; top += 264) {
        const begun = performance.now()
        element.scrollTop = top
        element.dispatchEvent(new Event('scroll'))
        element.getBoundingClientRect()
        work.push(performance.now() - begun)
        await new Promise((resolve) => setTimeout(resolve, 80))
      }
      element.scrollTop = 0
      return { steps: work.length, median: work.sort((a, b) => a - b)[work.length >> 1], worst: work.at(-1) }
    })
  const first = await sweep()
  expect(first.steps).toBeGreaterThan(60)
  expect(asked.size).toBeGreaterThan(190)
  await expect(list.locator('svg.specimen').first()).toBeVisible()
  const after = [...asked.values()].reduce((sum, n) => sum + n, 0)
  const second = await sweep()
  console.log('ms of work a step, first and second time through:', first, second)
  expect([...asked.values()].reduce((sum, n) => sum + n, 0)).toBe(after)
})

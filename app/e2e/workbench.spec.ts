import { execFileSync } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { expect, type Page } from '@playwright/test'
import validator from 'gltf-validator'
import { kept, newProject, newProjectFromCabinet, row, sound, words, writeOut } from './helpers'
import { test } from './test'

const root = fileURLToPath(new URL('../..', import.meta.url))

const triangles = async (page: Page) =>
  Number((await page.getByLabel('Readout').locator('span', { hasText: 'triangles' }).locator('b').textContent())?.replace(/\D/g, ''))

/** Presses undo or redo until there is nothing left to go to. */
async function pressUntilDone(page: Page, name: RegExp): Promise<void> {
  const button = page.getByRole('button', { name })
  for (let i = 0; i < 20 && (await button.isEnabled()); i++) await button.click()
  await expect(button).toBeDisabled()
}

/** A checksum of the view's pixels, to see that it changes or stays. */
const pixels = (page: Page) =>
  page
    .locator('canvas')
    .first()
    .evaluate((canvas: HTMLCanvasElement) => {
      const copy = document.createElement('canvas')
      copy.width = 160
      copy.height = 120
      const context = copy.getContext('2d') as CanvasRenderingContext2D
      context.drawImage(canvas, 0, 0, 160, 120)
      return context.getImageData(0, 0, 160, 120).data.reduce((sum, v, i) => (sum * 31 + v * (i + 1)) % 1_000_000_007, 7)
    })

test('a word is typed, seen, kept and found again', async ({ page }) => {
  const faults: string[] = []
  page.on('pageerror', (error) => faults.push(error.message))
  await newProjectFromCabinet(page)
  // a newcomer can type at once
  await expect(words(page)).toBeFocused()
  const before = await triangles(page)
  await words(page).fill('Lantern')
  await expect(row(page, 'lettering')).toContainText('“Lantern”')
  await sound(page)
  await expect.poll(() => triangles(page)).toBeGreaterThan(before)
  await kept(page)
  await page.reload()
  await expect(words(page)).toHaveValue('Lantern')
  await sound(page)
  await page.goto('/')
  await expect(page.getByRole('link', { name: /Untitled lettering/ }).first()).toBeVisible()
  expect(faults).toEqual([])
})

test('the face, the edge and the surfaces are changed; undo and redo go through all of it', async ({ page }) => {
  await newProject(page)
  await words(page).fill('Quay')
  await sound(page)
  await page.getByRole('button', { name: 'Face: Archivo Bold' }).click()
  await page.getByRole('row', { name: 'Abril Fatface' }).click()
  await expect(row(page, 'lettering')).toContainText('Abril Fatface')
  await sound(page)
  const plain = await triangles(page)

  await row(page, 'extrude')
    .getByRole('button', { name: /Extrude/ })
    .first()
    .click()
  await page.getByRole('radiogroup', { name: 'Front edge: profile' }).getByRole('radio', { name: 'Ogee' }).click()
  await expect(row(page, 'extrude')).toContainText('ogee 1.5 mm in front')
  await expect.poll(() => triangles(page)).toBeGreaterThan(plain)
  const depth = page.getByRole('textbox', { name: 'Depth' })
  await depth.fill('20')
  await depth.press('Enter')
  await expect(page.getByLabel('Readout')).toContainText('× 20.0')
  await sound(page)

  await row(page, 'dress').getByRole('button', { name: /Dress/ }).first().click()
  const picture = await pixels(page)
  await page.getByRole('button', { name: /Face: colour/ }).click()
  await page.getByRole('textbox', { name: 'Hex' }).fill('#1133cc')
  await page.getByRole('textbox', { name: 'Hex' }).press('Enter')
  await page.keyboard.press('Escape')
  await expect.poll(() => pixels(page)).not.toBe(picture)
  // the edge by itself; both stay through a change of the words, its undoing, and a reload
  await page.getByRole('button', { name: /Edge: colour/ }).click()
  await page.getByRole('textbox', { name: 'Hex' }).fill('#22aa55')
  await page.getByRole('textbox', { name: 'Hex' }).press('Enter')
  await page.keyboard.press('Escape')
  const dressed = async () => {
    await expect(page.getByRole('button', { name: /Face: colour.*#1133cc/ })).toBeVisible()
    await expect(page.getByRole('button', { name: /Edge: colour.*#22aa55/ })).toBeVisible()
  }
  await dressed()
  await row(page, 'lettering')
    .getByRole('button', { name: /Lettering/ })
    .first()
    .click()
  await words(page).fill('Quays')
  await sound(page)
  await page.getByRole('button', { name: /^Undo: Lettering/ }).click()
  await expect(words(page)).toHaveValue('Quay')

  await pressUntilDone(page, /^Undo/)
  await expect(row(page, 'lettering')).toContainText('“Hello” · Archivo Bold')
  await expect(row(page, 'extrude')).toContainText('12 mm deep')
  await pressUntilDone(page, /^Redo/)
  await expect(row(page, 'lettering')).toContainText('“Quays” · Abril Fatface')
  await expect(row(page, 'extrude')).toContainText('20 mm deep · ogee')
  await kept(page)
  await page.reload()
  await sound(page)
  await row(page, 'dress').getByRole('button', { name: /Dress/ }).first().click()
  await dressed()
})

test('the view turns, shows the standard views, and rests when nothing changes', async ({ page }) => {
  await newProject(page)
  const canvas = page.locator('canvas').first()
  const first = await pixels(page)
  const box = await canvas.boundingBox()
  if (!box) throw new Error('no canvas')
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2)
  await page.mouse.down()
  await page.mouse.move(box.x + box.width / 2 + 160, box.y + box.height / 2 - 40, { steps: 4 })
  await page.mouse.up()
  await expect.poll(() => pixels(page)).not.toBe(first)
  const seen = new Set<number>()
  for (const name of ['Front', 'Side', 'Top', 'Back', 'Three-quarter']) {
    await page.getByRole('radio', { name, exact: true }).click()
    await page.waitForTimeout(1200)
    seen.add(await pixels(page))
  }
  expect(seen.size).toBe(5)
  // pictures of the steps are drawn after a moment; then not one more frame
  await page.waitForTimeout(4000)
  expect(await drawCalls(page, async () => page.waitForTimeout(1500))).toBe(0)
  // and the count would have seen one
  const seenBefore = await drawCalls(page, async () => {
    await page.getByRole('radio', { name: 'Front', exact: true }).click()
    await page.waitForTimeout(1500)
  })
  expect(seenBefore).toBeGreaterThan(0)
})

/** How often the page's canvases are drawn to while `work` goes on, by whatever call of WebGL. */
async function drawCalls(page: Page, work: () => Promise<unknown>): Promise<number> {
  await page.evaluate(() => {
    const counted = window as unknown as { drawn: number; undo: () => void }
    const proto = WebGL2RenderingContext.prototype as unknown as Record<string, (...args: unknown[]) => unknown>
    const names = ['drawArrays', 'drawElements', 'drawArraysInstanced', 'drawElementsInstanced', 'drawRangeElements']
    const originals = names.map((name) => proto[name])
    counted.drawn = 0
    names.forEach((name, i) => {
      proto[name] = function (...args) {
        counted.drawn++
        return originals[i].apply(this, args)
      }
    })
    counted.undo = () => names.forEach((name, i) => (proto[name] = originals[i]))
  })
  await work()
  return page.evaluate(() => {
    const counted = window as unknown as { drawn: number; undo: () => void }
    counted.undo()
    return counted.drawn
  })
}

test('STL, GLB and SVG are written out and are what they claim to be', async ({ page }, info) => {
  await newProject(page)
  const before = await triangles(page)
  await words(page).fill('Böe &')
  // the readout of the words before stands for a moment
  await expect.poll(() => triangles(page)).not.toBe(before)
  await sound(page)
  const count = await triangles(page)
  const take = async (name: RegExp, ending: string) => {
    const download = await writeOut(page, name)
    expect(download.suggestedFilename()).toBe(`words.${ending}`)
    const path = info.outputPath(`word.${ending}`)
    await download.saveAs(path)
    return path
  }
  const check = (path: string) => JSON.parse(execFileSync('npx', ['kelvar', 'check', path, '--json'], { cwd: root, encoding: 'utf8' }))
  expect(check(await take(/3D printer/, 'stl'))).toMatchObject({ sound: true, triangles: count })
  const glb = await take(/web page/, 'glb')
  expect(check(glb)).toMatchObject({ sound: true, triangles: count })
  const { issues } = await validator.validateBytes(new Uint8Array(readFileSync(glb)))
  expect(issues).toMatchObject({ numErrors: 0, numWarnings: 0 })
  expect(readFileSync(await take(/cutter/, 'svg'), 'utf8')).toContain('mm" viewBox=')
})

test('bad input gets a plain message at its step and the last good solid stays', async ({ page }) => {
  await newProject(page)
  await words(page).fill('')
  await expect(row(page, 'lettering').getByRole('alert')).toContainText('There is nothing to set')
  await expect(page.getByLabel('Readout')).toContainText('Last good solid.')
  await expect(page.locator('canvas').first()).toBeVisible()
  await words(page).fill('   ')
  await expect(row(page, 'lettering').getByRole('alert')).toContainText('There is nothing to set')
  await words(page).fill('🏮')
  await expect(row(page, 'lettering').getByRole('alert')).toContainText('🏮')
  await words(page).fill('x'.repeat(10_000))
  await expect(row(page, 'lettering').getByRole('alert')).toContainText('at most 2,000')
  await words(page).fill('Fair 🏮')
  await expect(row(page, 'lettering').getByRole('note')).toContainText('🏮')
  await sound(page)
  const size = page.getByRole('textbox', { name: 'Cap height' })
  for (const wrong of ['0', '-1', '1000000000', 'NaN']) {
    await size.fill(wrong)
    await size.press('Enter')
    await expect(size).not.toHaveValue(wrong)
  }
  await sound(page)
})

test('steps are inserted, switched off, moved, copied and removed; pieces are added', async ({ page }) => {
  await newProject(page)
  const menu = async (kind: string, item: string) => {
    await row(page, kind).first().getByRole('button', { name: /more/ }).click()
    await page.getByRole('menuitem', { name: item }).click()
  }
  await menu('dress', 'Switch off')
  await expect(row(page, 'dress')).toHaveAttribute('data-state', 'off')
  await menu('dress', 'Switch on')
  await menu('extrude', 'Show the piece as of here')
  await menu('extrude', 'Show the whole route')
  await menu('dress', 'Copy')
  await expect(row(page, 'dress')).toHaveCount(2)
  await menu('dress', 'Remove')
  await expect(row(page, 'dress')).toHaveCount(1)
  await menu('dress', 'Move up')
  await expect(row(page, 'dress').getByRole('alert')).toContainText('needs a solid')
  await page.getByRole('button', { name: /^Undo: Move up/ }).click()
  await sound(page)
  await page.getByRole('button', { name: 'Insert a step after 3' }).click()
  const finder = page.getByRole('dialog', { name: 'Insert a step' })
  // what fits nowhere on this route is shown only to who searches for it, with the reason
  await expect(finder.getByRole('option', { name: /^Dress/ })).toBeVisible()
  await expect(finder.getByRole('option', { name: /Extrude/ })).toHaveCount(0)
  await finder.getByLabel('Search steps').fill('extrude')
  await expect(finder.getByRole('option', { name: /Extrude/ })).toContainText('Needs an outline; here it would get a solid.')
  await finder.getByLabel('Search steps').fill('')
  // further down the list: scrolled to before it is pressed, as a person does
  await finder.getByRole('option', { name: /^Dress/ }).hover()
  await finder.getByRole('option', { name: /^Dress/ }).click()
  await expect(row(page, 'dress')).toHaveCount(2)
  // what fits elsewhere says where, and goes in there
  await page.getByRole('button', { name: 'Insert a step after 3' }).click()
  await expect(finder.getByRole('option', { name: /Offset/ })).toContainText('goes in after 1 Lettering')
  await finder.getByRole('option', { name: /Offset/ }).hover()
  await finder.getByRole('option', { name: /Offset/ }).click()
  await expect(row(page, 'offset')).toContainText('2')
  await sound(page)
  await page.getByRole('button', { name: 'New piece' }).click()
  await page.getByRole('menuitem', { name: 'Words' }).click()
  await expect(row(page, 'lettering')).toContainText('“New words”')
  await sound(page)
  await kept(page)
  await page.reload()
  await expect(page.getByRole('group', { name: 'Pieces' }).getByRole('button', { name: 'Piece 2', exact: true })).toBeVisible()
})

test('all pieces are looked at together, each at its place, shown or hidden', async ({ page }) => {
  await newProject(page)
  await page.getByRole('button', { name: 'New piece' }).click()
  await page.getByRole('menuitem', { name: 'A block' }).click()
  await sound(page)
  await page.getByRole('button', { name: 'All pieces' }).click()
  const panel = page.getByRole('region', { name: 'Pieces together' })
  const place = panel.getByRole('group', { name: 'Place of Piece 2' })
  await expect(place).toBeVisible()
  await page.waitForTimeout(2000)
  const both = await pixels(page)
  await place.getByRole('textbox', { name: 'Across' }).fill('120')
  await place.getByRole('textbox', { name: 'Across' }).press('Enter')
  await expect.poll(() => pixels(page)).not.toBe(both)
  await kept(page)
  const moved = await pixels(page)
  await panel
    .getByRole('button', { name: /^Hide / })
    .first()
    .click()
  await expect.poll(() => pixels(page)).not.toBe(moved)
  await kept(page)
  // places and what is hidden belong to the project
  await page.reload()
  await page.getByRole('group', { name: 'Pieces' }).getByRole('button', { name: 'Piece 2', exact: true }).click()
  await page.getByRole('button', { name: 'All pieces' }).click()
  await expect(place.getByRole('textbox', { name: 'Across' })).toHaveValue(/120/)
  await expect(panel.getByRole('button', { name: /^Show / })).toHaveCount(1)
  await panel.getByRole('button', { name: /^Show / }).click()
  await expect(panel.getByRole('button', { name: /^Show / })).toHaveCount(0)
})

test('a project that is gone or newer says so', async ({ page }) => {
  const gone = await page.goto('/project/7e51a0de-0000-4000-8000-0000000000ff')
  expect(gone?.status()).toBe(404)
  await expect(page.getByRole('heading')).toContainText('There is no such project')
  await page.getByRole('link', { name: 'To the cabinet' }).click()
  await expect(page.getByRole('heading', { name: 'Cabinet' })).toBeVisible()
  // one that a later version has kept: it is not shown wrongly, and not touched
  const made = await page.request.post('/api/projects', { data: {}, headers: { origin: new URL(page.url()).origin } })
  const { id } = (await made.json()) as { id: string }
  const sql = (query: string) =>
    execFileSync('bash', ['-c', '"$(ls -d /usr/lib/postgresql/*/bin | sort -V | tail -n 1)/psql" "$KELVAR_DATABASE_URL" -tAc "$0"', query], {
      encoding: 'utf8',
    }).trim()
  sql(`update project set document = jsonb_set(document, '{version}', '99') where id = '${id}'`)
  await page.goto(`/project/${id}`)
  await expect(page.getByRole('heading')).toContainText('newer Kelvar')
  expect(sql(`select document->>'version' from project where id = '${id}'`)).toBe('99')
  sql(`delete from project where id = '${id}'`)
})

test('a project goes out as a file, comes in again, is copied and found by its name', async ({ page }, info) => {
  const name = `Ferry ${Date.now() % 1_000_000}`
  await newProject(page)
  await words(page).fill('Pier')
  await page.getByRole('textbox', { name: 'Name of the project' }).fill(name)
  await sound(page)
  await kept(page)
  await page.goto('/')
  await page.getByRole('searchbox', { name: 'Search projects' }).fill(name)
  await expect(page.getByRole('listitem')).toHaveCount(1)
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: `Take out ${name} as a file` }).click()])
  expect(download.suggestedFilename()).toBe(`${name}.kelvar`)
  const path = info.outputPath('project.kelvar')
  await download.saveAs(path)
  await page.getByRole('button', { name: `Copy ${name}` }).click()
  await expect(page.getByRole('listitem')).toHaveCount(2)
  // what is no project file is refused with the reason, and nothing happens
  const bring = async (file: string | { name: string; mimeType: string; buffer: Buffer }) => {
    const chooser = page.waitForEvent('filechooser')
    await page.getByRole('button', { name: 'Open a project file' }).click()
    await (await chooser).setFiles(file)
  }
  await bring({ name: 'holiday.kelvar', mimeType: 'application/zip', buffer: Buffer.from('no archive') })
  await expect(page.getByRole('alert').filter({ hasText: 'damaged or cut short' })).toBeVisible()
  await bring(path)
  await page.waitForURL(/\/project\//)
  await expect(words(page)).toHaveValue('Pier')
  await sound(page)
  // and its solid in every format
  for (const [button, ending] of [
    [/printing in colours/, '3mf'],
    [/mesh tools/, 'ply'],
    [/3D program/, 'zip'],
  ] as const) {
    const written = await writeOut(page, button)
    expect(written.suggestedFilename()).toBe(`words.${ending}`)
    const saved = info.outputPath(`word.${ending}`)
    await written.saveAs(saved)
    if (ending !== 'zip')
      expect(JSON.parse(execFileSync('npx', ['kelvar', 'check', saved, '--json'], { cwd: root, encoding: 'utf8' }))).toMatchObject({ sound: true })
  }
})

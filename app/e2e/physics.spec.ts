import { execFile } from 'node:child_process'
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { promisify } from 'node:util'
import { expect } from '@playwright/test'
import { unzipSync } from 'fflate'
import { chooseStep, kept, newProject, openStep, row, setNumber, sound, words } from './helpers'
import { test } from './test'

test('jelly is held by a mask in the wind, stopped and gone on with, retyped, undone, found again and worked on', async ({ page }) => {
  page.setDefaultTimeout(90_000)
  const insertAfter = (number: number) => page.getByRole('button', { name: `Insert a step after ${number}` }).click({ force: true })
  const size = async () => ((await page.getByLabel('Readout').textContent()) ?? '').split(' mm')[0]
  const baked = new Map<string, Buffer | null>()
  page.on('request', (request) => {
    if (request.method() === 'PUT' && request.url().includes('/api/bakes/')) baked.set(request.url().split('/').at(-1) ?? '', request.postDataBuffer())
  })
  /** the numbers of the parts that a recording was kept in on its way */
  const parts: number[] = []
  page.on('request', (request) => {
    const part = /\/api\/bakes\/.*-p(\d+)$/.exec(request.url())
    if (request.method() === 'PUT' && part) parts.push(Number(part[1]))
  })
  await newProject(page)
  await words(page).fill('IT')
  await sound(page)
  const stood = await size()
  await insertAfter(3)
  await chooseStep(page, 'Jelly')
  await sound(page)
  await expect(row(page, 'jelly')).toContainText('points carry 2 letters')
  await expect.poll(size).not.toBe(stood)
  // held at the foot, blown by the wind, and nothing to fall upon
  await page.getByRole('button', { name: 'Limit it by a mask' }).click()
  await page.getByRole('group', { name: 'Mask 1' }).getByRole('button', { name: /by/ }).first().click()
  await page.getByRole('option', { name: 'Height', exact: true }).click()
  await page.getByRole('radio', { name: 'Wind', exact: true }).click({ force: true })
  await setNumber(page, 'Its speed', '16')
  // what nobody has recorded before
  await setNumber(page, 'Seed', String(1 + Math.floor(Math.random() * 9000)))
  await sound(page)
  await expect(row(page, 'jelly')).toContainText('in the wind')
  const blown = await size()
  expect(blown).not.toBe(stood)
  await kept(page)
  // a longer one of more cells, which takes long enough to be stopped, goes on
  await setNumber(page, 'Cells', '2.5')
  await sound(page)
  await setNumber(page, 'Followed for', '9')
  // what is seen meanwhile is said to be the earlier one
  await expect(row(page, 'jelly')).toContainText('Out of date: what you see is the earlier recording.')
  // at once: waiting until the bar stands still it could be recorded by then
  const stop = () => page.getByRole('button', { name: 'Stop', exact: true }).click({ force: true })
  await stop()
  await expect(row(page, 'jelly')).toContainText('It was stopped, and goes on from there.')
  await row(page, 'jelly').getByRole('button', { name: 'Record on' }).click()
  await expect(row(page, 'jelly')).toContainText('It is being recorded anew.')
  await stop()
  await setNumber(page, 'After', '0.8')
  await sound(page)
  await expect(row(page, 'jelly')).not.toContainText('Out of date')
  for (let i = 0; i < 3; i++) await page.getByRole('button', { name: /^Undo/ }).click()
  await sound(page)
  await expect.poll(size).toBe(blown)
  await openStep(page, 'lettering', 'Lettering')
  await words(page).fill('ITS')
  await sound(page)
  await expect(row(page, 'jelly')).toContainText('points carry 3 letters')
  await page.getByRole('button', { name: /^Undo: / }).click()
  await sound(page)
  await expect.poll(size).toBe(blown)
  await kept(page)
  expect(baked.size).toBeGreaterThan(2)
  // Node.js records the same, byte for byte
  const folder = mkdtempSync(join(tmpdir(), 'kelvar-bakes-'))
  const { document } = (await (await page.request.get(`/api/projects/${page.url().split('/').at(-1)}`)).json()) as { document: object }
  writeFileSync(join(folder, 'project.json'), JSON.stringify(document))
  const cli = fileURLToPath(new URL('../../core/cli/kelvar.mjs', import.meta.url))
  await promisify(execFile)(process.execPath, [cli, 'bake', join(folder, 'project.json'), '--out', folder])
  const bakes = readdirSync(folder).filter((name) => name.endsWith('.bake'))
  expect(bakes).toHaveLength(1)
  for (const name of bakes) expect(baked.get(name.replace('.bake', ''))?.equals(readFileSync(join(folder, name)))).toBe(true)
  rmSync(folder, { recursive: true })
  const before = baked.size
  await page.reload()
  await sound(page)
  // what was recorded is there, and is not recorded again
  await expect.poll(size).toBe(blown)
  expect(baked.size).toBe(before)
  // and travels with the project's file
  const taken = await page.request.get(`/api/projects/${page.url().split('/').at(-1)}/file`)
  expect(Object.keys(unzipSync(new Uint8Array(await taken.body()))).filter((name) => name.startsWith('bakes/'))).toEqual(
    bakes.map((name) => `bakes/${name.replace('.bake', '')}`),
  )
  await insertAfter(4)
  await chooseStep(page, 'Cut flat')
  await sound(page)
  // keys are set on the moment alone, and a frame of it is a piece by itself
  await page.getByRole('radio', { name: 'Motion', exact: true }).click()
  await openStep(page, 'jelly', 'Jelly')
  await expect(page.getByRole('button', { name: 'Stiffness: set a key at frame 0' })).toHaveCount(0)
  await row(page, 'jelly').getByRole('button', { name: 'After: set a key at frame 0' }).click()
  await setNumber(page, 'Frame', '24')
  await setNumber(page, 'After', '0.4')
  await sound(page)
  await page.getByRole('button', { name: 'Take frame 24 as a piece' }).click()
  await sound(page)
  await expect(page.getByRole('button', { name: 'Words · frame 24', exact: true }).first()).toBeVisible()
  await expect(row(page, 'jelly')).toContainText('after 0.4 s')
  // what a page has recorded when it is closed is not lost: the next one goes on from there
  await openStep(page, 'jelly', 'Jelly')
  // so long that much is left to record when the page is closed, however fast this machine is
  await setNumber(page, 'Followed for', '30')
  await setNumber(page, 'Cells', '2.2')
  await expect(row(page, 'jelly')).toContainText('Out of date')
  parts.length = 0
  await expect.poll(() => parts.length, { timeout: 150_000 }).toBeGreaterThan(0)
  await kept(page)
  const last = parts.at(-1) as number
  await page.reload()
  parts.length = 0
  await expect.poll(() => parts.length, { timeout: 150_000 }).toBeGreaterThan(0)
  expect(parts[0]).toBeGreaterThan(last)
})

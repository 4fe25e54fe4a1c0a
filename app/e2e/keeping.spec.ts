import { type ChildProcess, spawn } from 'node:child_process'
import { fileURLToPath } from 'node:url'
import { expect, type Page } from '@playwright/test'
import { kept, newProject, openStep, postProject, row, setNumber, sound, words } from './helpers'
import { test } from './test'

const app = fileURLToPath(new URL('..', import.meta.url))
const port = Number(process.env.KELVAR_TEST_PORT ?? 3718) + 1

/** A server of the test's own, to be stopped. */
async function serve(): Promise<ChildProcess> {
  const server = spawn('node', ['../node_modules/next/dist/bin/next', 'start', '--hostname', '127.0.0.1', '--port', String(port)], {
    cwd: app,
    stdio: 'ignore',
  })
  await expect
    .poll(
      () =>
        fetch(`http://127.0.0.1:${port}/api/projects`).then(
          (r) => r.ok,
          () => false,
        ),
      { timeout: 150_000 },
    )
    .toBe(true)
  return server
}

async function end(server: ChildProcess): Promise<void> {
  const gone = new Promise((resolve) => server.once('exit', resolve))
  server.kill('SIGKILL')
  await gone
}

const history = (page: Page) => page.getByRole('complementary', { name: 'History' })
const shelf = (page: Page, name: string) => page.getByRole('radio', { name, exact: true }).click()

test('what was saved in another tab is shown in words, both versions stay, and one is chosen', async ({ page, context }) => {
  await newProject(page)
  await kept(page)
  const other = await context.newPage()
  await other.goto(page.url())
  await sound(other)
  await openStep(page, 'extrude', 'Extrude')
  await setNumber(page, 'Depth', '14')
  await kept(page)
  await words(other).fill('Quay')
  const dialog = other.getByRole('dialog', { name: 'The project was changed in another window' })
  await expect(dialog.getByRole('region', { name: 'In the other window' })).toContainText('Extrude: depth 12 → 14 mm')
  await expect(dialog.getByRole('region', { name: 'In this window' })).toContainText('Lettering: words “Hello” → “Quay”')
  await dialog.getByRole('button', { name: 'Decide later' }).click()
  await expect(other.locator('[data-saving="conflict"]')).toBeVisible()
  await other.getByRole('button', { name: 'Compare and choose' }).click()
  await dialog.getByRole('button', { name: 'Go on with that one' }).click()
  await expect(row(other, 'extrude')).toContainText('14 mm deep')
  await expect(words(other)).toHaveValue('Hello')
  await kept(other)
  // what was set aside is among the revisions, and undo brings it back too
  await shelf(other, 'History')
  await expect(history(other).getByText('Lettering: words “Hello” → “Quay”').first()).toBeVisible()
  await expect(history(other).getByRole('button', { name: /^Compare Set aside/ })).toBeVisible()
  await other.getByRole('button', { name: /^Undo: Take the other version/ }).click()
  await expect(words(other)).toHaveValue('Quay')
  await kept(other)
  // the first tab meets the newer work in turn, and keeps its own over it
  await setNumber(page, 'Depth', '16')
  await page.getByRole('button', { name: 'Go on with this one' }).click()
  await kept(page)
  await page.reload()
  await expect(row(page, 'extrude')).toContainText('16 mm deep')
  await expect(words(page)).toHaveValue('Hello')
})

test('edits go on while the server is away, are kept in the browser, and are saved when it is back', async ({ browser }) => {
  let server = await serve()
  const context = await browser.newContext({ baseURL: `http://127.0.0.1:${port}`, storageState: undefined })
  try {
    const page = await context.newPage()
    await newProject(page)
    await page.getByRole('button', { name: 'Close for good' }).click()
    await kept(page)
    await end(server)
    await words(page).fill('Lantern')
    await sound(page)
    await expect(page.getByText('kept in this browser: no answer from the server')).toBeVisible()
    await words(page).fill('Lanterns')
    await sound(page)
    server = await serve()
    await kept(page)
    await page.reload()
    await sound(page)
    await expect(words(page)).toHaveValue('Lanterns')
    // a page that is closed before the server is back loses nothing either
    await kept(page)
    await end(server)
    await words(page).fill('Lantern Fair')
    await expect(page.getByText('kept in this browser: no answer from the server')).toBeVisible()
    const url = page.url()
    await page.close({ runBeforeUnload: false })
    server = await serve()
    const again = await context.newPage()
    await again.goto(url)
    await sound(again)
    await expect(words(again)).toHaveValue('Lantern Fair')
    await kept(again)
    await again.reload()
    await expect(words(again)).toHaveValue('Lantern Fair')
  } finally {
    await context.close()
    await end(server)
  }
})

test('a project that is left at once after a change, and opened again without a reload, has the change', async ({ page }) => {
  await newProject(page)
  await kept(page)
  const { pathname } = new URL(page.url())
  await words(page).fill('Jetty')
  await page.getByRole('link', { name: 'Kelvar: to the cabinet' }).click()
  await page.locator(`a[href="${pathname}"]`).click()
  await sound(page)
  await expect(words(page)).toHaveValue('Jetty')
  await kept(page)
})

test('revisions are listed with pictures and words, named, compared and restored', async ({ page }) => {
  await newProject(page)
  await kept(page)
  await openStep(page, 'extrude', 'Extrude')
  await setNumber(page, 'Depth', '18')
  await kept(page)
  await setNumber(page, 'Depth', '24')
  await kept(page)
  await shelf(page, 'History')
  const list = history(page).getByRole('region', { name: 'Revisions' })
  await expect(list).toContainText('Extrude: depth 12 → 18 mm')
  await expect(list.locator('img').first()).toBeVisible()
  const deep = list.getByRole('listitem').filter({ hasText: 'depth 12 → 18 mm' })
  await deep.getByRole('textbox').fill('For the harbour master')
  await deep.getByRole('textbox').press('Enter')
  await deep.getByRole('button', { name: /^Compare/ }).click()
  await expect(deep).toContainText('Extrude: depth 24 → 18 mm')
  await deep.getByRole('button', { name: 'Restore this revision' }).click()
  await expect(row(page, 'extrude')).toContainText('18 mm deep')
  await kept(page)
  await page.getByRole('button', { name: /^Undo: Restore/ }).click()
  await expect(row(page, 'extrude')).toContainText('24 mm deep')
  await kept(page)
  await page.reload()
  await sound(page)
  await shelf(page, 'History')
  await expect(list.getByRole('textbox').filter({ visible: true }).first()).toBeVisible()
  await expect
    .poll(() => list.getByRole('textbox').evaluateAll((all) => all.map((field) => (field as HTMLInputElement).value)))
    .toContain('For the harbour master')
})

test('what was done is listed in words, and one goes back and forth in it', async ({ page }) => {
  await newProject(page)
  await words(page).fill('Quay')
  await openStep(page, 'extrude', 'Extrude')
  await setNumber(page, 'Depth', '18')
  await setNumber(page, 'Outset', '1')
  await shelf(page, 'History')
  const done = history(page).getByRole('region', { name: 'What was done' })
  await expect(done.getByRole('listitem')).toHaveText([
    'Extrude: outset 0 → 1 mm',
    'Extrude: depth 12 → 18 mm',
    'Lettering: words “Hello” → “Quay”',
    'As it was opened',
  ])
  await done.getByRole('button', { name: /words “Hello” → “Quay”/ }).click()
  await expect(row(page, 'extrude')).toContainText('12 mm deep')
  await expect(words(page)).toHaveCount(0)
  await expect(row(page, 'lettering')).toContainText('“Quay”')
  await done.getByRole('button', { name: /Do again up to: Extrude: outset/ }).click()
  await expect(page.getByRole('textbox', { name: 'Outset' })).toHaveValue('1')
  await done.getByRole('button', { name: /as it was opened/ }).click()
  await expect(row(page, 'lettering')).toContainText('“Hello”')
})

test('try-outs are kept with pictures, follow the words, and are taken, renamed and removed', async ({ page }) => {
  await newProject(page)
  await page.keyboard.press('Escape')
  await shelf(page, 'Try-outs')
  const outs = page.getByRole('complementary', { name: 'Try-outs' })
  await outs.getByRole('button', { name: 'Keep the present values' }).click()
  await openStep(page, 'extrude', 'Extrude')
  await setNumber(page, 'Depth', '30')
  await outs.getByRole('button', { name: 'Keep the present values' }).click()
  await expect(outs.getByRole('listitem')).toHaveCount(2)
  await expect(outs.locator('img')).toHaveCount(2, { timeout: 150_000 })
  const picture = () => outs.locator('img').first().getAttribute('src')
  const before = await picture()
  await openStep(page, 'lettering', 'Lettering')
  await words(page).fill('Quay')
  await expect.poll(picture, { timeout: 150_000 }).not.toBe(before)
  await expect(outs.getByRole('listitem').first()).toContainText('Extrude: depth 30 → 12 mm')
  await outs.getByRole('button', { name: 'Take Try-out 1' }).click()
  await expect(row(page, 'extrude')).toContainText('12 mm deep')
  await expect(row(page, 'lettering')).toContainText('“Quay”')
  await outs.getByRole('textbox', { name: 'Name of Try-out 2' }).fill('Deep ones')
  await kept(page)
  await page.reload()
  await sound(page)
  await shelf(page, 'Try-outs')
  await expect(outs.getByRole('textbox', { name: 'Name of Deep ones' })).toHaveValue('Deep ones')
  await outs.getByRole('button', { name: 'Remove Deep ones' }).click()
  await expect(outs.getByRole('listitem')).toHaveCount(1)
  for (let i = 0; i < 8; i++) await outs.getByRole('button', { name: 'Keep the present values' }).click()
  await expect(outs.getByRole('button', { name: 'Nine are kept' })).toBeDisabled()
})

test('a removed project is put back at once or later', async ({ page }) => {
  const name = `Jetty ${Date.now() % 1_000_000}`
  await newProject(page)
  await page.getByRole('textbox', { name: 'Name of the project' }).fill(name)
  await kept(page)
  await page.goto('/')
  await page.getByRole('button', { name: `Remove ${name}` }).click()
  await expect(page.getByRole('link', { name: new RegExp(name) })).toHaveCount(0)
  await page.getByRole('status').getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByRole('link', { name: new RegExp(name) }).first()).toBeVisible()
  await page.getByRole('button', { name: `Remove ${name}` }).click()
  await page.reload()
  await page.getByRole('button', { name: 'Removed projects' }).click()
  await page.getByRole('button', { name: `Put back ${name}` }).click()
  await expect(page.getByRole('link', { name: new RegExp(name) }).first()).toBeVisible()
  // of many projects those changed last are shown first, and the others where they are asked for
  for (let i = 0; i < 60; i++) await postProject(page)
  await page.reload()
  await expect(page.getByRole('link', { name: new RegExp(name) })).toHaveCount(0)
  await page.getByRole('button', { name: 'Show more' }).click()
  await expect(page.getByRole('link', { name: new RegExp(name) }).first()).toBeVisible()
})

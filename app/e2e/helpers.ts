import { type Download, expect, type Page } from '@playwright/test'

/** The docket's row of a step. */
export const row = (page: Page, kind: string) => page.locator(`li[data-step="${kind}"]`)
/** Waits until what was asked for last stands as a sound solid, and nothing newer is being made; its readout is there under the drawing board as well, out of sight. */
export const sound = (page: Page, timeout = 150_000) => expect(page.getByLabel('Readout').locator('.sound')).toBeAttached({ timeout })
export const kept = (page: Page) => expect(page.locator('[data-saving="kept"]')).toBeVisible({ timeout: 90_000 })
export const words = (page: Page) => page.getByRole('textbox', { name: 'Words' })

/** Makes a project, of this document where there is one. Returns its id. */
export async function postProject(page: Page, document?: object): Promise<string> {
  const answer = await page.request.post('/api/projects', { data: { document }, headers: { 'x-kelvar': 'test' } })
  expect(answer.status()).toBe(201)
  return ((await answer.json()) as { id: string }).id
}

/** Opens a new project, of this document where there is one, and waits until its first piece stands. */
export async function newProject(page: Page, document?: object, timeout?: number): Promise<void> {
  await page.goto(`/project/${await postProject(page, document)}`)
  await sound(page, timeout)
}

/** The same with the button of the cabinet. */
export async function newProjectFromCabinet(page: Page): Promise<void> {
  await page.goto('/')
  await page.getByRole('button', { name: 'New project' }).click()
  await page.waitForURL(/\/project\//)
  await sound(page)
}

/** Chooses a step in the open finder by its name. */
export async function chooseStep(page: Page, name: string): Promise<void> {
  await page.getByRole('searchbox', { name: 'Search steps' }).fill(name)
  await page
    .getByRole('option', { name: new RegExp(name) })
    .first()
    .click()
}

/** Writes the piece out in the way of that name, after what `choose` does with its options. */
export async function writeOut(page: Page, way: RegExp, choose: () => Promise<void> = async () => {}): Promise<Download> {
  await page.getByRole('button', { name: 'Dispatch' }).click()
  await page.getByRole('option', { name: way }).click()
  await choose()
  const [download] = await Promise.all([page.waitForEvent('download', { timeout: 150_000 }), page.getByRole('button', { name: 'Write it out' }).click()])
  return download
}

/** Opens a step of the docket. */
export const openStep = (page: Page, kind: string, title: string) =>
  row(page, kind)
    .getByRole('button', { name: new RegExp(title) })
    .first()
    .click()

/** Types a value into a number field of the open step. */
export async function setNumber(page: Page, name: string, value: string): Promise<void> {
  const field = page.getByRole('textbox', { name, exact: true })
  await field.fill(value)
  await field.press('Enter')
}

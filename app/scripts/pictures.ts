/**
 * Makes every picture of the README and of the finder anew, from the demo data and from one word: `npm run pictures`. Those that look as
 * they did are left alone; the others are named. With names, only those are made.
 */
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { type Browser, type BrowserContext, chromium, type Page } from '@playwright/test'
import { decode } from 'fast-png'
import config from '../playwright.config'
import { writeStl } from '../../core/src/format/stl'
import { turnedRing } from '../../core/src/solid/revolve'
import { stepKind } from '@kelvar/core/steps/registry'
import { stepSamples } from './step-samples'

const root = fileURLToPath(new URL('../..', import.meta.url))
const base = process.env.KELVAR_URL ?? 'http://127.0.0.1:3719'
const only = process.argv.slice(2)
const demoId = (demo: number) => `7e51a0de-0000-4000-8000-${String(demo).padStart(12, '0')}`

let changed = 0
let same = 0

/** Keeps a picture unless it looks as the one that is there. */
function keep(file: string, png: Buffer): void {
  const path = `${root}${file}`
  let before: Buffer | undefined
  try {
    before = readFileSync(path)
  } catch {
    // new
  }
  if (before && looksAlike(before, png)) {
    same++
    return
  }
  writeFileSync(path, png)
  changed++
  console.log(`${before ? 'changed' : 'new    '}  ${file}`)
}

/** Whether two pictures differ in so few pixels, or so little, that nobody would see it. */
function looksAlike(a: Buffer, b: Buffer): boolean {
  const [p, q] = [decode(a), decode(b)]
  if (p.width !== q.width || p.height !== q.height || p.channels !== q.channels) return false
  let differ = 0
  for (let i = 0; i < p.data.length; i += p.channels) {
    let most = 0
    for (let k = 0; k < p.channels; k++) most = Math.max(most, Math.abs(p.data[i + k] - q.data[i + k]))
    if (most > 24) differ++
  }
  return differ < 0.002 * p.width * p.height
}

const sound = (page: Page) => page.getByLabel('Readout').locator('.sound').waitFor({ state: 'attached', timeout: 120_000 })

/** Opens a project of the demo, chooses a piece, and waits until all of it is drawn. */
async function openPiece(page: Page, demo: number, piece?: string): Promise<void> {
  await page.goto(`${base}/project/${demoId(demo)}`)
  await page.locator('[aria-label="Readout"]').waitFor()
  if (piece) await page.getByRole('button', { name: piece, exact: true }).first().click()
  await sound(page)
  await settle(page)
}

/** The pictures of pieces and steps come a moment after. */
async function settle(page: Page): Promise<void> {
  await page.waitForTimeout(3500)
  await page.mouse.move(640, 790)
  await page.waitForTimeout(300)
}

const step = (page: Page, kind: string) => page.locator(`li[data-step="${kind}"]`)
const unfold = (page: Page, kind: string) => step(page, kind).getByRole('button').first().click()

type Take = (page: Page) => Promise<void>

/** Each view of the README, and what is done before it is taken. */
const SHOTS: Readonly<Record<string, Take>> = {
  workbench: (page) => openPiece(page, 1),
  cabinet: async (page) => {
    await page.goto(base)
    await page.getByRole('heading', { level: 1 }).waitFor()
    await page.waitForTimeout(1200)
  },
  'type-case': async (page) => {
    await openPiece(page, 1)
    await page.getByRole('button', { name: /^Face: / }).click()
    await page.getByRole('complementary', { name: 'Type case' }).locator('svg.specimen').first().waitFor()
    await settle(page)
  },
  finder: async (page) => {
    await openPiece(page, 1)
    await page.getByRole('button', { name: 'Insert a step after 1' }).click()
    await page.getByRole('listbox', { name: 'Steps' }).waitFor()
    await page.waitForTimeout(1200)
  },
  edge: async (page) => {
    await openPiece(page, 1)
    await unfold(page, 'extrude')
    await page.getByRole('button', { name: 'Edit the curve' }).first().click()
    await settle(page)
  },
  'try-outs': async (page) => {
    await openPiece(page, 1)
    await page.getByRole('radio', { name: 'Try-outs' }).click()
    await settle(page)
  },
  night: async (page) => {
    await page.context().addCookies([{ name: 'kelvar-theme', value: 'night', url: base }])
    await openPiece(page, 1, 'Lantern Fair')
    await unfold(page, 'dress')
    await page.getByRole('button', { name: 'Before / after' }).click()
    await settle(page)
    await page.context().clearCookies()
  },
  dispatch: async (page) => {
    await openPiece(page, 3, 'Stall plate')
    await page.getByRole('button', { name: 'Dispatch' }).click()
    await page.waitForTimeout(800)
  },
  board: async (page) => {
    await openPiece(page, 3, 'Harbour')
    await unfold(page, 'extend')
    await page.getByRole('radio', { name: 'Draw' }).click()
    await settle(page)
  },
  section: async (page) => {
    await openPiece(page, 6, 'Way-stone')
    await page.getByRole('button', { name: 'Section', exact: true }).click()
    await settle(page)
  },
  motion: async (page) => {
    await openPiece(page, 10, 'Title unfolds')
    await page.getByRole('radio', { name: 'Motion', exact: true }).click()
    await unfold(page, 'bend')
    await page.getByRole('textbox', { name: 'Frame', exact: true }).fill('22')
    await page.getByRole('textbox', { name: 'Frame', exact: true }).press('Enter')
    await page.getByRole('button', { name: /^Bend, angle: key at frame 0/ }).click()
    await page.getByRole('textbox', { name: 'Frame', exact: true }).fill('22')
    await page.getByRole('textbox', { name: 'Frame', exact: true }).press('Enter')
    await page.getByRole('button', { name: 'Ghosts of other frames' }).click()
    await page.waitForTimeout(12_000)
    await sound(page)
    await settle(page)
  },
  // last, since it changes what it shows
  history: async (page) => {
    await openPiece(page, 1)
    await page.getByRole('textbox', { name: 'Words' }).fill('Tern Pier')
    await sound(page)
    await page.locator('[data-saving="kept"]').waitFor({ timeout: 30_000 })
    await page.getByRole('radio', { name: 'History' }).click()
    await page
      .getByRole('button', { name: /^Compare/ })
      .first()
      .click()
    await settle(page)
  },
}

/** Sheets: several results in one picture, by the demo project and piece; how many across, and how high the sheet is. */
const SHEETS: Readonly<
  Record<
    string,
    { readonly across: number; readonly height: number; readonly zoom?: number; readonly pieces: readonly (readonly [demo: number, piece: string])[] }
  >
> = {
  forms: { across: 4, height: 440, pieces: ['Ogee', 'Chamfer', 'Ridged', 'Inflated', 'Tube', 'Pen', 'Channel'].map((piece) => [5, piece]) },
  setting: {
    across: 2,
    height: 720,
    pieces: [
      [2, 'Ring'],
      [2, 'みなと祭り'],
      [2, 'ميناء'],
      [2, 'Boats'],
    ],
  },
  carved: {
    across: 3,
    height: 640,
    zoom: 1.08,
    pieces: [
      [6, 'Way-stone'],
      [6, 'Stall plate'],
      [6, 'Crate stencil'],
      [7, 'Lemonade bottle'],
      [7, 'Token'],
      [7, 'Ferry stencil'],
    ],
  },
  bent: {
    across: 3,
    height: 520,
    zoom: 1.05,
    pieces: [
      [8, 'Welcome arch'],
      [8, 'Round sign'],
      [8, 'Poster word'],
      [8, 'Chiselled stone'],
      [8, 'Jelly'],
      [8, 'Foil balloon'],
    ],
  },
  repeated: {
    across: 3,
    height: 520,
    zoom: 1.5,
    pieces: [
      [9, 'Pier theatre'],
      [9, 'Tokens, nine at a time'],
      [9, 'Garland'],
      [9, 'Riveted'],
      [9, 'Lattice lettering'],
      [9, 'Sparks'],
    ],
  },
  broken: {
    across: 3,
    height: 520,
    zoom: 1.25,
    pieces: [
      [11, 'Toffee stall'],
      [11, 'Cracked pane'],
      [11, 'Pier 7 in bricks'],
      [11, 'Driftwood'],
      [11, 'Tumbled letters'],
      [11, 'Crumbs'],
    ],
  },
  living: {
    across: 3,
    height: 520,
    zoom: 1.25,
    pieces: [
      [12, 'Jelly stall'],
      [12, 'Balloons'],
      [12, 'Hanging sign'],
      [12, 'Full crate'],
      [12, 'Under a cloth'],
      [12, 'Glued plate'],
    ],
  },
}

const wanted = (name: string) => only.length === 0 || only.includes(name)
/** steps that are named by themselves */
const single = only.filter((name) => stepKind(name))

async function newContext(browser: Browser): Promise<BrowserContext> {
  return browser.newContext({
    ...config.use?.contextOptions,
    viewport: { width: 1280, height: 800 },
    storageState: { cookies: [], origins: [{ origin: base, localStorage: [{ name: 'kelvar-first-steps', value: 'done' }] }] },
  })
}

/** A piece as its picture is handed out, without lines and handles, as a data URL. */
async function pictureOf(page: Page, demo: number, piece: string): Promise<string> {
  await openPiece(page, demo, piece)
  await page.getByRole('button', { name: 'Dispatch' }).click()
  await page.getByRole('option', { name: /^A picture/ }).click()
  const [download] = await Promise.all([page.waitForEvent('download', { timeout: 60_000 }), page.getByRole('button', { name: 'Write it out' }).click()])
  return `data:image/png;base64,${readFileSync(await download.path()).toString('base64')}`
}

/** Several pictures on one, `across` of them in a row. */
async function sheet(
  context: BrowserContext,
  name: string,
  pieces: readonly (readonly [demo: number, piece: string])[],
  across: number,
  height: number,
  zoom = across > 2 ? 1.35 : 1.18,
): Promise<void> {
  const page = await context.newPage()
  const views: string[] = []
  for (const [demo, piece] of pieces) views.push(await pictureOf(page, demo, piece))
  await page.close()
  // a page of its own: the application's would not let styles in
  const blank = await context.newPage()
  const width = Math.floor(1280 / across)
  await blank.setContent(
    `<style>body{margin:0;background:#ece5d8;display:flex;flex-wrap:wrap;justify-content:center;width:1280px;height:${height}px;overflow:hidden}div{width:${width}px;height:${height / Math.ceil(views.length / across)}px;overflow:hidden}img{width:100%;height:100%;object-fit:cover;transform:scale(${zoom})}</style>${views.map((url) => `<div><img src="${url}"></div>`).join('')}`,
  )
  await blank.waitForTimeout(500)
  keep(`docs/screenshots/${name}.png`, await blank.screenshot({ clip: { x: 0, y: 0, width: 1280, height } }))
  await blank.close()
}

/** Sends a file as a person would. */
async function send(file: Buffer | string, name: string) {
  const response = await fetch(`${base}/api/files`, { method: 'POST', body: file as BodyInit, headers: { 'x-file-name': name, origin: base } })
  if (!response.ok) throw new Error(await response.text())
  return (await response.json()) as { sha256: string; name: string; bytes: number }
}

const DRAWING = `<svg xmlns="http://www.w3.org/2000/svg" width="90mm" height="60mm" viewBox="0 0 90 60"><path fill="#1f6f68" d="M5 55V30a40 25 0 0 1 80 0v25z"/><circle fill="#f0c84a" cx="45" cy="32" r="15"/><path fill="#a63d2f" d="M38 55V40h14v15z"/></svg>`

/** A picture of every step for the finder. */
async function samples(context: BrowserContext): Promise<void> {
  const page = await context.newPage()
  await page.setContent('<body style="margin:0;background:#fff"><b style="font:900 150px/220px sans-serif;padding:0 30px">Tea</b>')
  const picture = await send(await page.screenshot({ clip: { x: 0, y: 0, width: 360, height: 230 } }), 'tea.png')
  const drawing = await send(DRAWING, 'gate.svg')
  const belt = Buffer.from(writeStl(turnedRing(30, 11, 96, 40, 2 ** -14)))
  const model = await send(belt, 'lifebelt.stl')
  const document = await stepSamples({ model: { ...model, type: 'model' }, drawing: { ...drawing, type: 'vector' }, picture: { ...picture, type: 'picture' } })
  const made = await fetch(`${base}/api/projects`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', origin: base },
    body: JSON.stringify({ document }),
  })
  if (!made.ok) throw new Error(await made.text())
  const { id } = (await made.json()) as { id: string }
  await page.goto(`${base}/project/${id}`)
  await sound(page)
  mkdirSync(`${root}app/public/steps`, { recursive: true })
  for (const { id: kind } of document.pieces.filter(({ id }) => stepKind(id) && (single.length === 0 || single.includes(id)))) {
    const tile = page.getByRole('group', { name: 'Pieces' }).getByRole('button', { name: kind, exact: true }).first().locator('img')
    await tile.waitFor({ timeout: 120_000 }).catch(() => {
      throw new Error(`the sample of “${kind}” makes no solid: see its route in app/scripts/step-samples.ts`)
    })
    const url = await tile.getAttribute('src')
    keep(`app/public/steps/${kind}.png`, Buffer.from((url ?? '').replace(/^data:image\/png;base64,/, ''), 'base64'))
  }
  await fetch(`${base}/api/projects/${id}`, { method: 'DELETE', headers: { origin: base } })
  await page.close()
}

// the tests go without smooth edges, to be quick; what people look at does not
const browser = await chromium.launch({ ...config.use?.launchOptions, args: config.use?.launchOptions?.args?.filter((arg) => !/antialiasing|msaa/.test(arg)) })
try {
  const context = await newContext(browser)
  if (wanted('steps') || single.length > 0) await samples(context)
  for (const [name, take] of Object.entries(SHOTS)) {
    if (!wanted(name)) continue
    const page = await context.newPage()
    await take(page)
    keep(`docs/screenshots/${name}.png`, await page.screenshot())
    await page.close()
  }
  for (const [name, { pieces, across, height, zoom }] of Object.entries(SHEETS)) if (wanted(name)) await sheet(context, name, pieces, across, height, zoom)
  console.log(`${changed} changed or new, ${same} as they were`)
} finally {
  await browser.close()
}

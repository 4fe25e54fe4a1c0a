import { execFileSync } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { expect, type Page } from '@playwright/test'
import { decode } from 'fast-png'
import { unzipSync } from 'fflate'
import { kept, newProject, openStep, row, setNumber, sound, words, writeOut } from './helpers'
import { test } from './test'

const root = fileURLToPath(new URL('../..', import.meta.url))
const axe = readFileSync(`${root}node_modules/axe-core/axe.min.js`, 'utf8')

interface Violation {
  impact: string
  id: string
  nodes: { target: string[]; failureSummary: string }[]
}

/** Serious and critical violations that axe-core finds on the page as it stands, by day and by night; of the night only colours differ. */
async function violations(page: Page): Promise<string[]> {
  await page.evaluate(axe)
  const found = await page.evaluate(async () => {
    const { axe } = window as unknown as { axe: { run(node: Document, options?: { runOnly: string[] }): Promise<{ violations: Violation[] }> } }
    const byDay = (await axe.run(document)).violations
    document.documentElement.dataset.theme = 'night'
    // colours that change slowly have changed
    await Promise.allSettled(document.getAnimations().map((animation) => animation.finished))
    const byNight = (await axe.run(document, { runOnly: ['color-contrast'] })).violations
    delete document.documentElement.dataset.theme
    await Promise.allSettled(document.getAnimations().map((animation) => animation.finished))
    return [...byDay.map((v) => ({ ...v, theme: 'day' })), ...byNight.map((v) => ({ ...v, theme: 'night' }))]
  })
  return found
    .filter((v) => v.impact === 'serious' || v.impact === 'critical')
    .map((v) => `${v.impact} ${v.id} by ${v.theme}: ${v.nodes.map((n) => `${n.target.join(' ')} ${n.failureSummary}`).join(' | ')}`)
}

const clean = async (page: Page, screen: string) => expect.soft(await violations(page), screen).toEqual([])

test('who has chosen the night has it from the first moment', async ({ page, context, baseURL }) => {
  await page.goto('/')
  expect(await page.locator('html').getAttribute('data-theme')).toBeNull()
  const day = await page.evaluate(() => getComputedStyle(document.body).backgroundColor)
  await context.addCookies([{ name: 'kelvar-theme', value: 'night', url: baseURL }])
  const answer = await page.goto('/')
  expect(await answer?.text()).toMatch(/<html[^>]*data-theme="night"/)
  expect(await page.evaluate(() => getComputedStyle(document.body).backgroundColor)).not.toBe(day)
})

test('no screen has a serious or critical accessibility fault, by day or by night', async ({ page }) => {
  await page.goto('/')
  await clean(page, 'cabinet')
  await page.getByRole('button', { name: 'Removed projects' }).click()
  await clean(page, 'removed projects')
  await page.goto('/project/7e51a0de-0000-4000-8000-0000000000ff')
  await clean(page, 'a project that is gone')
  await newProject(page)
  await clean(page, 'lettering')
  await page.getByRole('button', { name: /^Face: / }).click()
  await expect(page.getByRole('complementary', { name: 'Type case' }).locator('svg.specimen').first()).toBeVisible()
  await clean(page, 'type case')
  await page.getByRole('button', { name: 'Close the type case' }).click()
  await openStep(page, 'extrude', 'Extrude')
  await page.getByRole('button', { name: 'Edit the curve' }).first().click()
  await clean(page, 'extrude and the profile editor')
  await openStep(page, 'dress', 'Dress')
  await page.getByRole('radio', { name: 'Try-outs' }).click()
  await page.getByRole('button', { name: 'Keep the present values' }).click()
  await clean(page, 'dress and try-outs')
  await page.getByRole('radio', { name: 'History' }).click()
  await expect(page.getByRole('button', { name: /^Compare/ }).first()).toBeVisible()
  await page
    .getByRole('button', { name: /^Compare/ })
    .first()
    .click()
  await clean(page, 'history')
  await page.getByRole('button', { name: 'Keys' }).click()
  await clean(page, 'keys')
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Dispatch' }).click()
  await clean(page, 'dispatch')
  await page.keyboard.press('Escape')
  await page.getByRole('radio', { name: 'Motion', exact: true }).click()
  await page.getByRole('button', { name: 'Movements' }).click()
  await page.getByRole('button', { name: /^Unfold from the base/ }).click()
  await page.getByRole('button', { name: 'In turn, done: key at frame 0, 0 %' }).click()
  await page.getByRole('button', { name: 'Mark frame 0' }).click()
  await page.getByRole('button', { name: 'In turn, done: key at frame 0, 0 %' }).click()
  await clean(page, 'motion')
  await page.getByRole('button', { name: 'Write frames' }).click()
  await clean(page, 'frames out')
  await page.keyboard.press('Escape')
  await page.getByRole('button', { name: 'Undo: Set a marker' }).click()
  await page.getByRole('button', { name: 'Undo: Movement: Unfold from the base' }).click()
  await page.getByRole('radio', { name: 'Model', exact: true }).click()
  await page.getByRole('button', { name: 'Insert a step after 3' }).click()
  await clean(page, 'finder')
  await page.keyboard.press('Escape')
  await openStep(page, 'lettering', 'Lettering')
  await words(page).fill('')
  await expect(row(page, 'lettering').getByRole('alert')).toBeVisible()
  await clean(page, 'a step that failed')
  await page.getByRole('radio', { name: 'Draw' }).click()
  await page.waitForTimeout(500)
  await clean(page, 'drawing board')
})

test('the whole first flow works by the keyboard alone', async ({ page }, info) => {
  await page.goto('/')
  const tabTo = async (name: RegExp) => {
    for (let i = 0; i < 60; i++) {
      await page.keyboard.press('Tab')
      const label = await page.evaluate(() => {
        const at = document.activeElement
        return at?.getAttribute('aria-label') ?? at?.textContent ?? ''
      })
      if (name.test(label)) return
    }
    throw new Error(`no way by Tab to ${name}`)
  }
  await tabTo(/^New project/)
  await page.keyboard.press('Enter')
  await page.waitForURL(/\/project\//)
  await sound(page)
  await expect(words(page)).toBeFocused()
  await page.keyboard.press('Control+A')
  await page.keyboard.type('Pier')
  await expect(row(page, 'lettering')).toContainText('“Pier”')
  // to the next step, and into its depth
  await page.keyboard.press('Alt+ArrowDown')
  await expect(page.getByRole('textbox', { name: 'Depth' })).toBeVisible()
  await tabTo(/^Extrude/)
  for (let i = 0; i < 12; i++) {
    await page.keyboard.press('Tab')
    if (await page.getByRole('textbox', { name: 'Depth' }).evaluate((field) => field === document.activeElement)) break
  }
  await page.keyboard.press('ArrowUp')
  await page.keyboard.press('ArrowUp')
  await expect(row(page, 'extrude')).toContainText('13 mm deep')
  await sound(page)
  // a handle in the view
  await tabTo(/^Extrude: pull depth/)
  await page.keyboard.press('ArrowUp')
  await expect(row(page, 'extrude')).toContainText('13.5 mm deep')
  // plain keys from where nothing is typed
  await page.keyboard.press('t')
  await expect(page.getByRole('complementary', { name: 'Try-outs' })).toBeVisible()
  await page.keyboard.press('t')
  await page.keyboard.press('?')
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible()
  await page.keyboard.press('Escape')
  await page.keyboard.press('/')
  const finder = page.getByRole('dialog', { name: 'Insert a step' })
  await expect(finder.getByRole('searchbox')).toBeFocused()
  await page.keyboard.type('dress')
  // what is called so comes before what is of that kind
  await expect(finder.getByRole('option')).toHaveCount(2)
  await expect(finder.getByRole('option').first()).toHaveAccessibleName(/^Dress/)
  await page.keyboard.press('Tab')
  await page.keyboard.press('Tab')
  await page.keyboard.press('Enter')
  await expect(row(page, 'dress')).toHaveCount(2)
  await page.keyboard.press('Control+Z')
  await expect(row(page, 'dress')).toHaveCount(1)
  await sound(page)
  await tabTo(/^Dispatch/)
  await page.keyboard.press('Enter')
  const sheet = page.getByRole('dialog', { name: /^Dispatch/ })
  await expect(sheet.getByRole('option', { name: /3D printer/ })).toBeFocused()
  await tabTo(/^Write it out/)
  const [download] = await Promise.all([page.waitForEvent('download'), page.keyboard.press('Enter')])
  const path = info.outputPath('word.stl')
  await download.saveAs(path)
  expect(JSON.parse(execFileSync('npx', ['kelvar', 'check', path, '--json'], { cwd: root, encoding: 'utf8' }))).toMatchObject({ sound: true })
})

test('values are pulled in the view, as one step of undo', async ({ page }) => {
  await newProject(page)
  await openStep(page, 'extrude', 'Extrude')
  const knob = page.getByRole('slider', { name: 'Extrude: pull depth' })
  const box = await knob.boundingBox()
  if (!box) throw new Error('no handle')
  await page.mouse.move(box.x + 13, box.y + 13)
  await page.mouse.down()
  await page.mouse.move(box.x + 80, box.y + 40, { steps: 8 })
  await page.mouse.up()
  const depth = Number(await page.getByRole('textbox', { name: 'Depth' }).inputValue())
  expect(depth).toBeGreaterThan(14)
  await sound(page)
  await expect(page.getByLabel('Readout')).toContainText(`× ${depth.toFixed(1)}`)
  const edge = page.getByRole('slider', { name: 'Extrude: pull front edge' })
  await edge.focus()
  await page.keyboard.press('ArrowRight')
  await page.keyboard.press('ArrowRight')
  await expect(row(page, 'extrude')).toContainText('chamfer 1.7 mm')
  await page.getByRole('button', { name: /^Undo: Extrude: front edge/ }).click()
  await page.getByRole('button', { name: /^Undo: Extrude: front edge/ }).click()
  await page.getByRole('button', { name: /^Undo: Extrude: depth/ }).click()
  await expect(row(page, 'extrude')).toContainText('12 mm deep')
})

test('before and after the open step are wiped over each other', async ({ page }) => {
  await newProject(page)
  await openStep(page, 'dress', 'Dress')
  const half = (side: 'left' | 'right') =>
    page
      .locator('canvas')
      .first()
      .evaluate((canvas: HTMLCanvasElement, wanted) => {
        const copy = document.createElement('canvas')
        ;[copy.width, copy.height] = [canvas.width / 2, canvas.height]
        const context = copy.getContext('2d') as CanvasRenderingContext2D
        context.drawImage(canvas, wanted === 'left' ? 0 : -canvas.width / 2, 0)
        return context.getImageData(0, 0, copy.width, copy.height).data.reduce((sum, v, i) => (sum * 31 + v * (i + 1)) % 1_000_000_007, 7)
      }, side)
  const [left, right] = [await half('left'), await half('right')]
  await page.getByRole('button', { name: 'Before / after' }).click()
  const line = page.getByRole('slider', { name: 'Line between before and after' })
  await expect(line).toBeVisible()
  await expect(page.getByText('Before Dress')).toBeVisible()
  await expect.poll(() => half('left')).not.toBe(left)
  expect(await half('right')).toBe(right)
  await line.focus()
  for (let i = 0; i < 5; i++) await page.keyboard.press('ArrowRight')
  await expect(line).toHaveAttribute('aria-valuenow', '60')
  await expect.poll(() => half('right')).not.toBe(right)
  await page.getByRole('button', { name: 'Before / after' }).click()
  await expect.poll(() => half('left')).toBe(left)
  // held, from anywhere nothing is typed
  await page.keyboard.down('b')
  await expect(line).toBeVisible()
  await page.keyboard.up('b')
  await expect(line).toHaveCount(0)
})

test('a piece is written out standing, scaled, letter by letter and as pictures', async ({ page }, info) => {
  await newProject(page)
  await words(page).fill('Pi')
  await sound(page)
  await expect(page.getByLabel('Readout')).toContainText('× 12.0')
  const standing = await writeOut(page, /3D printer/, async () => {
    await page.getByRole('radio', { name: 'Stands upright' }).click()
    await setNumber(page, 'Scale', '50')
  })
  const path = info.outputPath('standing.stl')
  await standing.saveAs(path)
  const check = JSON.parse(execFileSync('npx', ['kelvar', 'check', path, '--json'], { cwd: root, encoding: 'utf8' })) as { sound: boolean; size: number[] }
  expect(check.sound).toBe(true)
  expect(check.size[1]).toBeCloseTo(6, 3)
  const letters = await writeOut(page, /printing in colours/, async () => {
    await page.getByRole('radio', { name: 'Letter by letter' }).click()
  })
  expect(letters.suggestedFilename()).toBe('words.zip')
  const zip = info.outputPath('letters.zip')
  await letters.saveAs(zip)
  expect(Object.keys(unzipSync(readFileSync(zip)))).toEqual(['1-P.3mf', '2-i.3mf'])
  for (const [size, width, height] of [
    ['1920 × 1080', 1920, 1080],
    ['3840 × 2160', 3840, 2160],
  ] as const) {
    const clear = height > 1080
    const still = await writeOut(page, /A picture/, async () => {
      await page.getByRole('radio', { name: size }).click()
      const box = page.getByRole('switch', { name: 'Transparent' })
      if ((await box.isChecked()) !== clear) await page.getByText('Transparent').click()
    })
    const file = info.outputPath(`still-${width}.png`)
    await still.saveAs(file)
    const png = readFileSync(file)
    expect([png.readUInt32BE(16), png.readUInt32BE(20)]).toEqual([width, height])
    // the corner is clear when that was asked, the middle never empty
    const { data, channels } = decode(png)
    expect(channels).toBe(4)
    expect(data[3]).toBe(clear ? 0 : 255)
    const colours = new Set<string>()
    for (let i = 4 * width * (height / 2); i < 4 * width * (height / 2 + 1); i += 4) colours.add([0, 1, 2, 3].map((k) => data[i + k] >> 4).join(' '))
    expect(colours.size).toBeGreaterThan(8)
    // it is drawn in pieces of 960 × 540, and one does not see where they meet
    const step = (x: number) => {
      let sum = 0
      for (let y = 0; y < height; y++) for (let k = 0; k < 4; k++) sum += Math.abs(data[4 * (y * width + x) + k] - data[4 * (y * width + x - 1) + k])
      return sum / height
    }
    for (let x = 960; x < width; x += 960) expect(step(x)).toBeLessThan(2 * Math.max(step(x - 1), step(x + 1)) + 0.5)
  }
})

test('a large picture being drawn and a font being read can be stopped', async ({ page }) => {
  await newProject(page)
  await page.getByRole('button', { name: 'Dispatch' }).click()
  await page.getByRole('option', { name: /A picture/ }).click()
  await page.getByRole('radio', { name: '3840 × 2160' }).click()
  await page.getByRole('button', { name: 'Write it out' }).click()
  await expect(page.getByRole('progressbar', { name: 'Drawing' })).toBeVisible()
  await page.getByRole('button', { name: 'Stop' }).click()
  await expect(page.getByText('Stopped; nothing was written.')).toBeVisible()
  await page.keyboard.press('Escape')
  // a server that is long about it
  await page.route('**/api/fonts', async (route) => {
    if (route.request().method() !== 'POST') return route.continue()
    await new Promise((resolve) => setTimeout(resolve, 20_000))
    await route.abort().catch(() => {})
  })
  await page.getByRole('button', { name: /^Face:/ }).click()
  const chooser = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: 'Add fonts of your own' }).click()
  await (await chooser).setFiles(new URL('../../core/fonts/Knewave-Regular.ttf', import.meta.url).pathname)
  await expect(page.getByRole('progressbar', { name: 'Reading' })).toBeVisible()
  await page.getByRole('button', { name: 'Stop' }).click()
  await expect(page.getByRole('status', { name: 'What became of the files' })).toContainText('was not added. It was stopped.')
  await expect(page.getByRole('button', { name: 'Add fonts of your own' })).toBeEnabled()
  await page.unrouteAll({ behavior: 'ignoreErrors' })
})

test('the cabinet loads less than 250 kB of scripts, and neither the view nor any WebAssembly', async ({ browser, baseURL }) => {
  // as one who comes for the first time: what is in a cache is not loaded
  await using context = await browser.newContext({ baseURL })
  const page = await context.newPage()
  const scripts: Promise<{ url: string; bytes: number }>[] = []
  page.on('response', (response) => {
    const url = response.url()
    if (/\.(js|wasm)(\?|$)/.test(url))
      scripts.push(
        response
          .request()
          .sizes()
          .then(({ responseBodySize }) => ({ url, bytes: responseBodySize })),
      )
  })
  const response = await page.goto('/')
  await page.waitForLoadState('networkidle')
  const loaded = await Promise.all(scripts)
  expect(loaded.length).toBeGreaterThan(3)
  const total = loaded.reduce((sum, { bytes }) => sum + bytes, 0)
  console.log(`cabinet: ${(total / 1000).toFixed(0)} kB of scripts, compressed`)
  expect(total).toBeGreaterThan(100_000)
  expect(total).toBeLessThan(250_000)
  expect(loaded.filter(({ url }) => url.includes('.wasm'))).toEqual([])
  const policy = response?.headers()['content-security-policy'] ?? ''
  expect(policy).toMatch(/style-src 'self' 'nonce-[^']+'; style-src-attr 'unsafe-inline';/)
  expect(policy).toMatch(/script-src 'self' 'nonce-[^']+' 'strict-dynamic' 'wasm-unsafe-eval';/)
  expect(response?.headers()).toMatchObject({ 'cross-origin-opener-policy': 'same-origin', 'cross-origin-embedder-policy': 'require-corp' })
  // a script that someone slipped into the page does not run
  const ran = await page.evaluate(() => {
    const script = document.createElement('div')
    script.innerHTML = '<img src="x" onerror="window.slipped = true">'
    document.body.append(script)
    return new Promise((resolve) => setTimeout(() => resolve('slipped' in window), 500))
  })
  expect(ran).toBe(false)
  // nor does a style sheet hold
  const colour = await page.evaluate(() => {
    const sheet = document.createElement('style')
    sheet.textContent = 'body { color: rgb(1, 2, 3) !important; }'
    document.head.append(sheet)
    return getComputedStyle(document.body).color
  })
  expect(colour).not.toBe('rgb(1, 2, 3)')
})

test('nothing a session does breaks the Content Security Policy', async ({ page }) => {
  const broken: string[] = []
  page.on('console', (message) => {
    if (message.text().includes('Content Security Policy')) broken.push(message.text())
  })
  await newProject(page)
  await openStep(page, 'dress', 'Dress')
  await page.getByRole('button', { name: /Face: colour/ }).click()
  await page.keyboard.press('Escape')
  await page.getByRole('radio', { name: 'Draw' }).click()
  await page.getByRole('radio', { name: 'Model' }).click()
  await writeOut(page, /A picture/)
  await writeOut(page, /web page/)
  await kept(page)
  expect(await page.evaluate(() => window.crossOriginIsolated)).toBe(true)
  expect(broken).toEqual([])
})

test.describe('a newcomer', () => {
  test.use({ storageState: { cookies: [], origins: [] } })
  test('learns by doing, in three steps, once', async ({ page }) => {
    await newProject(page)
    const hint = page.getByRole('complementary', { name: 'First steps' })
    const done = () => hint.locator('li[data-done]').count()
    await expect(hint).toContainText('Type your own words')
    await words(page).fill('Quay')
    await expect.poll(done).toBe(1)
    await openStep(page, 'extrude', 'Extrude')
    await setNumber(page, 'Depth', '20')
    await expect.poll(done).toBe(2)
    await openStep(page, 'dress', 'Dress')
    await page.getByRole('radio', { name: 'All over' }).click()
    await expect(hint).toContainText('That is all it takes')
    await expect(hint).toHaveCount(0, { timeout: 60_000 })
    await kept(page)
    await page.reload()
    await sound(page)
    await expect(hint).toHaveCount(0)
  })
})

test('the workbench fits 1280 × 720 and can be read on a tablet', async ({ page }) => {
  await newProject(page)
  for (const [width, height] of [
    [1280, 720],
    [1024, 768],
    [768, 1024],
  ]) {
    await page.setViewportSize({ width, height })
    await page.waitForTimeout(600)
    const cut = await page.evaluate(() => ({
      page: [document.documentElement.scrollWidth - window.innerWidth, document.documentElement.scrollHeight - window.innerHeight],
      outside: [...document.querySelectorAll('header button, header input, nav button, main canvas')].filter((element) => {
        const box = element.getBoundingClientRect()
        return box.width > 0 && (box.left < -1 || box.right > window.innerWidth + 1 || box.bottom > window.innerHeight + 1)
      }).length,
    }))
    expect(cut, `${width} × ${height}`).toEqual({ page: [0, 0], outside: 0 })
    const canvas = await page.locator('canvas').first().boundingBox()
    expect(Math.min(canvas?.width ?? 0, canvas?.height ?? 0), `${width} × ${height}`).toBeGreaterThan(380)
  }
})

test('a long making shows how far it is and can be stopped', async ({ page }) => {
  await newProject(page)
  // every glyph of the ASCII set, finer than anyone needs: seconds of work
  const many = Array.from({ length: 94 }, (_, i) => String.fromCharCode(33 + i)).join('')
  await words(page).fill(many.replace(/(.{16})/g, '$1\n'))
  await sound(page)
  await openStep(page, 'extrude', 'Extrude')
  await row(page, 'extrude').getByText('More').click()
  await setNumber(page, 'Curves within', '0.002')
  // what is asked for next must not be made while the page is still busy with drawing this
  await sound(page)
  await openStep(page, 'lettering', 'Lettering')
  await setNumber(page, 'Cap height', '400')
  await expect(page.getByRole('progressbar', { name: 'Progress' })).toBeVisible()
  await page.getByRole('button', { name: 'Stop', exact: true }).click()
  const stopped = page.getByText('Stopped; what you see is the last result.')
  await expect(stopped).toBeVisible()
  await expect(page.locator('canvas').first()).toBeVisible()
  await page.getByRole('button', { name: 'Make it now' }).click()
  await expect(stopped).toHaveCount(0)
  // the next change makes it again by itself
  await words(page).fill('F')
  await sound(page)
  await expect(stopped).toHaveCount(0)
})

import { execFileSync } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { expect, type Page } from '@playwright/test'
import { unzipSync } from 'fflate'
import { chooseStep, kept, newProject, openStep, row, setNumber, sound, words } from './helpers'
import { test } from './test'

const heightOf = async (page: Page) => Number(/[\d.]+ × ([\d.]+) × [\d.]+ mm/.exec((await page.getByLabel('Readout').textContent()) ?? '')?.[1])
const widthOf = async (page: Page) => Number(/([\d.]+) × [\d.]+ × [\d.]+ mm/.exec((await page.getByLabel('Readout').textContent()) ?? '')?.[1])
const insertAfter = (page: Page, number: number) => page.getByRole('button', { name: `Insert a step after ${number}` }).click({ force: true })
const time = (page: Page) => page.getByRole('region', { name: 'Time' })

test('a bend is keyed, eased and played in time, retyped, undone and found again', async ({ page }) => {
  await newProject(page)
  await words(page).fill('Pier')
  await sound(page)
  await insertAfter(page, 2)
  await chooseStep(page, 'Bend')
  await sound(page)
  await page.getByRole('radio', { name: 'Motion', exact: true }).click()
  await expect(time(page)).toContainText('Nothing moves yet')
  await setNumber(page, 'Angle', '0')
  await row(page, 'bend').getByRole('button', { name: 'Angle: set a key at frame 0' }).click()
  await expect(time(page).getByRole('button', { name: 'Bend, angle: key at frame 0, 0 °' })).toBeVisible()
  const flat = await heightOf(page)
  await setNumber(page, 'Frame', '24')
  await setNumber(page, 'Angle', '150')
  await expect(time(page).getByRole('button', { name: 'Bend, angle: key at frame 24, 150 °' })).toBeVisible()
  await expect.poll(() => heightOf(page), { timeout: 90_000 }).toBeGreaterThan(1.2 * flat)
  const bent = await heightOf(page)
  await setNumber(page, 'Frame', '12')
  await expect.poll(() => heightOf(page), { timeout: 90_000 }).toBeLessThan(bent - 1)
  await expect.poll(() => heightOf(page), { timeout: 90_000 }).toBeGreaterThan(flat + 1)
  // how it goes from one key to the next, and after the last
  await time(page)
    .getByRole('button', { name: /key at frame 24/ })
    .press('ArrowLeft')
  await expect(time(page).getByRole('button', { name: /key at frame 23, 150/ })).toBeVisible()
  await time(page)
    .getByRole('button', { name: /key at frame 0/ })
    .click()
  await time(page).getByRole('button', { name: 'To the next' }).click()
  await page.getByRole('option', { name: 'Swift' }).click()
  await time(page).getByRole('button', { name: 'After the last' }).click()
  await page.getByRole('option', { name: 'There and back' }).click()
  // the whole course of it as a curve: a key is lifted and moved there, and a handle tells how it leaves
  await time(page).getByRole('button', { name: 'Course of Bend, angle, as a curve' }).click()
  const course = time(page).getByRole('group', { name: 'Course of Bend, angle' })
  const dot = course.getByRole('button', { name: /key at frame 23 on its course/ })
  await dot.press('ArrowUp')
  await expect(time(page).getByRole('button', { name: /^Bend, angle: key at frame 23, 15[1-9]/ })).toBeVisible()
  const [from, room] = [await dot.boundingBox(), await course.boundingBox()]
  if (!from || !room) throw new Error('the course is not shown')
  await page.mouse.move(from.x + from.width / 2, from.y + from.height / 2)
  await page.mouse.down()
  await page.mouse.move(from.x + 60, from.y + 30, { steps: 4 })
  await page.mouse.up()
  const dragged = time(page).getByRole('button', { name: /^Bend, angle: key at frame (2[4-9]|3\d), \d+ °/ })
  await expect(dragged).toBeVisible()
  expect(Number(/, (\d+) °/.exec((await dragged.getAttribute('aria-label')) ?? '')?.[1])).toBeLessThan(150)
  await course.getByRole('button', { name: /how it reaches the key/ }).press('ArrowDown')
  for (const label of ['Way from a key to the next', 'Move a key', 'value of a key'])
    await page.getByRole('button', { name: new RegExp(`^Undo: .*${label}`) }).click()
  await expect(time(page).getByRole('button', { name: 'Bend, angle: key at frame 23, 150 °' })).toBeVisible()
  await time(page).getByRole('button', { name: 'Course of Bend, angle, as a curve' }).click()
  // frames pass by the clock, whether they are made in time or not
  await setNumber(page, 'Frame', '0')
  await time(page).getByRole('button', { name: 'Play' }).click()
  // noted by the page itself as each frame is told: what is asked of it waits while it draws
  const told = await time(page)
    .getByRole('status')
    .evaluate(async (status) => {
      const list: { frame: number; at: number }[] = []
      const observer = new MutationObserver(() => list.push({ frame: Number(/Frame (\d+)/.exec(status.textContent ?? '')?.[1]), at: performance.now() }))
      observer.observe(status, { subtree: true, characterData: true, childList: true })
      await new Promise((resolve) => setTimeout(resolve, 3000))
      observer.disconnect()
      return list
    })
  const [first, last] = [told[0], told[told.length - 1]]
  expect(told.length).toBeGreaterThan(2)
  const seconds = (last.at - first.at) / 1000
  console.log(`played: ${(told.length / seconds).toFixed(1)} frames a second shown of 24`)
  await time(page).getByRole('button', { name: 'Stop' }).click()
  // it begins anew after its 96 frames
  const off = Math.abs(((last.frame - first.frame - 24 * seconds) % 96) + (last.frame < first.frame ? 96 : 0))
  expect(Math.min(off, 96 - off)).toBeLessThan(0.05 * 24 * seconds + 4)
  await sound(page)
  // the words go on being words, and the keys stay
  await openStep(page, 'lettering', 'Lettering')
  await words(page).fill('Quay')
  await sound(page)
  await expect(time(page).getByRole('button', { name: /^Bend, angle: key/ })).toHaveCount(2)
  await openStep(page, 'bend', 'Bend')
  await setNumber(page, 'Frame', '0')
  await row(page, 'bend').getByRole('button', { name: 'Angle: take away the key at frame 0' }).click()
  await expect(time(page).getByRole('button', { name: /^Bend, angle: key/ })).toHaveCount(1)
  await page.getByRole('button', { name: 'Undo: Angle: take a key away' }).click()
  await expect(time(page).getByRole('button', { name: /^Bend, angle: key/ })).toHaveCount(2)
  await kept(page)
  await page.reload()
  await sound(page)
  await page.getByRole('radio', { name: 'Motion', exact: true }).click()
  await expect(time(page).getByRole('button', { name: /^Bend, angle: key/ })).toHaveCount(2)
})

/** What an independent reader makes of a film. */
function probed(path: string): { codec: string; width: number; height: number; frames: number; seconds: number; rate: number } {
  const fields = 'stream=codec_name,width,height,nb_read_frames,avg_frame_rate:format=duration'
  const { streams, format } = JSON.parse(
    execFileSync('ffprobe', ['-v', 'error', '-select_streams', 'v:0', '-count_frames', '-show_entries', fields, '-of', 'json', path], { encoding: 'utf8' }),
  )
  const [over, under] = streams[0].avg_frame_rate.split('/').map(Number)
  const { codec_name: codec, width, height, nb_read_frames } = streams[0]
  return { codec, width, height, frames: Number(nb_read_frames), seconds: Number(format.duration), rate: over / under }
}

test('a ready movement goes letter by letter, is made ahead, retyped, and written out as frames', async ({ page }) => {
  await newProject(page)
  await words(page).fill('Tea')
  await sound(page)
  await page.getByRole('radio', { name: 'Motion', exact: true }).click()
  // the length is told in seconds as well
  await page.getByRole('button', { name: /tell the length in seconds/ }).click()
  await setNumber(page, 'Length', '1')
  await page.getByRole('button', { name: /tell the length in frames/ }).click()
  await expect(page.getByRole('textbox', { name: 'Length', exact: true })).toHaveValue('24')
  await setNumber(page, 'Length', '25')
  await page.getByRole('button', { name: 'Movements' }).click()
  await expect(page.getByRole('button', { name: /^Count up/ })).toBeDisabled()
  const unfold = page.getByRole('button', { name: /^Unfold from the base/ })
  // shown as a strip of frames of one's own words
  await expect(unfold.locator('img')).toHaveCount(5, { timeout: 150_000 })
  // and so are the camera's, as it would see them from where one looks
  const past = page.getByRole('button', { name: /^Sideways past it/ }).locator('img')
  await expect(past).toHaveCount(5, { timeout: 150_000 })
  const seen = await past.evaluateAll((list) => list.map((img) => (img as HTMLImageElement).src))
  expect(new Set(seen).size).toBe(5)
  await unfold.click()
  const made = time(page).getByRole('progressbar', { name: 'Frames made' })
  await expect(time(page).getByRole('button', { name: 'In turn, done: key at frame 24, 100 %' })).toBeVisible()
  await expect(row(page, 'in-turn')).toContainText('3 letters')
  await expect(made).toHaveAttribute('aria-valuenow', '25', { timeout: 150_000 })
  // letters that are typed later get their share by themselves, and frames are made anew
  await openStep(page, 'lettering', 'Lettering')
  await words(page).fill('Teas')
  await expect(row(page, 'in-turn')).toContainText('4 letters', { timeout: 90_000 })
  await expect(made).toHaveAttribute('aria-valuenow', '25', { timeout: 150_000 })
  // the first letter stands while the last one lies
  await setNumber(page, 'Frame', '24')
  await expect.poll(() => heightOf(page), { timeout: 90_000 }).toBeGreaterThan(25)
  const stands = await heightOf(page)
  await setNumber(page, 'Frame', '0')
  await expect.poll(() => heightOf(page), { timeout: 90_000 }).toBeLessThan(stands / 2)
  // values between keys go by handles as well, and a switch and a colour are keyed where they stand
  await time(page)
    .getByRole('button', { name: /done: key at frame 0/ })
    .click()
  await page.getByRole('slider', { name: /how it leaves/ }).press('ArrowUp')
  await expect(time(page).getByRole('button', { name: 'To the next' })).toContainText('By its handles')
  await openStep(page, 'dress', 'Dress')
  await row(page, 'dress').getByRole('button', { name: 'Face: set a key at frame 0' }).click()
  await row(page, 'dress').getByRole('button', { name: 'Switched on: set a key at frame 0' }).click()
  await expect(time(page).getByRole('button', { name: /^Dress, .*: key at frame 0/ })).toHaveCount(3)
  await page.getByRole('button', { name: 'Undo: Switched on: set a key' }).click()
  await page.getByRole('button', { name: 'Undo: Face: set a key' }).click()
  await expect(time(page).getByRole('button', { name: /^Dress, / })).toHaveCount(0)

  // a frame is marked by name, and a camera keyed from where one looks
  await page.getByRole('button', { name: 'Mark frame 0' }).click()
  await page.getByRole('textbox', { name: 'Name of the marker' }).fill('Drum')
  await expect(time(page).getByRole('button', { name: 'Marker Drum, frame 0' })).toBeVisible()
  await page.getByRole('button', { name: 'Key the camera at frame 0' }).click()
  await expect(page.getByRole('button', { name: 'Look through the camera' })).toHaveAttribute('aria-pressed', 'true')
  await setNumber(page, 'Frame', '12')
  await page
    .getByRole('button', { name: 'Top', exact: true })
    .or(page.getByRole('radio', { name: 'Top', exact: true }))
    .click()
  await page.getByRole('button', { name: 'Key the camera at frame 12' }).click()
  await expect(time(page).getByRole('button', { name: /^Camera, stands: key at frame/ })).toHaveCount(2)

  const written = async (kind: string, last: string) => {
    await page.getByRole('button', { name: 'Write frames' }).click()
    const sheet = page.getByRole('dialog', { name: /^Frames of/ })
    await sheet.getByRole('radio', { name: kind }).click()
    await sheet.getByRole('button', { name: 'Size' }).click()
    await page.getByRole('option', { name: '640 × 360' }).click()
    await setNumber(page, 'Last frame', last)
    return sheet.getByRole('button', { name: 'Write them out' }).click()
  }
  const file = async (kind: string) => {
    const [download] = await Promise.all([page.waitForEvent('download', { timeout: 240_000 }), written(kind, '11')])
    const path = test.info().outputPath(download.suggestedFilename())
    await download.saveAs(path)
    return path
  }
  expect(probed(await file('GIF'))).toMatchObject({ codec: 'gif', width: 640, height: 360, frames: 12, seconds: 0.5 })
  const film = probed(await file('WebM'))
  expect(film).toMatchObject({ width: 640, height: 360, frames: 12, rate: 24 })
  expect(film.codec).toMatch(/^(vp8|vp9|av1)$/)
  expect(film.seconds).toBeCloseTo(0.5, 2)
  const pictures = unzipSync(readFileSync(await file('PNG frames')))
  expect(Object.keys(pictures)).toEqual(Array.from({ length: 12 }, (_, i) => expect.stringMatching(new RegExp(`-${String(i).padStart(5, '0')}\\.png$`))))
  const [first, last] = [Object.values(pictures)[0], Object.values(pictures)[11]]
  expect([...first.subarray(1, 4)]).toEqual([...Buffer.from('PNG')])
  expect(Buffer.from(first).equals(Buffer.from(last))).toBe(false)
  // it goes on while one works, and can be stopped
  await written('GIF', '24')
  await openStep(page, 'lettering', 'Lettering')
  await page.getByRole('button', { name: 'Stop', exact: true }).click()
  await expect(page.getByRole('alert').filter({ hasText: 'Stopped; no frames were written.' })).toBeVisible()
  // where the browser has no encoder it says so, and what to do
  await page.evaluate(() => Reflect.deleteProperty(window, 'VideoEncoder'))
  await written('WebM', '3')
  await expect(page.getByRole('alert').filter({ hasText: 'This browser cannot write films. Write a GIF or PNG frames instead' })).toBeVisible()
})

test('words are written on, whatever their form, and nothing is no fault', async ({ page }) => {
  await newProject(page)
  await words(page).fill('Tea')
  await sound(page)
  const whole = await widthOf(page)
  await page.getByRole('radio', { name: 'Motion', exact: true }).click()
  await page.getByRole('button', { name: 'Movements' }).click()
  await page.getByRole('button', { name: /^Written on/ }).click()
  await expect(time(page).getByRole('button', { name: 'Write on, written so far: key at frame 0, 0 %' })).toBeVisible()
  await expect(page.getByLabel('Readout')).toContainText('Nothing is there yet at this frame')
  await expect(page.getByLabel('Dimensions in millimetres')).toHaveCount(0)
  await setNumber(page, 'Frame', '12')
  await expect.poll(() => widthOf(page), { timeout: 90_000 }).toBeLessThan(0.8 * whole)
  await sound(page)
  await setNumber(page, 'Frame', '36')
  await expect.poll(() => widthOf(page), { timeout: 90_000 }).toBeCloseTo(whole, 1)
  await sound(page)
})

test('a piece is keyed where it stands, and moves among the others', async ({ page }) => {
  await newProject(page)
  await page.getByRole('button', { name: 'New piece' }).click()
  await page.getByRole('menuitem', { name: /block/i }).click()
  await sound(page)
  await page.getByRole('radio', { name: 'Motion', exact: true }).click()
  await page.getByRole('button', { name: 'All pieces' }).click()
  await page.getByRole('button', { name: 'Place: set keys at frame 0' }).click()
  await setNumber(page, 'Frame', '20')
  const up = page.getByRole('group', { name: /^Place of/ }).getByRole('textbox', { name: 'Up', exact: true })
  await up.fill('40')
  await up.press('Enter')
  await expect(time(page).getByRole('button', { name: 'Place, up: key at frame 20, 40 mm' })).toBeVisible()
  await setNumber(page, 'Frame', '10')
  await expect(up).toHaveValue('20')
  await page.getByRole('button', { name: /^Undo: Place: up/ }).click()
  await setNumber(page, 'Frame', '20')
  await expect(up).toHaveValue('0')
  // several keys at once: seven rows have one at frame 0, and up has one at 20 again
  await page.getByRole('button', { name: /^Redo: Place: up/ }).click()
  const key = (name: string) => time(page).getByRole('button', { name })
  await key('Place, up: key at frame 0, 0 mm').click()
  await time(page).getByRole('button', { name: 'All at frame 0' }).click()
  await expect(time(page).getByRole('heading', { name: '7 keys of 7 rows' })).toBeVisible()
  await key('Place, up: key at frame 0, 0 mm').press('ArrowRight')
  await expect(time(page).getByRole('button', { name: /key at frame 1, / })).toHaveCount(7)
  await key('Place, up: key at frame 20, 40 mm').click({ modifiers: ['Shift'] })
  await expect(time(page).getByRole('heading', { name: '8 keys of 7 rows' })).toBeVisible()
  await setNumber(page, 'last at', '39')
  await expect(key('Place, up: key at frame 39, 40 mm')).toBeVisible()
  await key('Place, up: key at frame 39, 40 mm').press('Delete')
  await expect(time(page)).toContainText('Nothing moves yet')
  await page.getByRole('button', { name: 'Undo: Take 8 keys away' }).click()
  await expect(time(page).getByRole('button', { name: /key at frame 1, / })).toHaveCount(7)
})

/** A WAV file: a tone of so many seconds, silent in its first half. */
function wav(seconds: number): Buffer {
  const [rate, count] = [8000, Math.round(8000 * seconds)]
  const file = Buffer.alloc(44 + 2 * count)
  file.write('RIFF', 0)
  file.writeUInt32LE(36 + 2 * count, 4)
  file.write('WAVEfmt ', 8)
  file.writeUInt32LE(16, 16)
  for (const [i, value] of [1, 1].entries()) file.writeUInt16LE(value, 20 + 2 * i)
  file.writeUInt32LE(rate, 24)
  file.writeUInt32LE(2 * rate, 28)
  file.writeUInt16LE(2, 32)
  file.writeUInt16LE(16, 34)
  file.write('data', 36)
  file.writeUInt32LE(2 * count, 40)
  for (let i = count >> 1; i < count; i++) file.writeInt16LE(Math.round(20_000 * Math.sin((2 * Math.PI * 440 * i) / rate)), 44 + 2 * i)
  return file
}

test('a sound lies under the frames as a waveform, is kept with the project, and is in the film', async ({ page }) => {
  await newProject(page)
  await page.getByRole('radio', { name: 'Motion', exact: true }).click()
  await setNumber(page, 'Length', '24')
  const bring = async (name: string, buffer: Buffer) => {
    const [chooser] = await Promise.all([page.waitForEvent('filechooser'), page.getByRole('button', { name: 'Add a sound' }).click()])
    await chooser.setFiles({ name, mimeType: 'audio/wav', buffer })
  }
  // what is none is said, and nothing is lost
  await bring('drum.wav', Buffer.from('this is no sound at all'))
  await expect(page.getByRole('alert').filter({ hasText: 'drum.wav is no sound that this browser can play. Use WAV, MP3 or OGG.' })).toBeVisible()
  const wave = page.getByRole('img', { name: /^Waveform, 1\.\d\d s$/ })
  // silent on the left, loud on the right
  const dark = () =>
    wave.evaluate((canvas: HTMLCanvasElement) => {
      const { width, height } = canvas
      const pixels = (canvas.getContext('2d') as CanvasRenderingContext2D).getImageData(0, 0, width, height).data
      const halves = [0, 0]
      for (let i = 0; i < width * height; i++) if (pixels[4 * i + 3] > 128) halves[(i % width) * 2 < width ? 0 : 1]++
      return halves[1] / (halves[0] || 1)
    })
  // packed by an independent encoder, or plain
  for (const kind of ['mp3', 'ogg', 'wav']) {
    const packed = kind === 'wav' ? wav(1) : execFileSync('ffmpeg', ['-v', 'error', '-i', 'pipe:0', '-f', kind, 'pipe:1'], { input: wav(1) })
    await bring(`tone.${kind}`, packed)
    await expect(wave).toBeVisible()
    await expect.poll(dark).toBeGreaterThan(5)
    if (kind !== 'wav') await page.getByRole('button', { name: 'Take the sound away' }).click()
  }
  await expect(page.getByRole('img', { name: 'Waveform, 1.00 s' })).toBeVisible()
  await kept(page)
  await page.reload()
  await sound(page)
  await page.getByRole('radio', { name: 'Motion', exact: true }).click()
  await expect(wave).toBeVisible()
  await page.getByRole('button', { name: 'Write frames' }).click()
  const sheet = page.getByRole('dialog', { name: /^Frames of/ })
  await sheet.getByRole('button', { name: 'Size' }).click()
  await page.getByRole('option', { name: '640 × 360' }).click()
  const [download] = await Promise.all([page.waitForEvent('download', { timeout: 240_000 }), sheet.getByRole('button', { name: 'Write them out' }).click()])
  const path = test.info().outputPath('heard.webm')
  await download.saveAs(path)
  const { streams } = JSON.parse(execFileSync('ffprobe', ['-v', 'error', '-show_entries', 'stream=codec_type', '-of', 'json', path], { encoding: 'utf8' }))
  expect(streams.map((stream: { codec_type: string }) => stream.codec_type).sort()).toEqual(['audio', 'video'])
  expect(probed(path).frames).toBe(24)
  await page.getByRole('button', { name: 'Take the sound away' }).click()
  await expect(page.getByRole('button', { name: 'Add a sound' })).toBeVisible()
})

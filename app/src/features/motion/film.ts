import { cameraAt } from '@kelvar/core/document/camera'
import { piecesAt } from '@kelvar/core/document/moment'
import type { ProjectDocument } from '@kelvar/core/document/schema'
import { transfer, wrap } from 'comlink'
import { Zip, ZipPassThrough } from 'fflate'
import { openStills, pngOf } from '@/features/view/still'
import { boxAbout } from '@/features/view/scene'
import { standBeside } from '@/features/view/standing'
import { madeFrames } from '@/state/filling'
import { contentAt, rateOf, workAt, workOf } from '@/state/work'
import { browserWorker } from '@/workers/browser-worker'
import type { GifApi } from '@/workers/gif.worker'
import { desk, proxy } from '@/workers/maker'
import type { ViewMesh } from '@/workers/view-mesh'
import { soundOf } from './sound'

export type FilmKind = 'png' | 'gif' | 'webm'

/** Longer rows of frames are not written at once. */
const MOST_WRITTEN = 3000

export interface Film {
  readonly kind: FilmKind
  readonly width: number
  readonly height: number
  /** the first and the last frame */
  readonly from: number
  readonly to: number
  /** of PNG frames: nothing but the piece and its shadow */
  readonly transparent: boolean
  /** seen through the project's camera, else from where the view stands */
  readonly through: boolean
}

/** Why frames cannot be written, with what to do, in words. */
export class FilmError extends Error {}

/** What is told while frames are written: which part of the work, and how many of how many frames are done. */
type TellFrames = (words: 'Making' | 'Drawing', done: number, of: number) => void

/** Gathers pictures in one file. */
interface Writer {
  add(canvas: HTMLCanvasElement, number: number): Promise<void>
  finish(): Promise<Blob>
  close(): void
}

/**
 * Frames of a piece as one file, as the view shows it from where its camera stands now: made first, where they are not there already, then drawn. The document is the one
 * it was when this began. Throws FilmError for what a person can mend, and when it is stopped.
 */
export async function writeFilm(document: ProjectDocument, pieceId: string, film: Film, name: string, signal: AbortSignal, tell: TellFrames): Promise<Blob> {
  const count = film.to - film.from + 1
  if (!(count >= 1)) throw new FilmError('The last frame comes before the first. Put the last one behind it.')
  if (count > MOST_WRITTEN)
    throw new FilmError(
      `${count.toLocaleString('en')} frames are more than are written at once: write ${MOST_WRITTEN.toLocaleString('en')} at most, then the next ones.`,
    )
  const meshes = meshesOf(document, pieceId, signal)
  // the ground and the light stay where they are while things move
  let about: ViewMesh['box'] | undefined
  for (let i = 0; i < count; i++) {
    const { box } = await meshes(film.from + i)
    about = boxAbout([...(about ? [{ box: about }] : []), ...(box[0] <= box[3] ? [{ box }] : [])])
    tell('Making', i + 1, count)
  }
  if (!about) throw new FilmError('There is nothing to be seen in these frames. Choose others.')
  const stills = await openStills({ width: film.width, height: film.height, transparent: film.kind === 'png' && film.transparent, about })
  let writer: Writer | undefined
  try {
    const rate = rateOf(document)
    writer = film.kind === 'png' ? pngs(name) : film.kind === 'gif' ? await gif(rate) : await webm(film, rate, await soundOfFilm(document, film, rate))
    for (let i = 0; i < count; i++) {
      const frame = film.from + i
      const camera = film.through ? cameraAt(document, frame) : undefined
      const seenFrom = camera && standBeside(camera, piecesAt(document.pieces, frame).find(({ id }) => id === pieceId)?.place)
      const canvas = await stills.draw(await meshes(frame), signal, undefined, seenFrom)
      await writer.add(canvas, frame)
      signal.throwIfAborted()
      tell('Drawing', i + 1, count)
    }
    return await writer.finish()
  } finally {
    stills.close()
    writer?.close()
  }
}

/** What makes a piece at a frame, unless it is there. */
function meshesOf(document: ProjectDocument, pieceId: string, signal: AbortSignal): (frame: number) => Promise<ViewMesh> {
  const base = workOf(document, pieceId)
  return async (frame) => {
    signal.throwIfAborted()
    const work = workAt(document, pieceId, frame)
    if (!base || !work) throw new FilmError('There is no piece to write out. Add one first.')
    const content = contentAt(base, frame)
    const known = madeFrames.get(content)?.mesh
    if (known) return known
    const news = await desk.ask((api, job) => api.make(job, work, undefined, undefined, proxy(nothing)), signal)
    if (!news.mesh) {
      const said = news.steps.flatMap(({ issues }) => issues).find(({ severity }) => severity === 'failed')
      throw new FilmError(
        said
          ? `Frame ${frame} cannot be made: ${said.message} ${said.remedy}`
          : `At frame ${frame} the piece is no solid. Put a step such as Extrude on its route.`,
      )
    }
    madeFrames.put(content, news)
    return news.mesh
  }
}

const nothing = () => {}

/** PNG pictures in an archive, numbered by their frames without gaps. */
function pngs(name: string): Writer {
  const parts: Uint8Array[] = []
  let failed: Error | undefined
  const zip = new Zip((error, chunk) => {
    if (error) failed = error
    else parts.push(chunk)
  })
  return {
    async add(canvas, number) {
      const bytes = new Uint8Array(await (await pngOf(canvas)).arrayBuffer())
      // pictures are compressed already
      const entry = new ZipPassThrough(`${name}-${String(number).padStart(5, '0')}.png`)
      zip.add(entry)
      entry.push(bytes, true)
      if (failed) throw failed
    },
    async finish() {
      zip.end()
      return new Blob(parts as BlobPart[], { type: 'application/zip' })
    },
    close: () => zip.terminate(),
  }
}

/** GIF counts time in hundredths of a second: frames take turns so that the whole keeps its length. */
async function gif(rate: number): Promise<Writer> {
  if (rate > 50) throw new FilmError(`A GIF shows at most 50 frames a second, this project has ${rate}. Write a WebM or PNG frames.`)
  const handle = browserWorker(new Worker(new URL('../../workers/gif.worker.ts', import.meta.url), { type: 'module' }))
  // a worker that breaks down answers nothing any more
  const gone = new Promise<never>((_, reject) => handle.onDeath(reject))
  gone.catch(() => {})
  await handle.ready.catch((error) => {
    handle.end()
    throw error
  })
  const api = wrap<GifApi>(handle.endpoint)
  let count = 0
  return {
    async add(canvas) {
      const { data, width, height } = pixelsOf(canvas)
      const hundredths = Math.round((100 * (count + 1)) / rate) - Math.round((100 * count) / rate)
      count++
      await Promise.race([api.add(transfer(data, [data.buffer]), width, height, hundredths), gone])
    },
    finish: async () => new Blob([(await Promise.race([api.finish(), gone])) as BlobPart], { type: 'image/gif' }),
    close: () => handle.end(),
  }
}

function pixelsOf(canvas: HTMLCanvasElement): ImageData {
  const context = canvas.getContext('2d')
  if (!context) throw new Error('no canvas')
  return context.getImageData(0, 0, canvas.width, canvas.height)
}

/** What of the project's sound is heard in the frames of a film; undefined where that is nothing. */
async function soundOfFilm({ time }: ProjectDocument, { from, to }: Film, rate: number): Promise<AudioBuffer | undefined> {
  if (!time?.sound) return undefined
  const { buffer } = await soundOf(time.sound.sha256).catch(() => {
    throw new FilmError('The sound cannot be had. Take it away, or bring it in once more.')
  })
  const { sampleRate, numberOfChannels } = buffer
  const cut = new AudioBuffer({ length: Math.max(1, Math.round(((to - from + 1) / rate) * sampleRate)), numberOfChannels, sampleRate })
  const begin = Math.round(((from - time.sound.at) / rate) * sampleRate)
  if (begin >= buffer.length || begin + cut.length <= 0) return undefined
  for (let channel = 0; channel < numberOfChannels; channel++)
    cut.copyToChannel(buffer.getChannelData(channel).subarray(Math.max(0, begin), Math.max(0, begin + cut.length)), channel, Math.max(0, -begin))
  return cut
}

/** A film by the browser's own encoder (WebCodecs). */
async function webm({ width, height }: Film, rate: number, sound: AudioBuffer | undefined): Promise<Writer> {
  const { AudioBufferSource, BufferTarget, CanvasSource, getFirstEncodableAudioCodec, getFirstEncodableVideoCodec, Output, QUALITY_HIGH, WebMOutputFormat } =
    await import('mediabunny')
  const missing = 'This browser cannot write films. Write a GIF or PNG frames instead, or use a browser that has WebCodecs.'
  if (typeof VideoEncoder === 'undefined') throw new FilmError(missing)
  const codec = await getFirstEncodableVideoCodec(['vp9', 'vp8', 'av1'], { width, height })
  if (!codec) throw new FilmError(missing)
  // the encoder needs one canvas for all frames
  const canvas = document.createElement('canvas')
  canvas.width = width
  canvas.height = height
  const context = canvas.getContext('2d')
  if (!context) throw new Error('no canvas')
  const output = new Output({ format: new WebMOutputFormat(), target: new BufferTarget() })
  const source = new CanvasSource(canvas, { codec, bitrate: QUALITY_HIGH })
  output.addVideoTrack(source, { frameRate: rate })
  const voice = sound && (await getFirstEncodableAudioCodec(['opus', 'vorbis'], { numberOfChannels: sound.numberOfChannels, sampleRate: sound.sampleRate }))
  if (sound && !voice) throw new FilmError('This browser cannot write the sound into a film. Take the sound away, or write a GIF or PNG frames.')
  const heard = voice ? new AudioBufferSource({ codec: voice, bitrate: QUALITY_HIGH }) : undefined
  if (heard) output.addAudioTrack(heard)
  try {
    await output.start()
    if (heard && sound) await heard.add(sound)
  } catch (error) {
    await output.cancel()
    throw error
  }
  let count = 0
  let done = false
  return {
    async add(picture) {
      context.drawImage(picture, 0, 0)
      await source.add(count / rate, 1 / rate)
      count++
    },
    async finish() {
      await output.finalize()
      done = true
      return new Blob([output.target.buffer as ArrayBuffer], { type: 'video/webm' })
    },
    close() {
      if (!done) output.cancel().catch((error) => console.error(error))
    },
  }
}

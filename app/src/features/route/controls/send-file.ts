import { zipSync } from 'fflate'
import { z } from 'zod'
import { ask, ServerSays } from '@/state/server'

const added = z.object({
  sha256: z.string(),
  name: z.string(),
  bytes: z.number(),
  layers: z.number().optional(),
  triangles: z.number().optional(),
  width: z.number().optional(),
})

export interface SentFile {
  readonly sha256: string
  readonly name: string
  readonly bytes: number
}

const IS = { picture: 'a picture', model: 'a model in three dimensions', drawing: 'a vector drawing' }
const STEP_FOR = { picture: 'Traced picture', model: 'Model file', drawing: 'Vector file' }

/** While readers are busy with other files it is asked again, so often and after so long, ms. */
const TRIES = 30
const PAUSE = 700

/** Hands a file to the server, which reads it for real; what it is, or why it is refused, in words. Throws only when it is stopped. */
export async function sendFile(file: File, wanted: 'drawing' | 'picture' | 'model', signal: AbortSignal): Promise<SentFile | { message: string }> {
  const send = () => ask('/api/files', added, { method: 'POST', body: file, headers: { 'x-file-name': encodeURIComponent(file.name) }, signal })
  try {
    const sent = await patiently(send, signal)
    const is = sent.width !== undefined ? 'picture' : sent.triangles !== undefined ? 'model' : 'drawing'
    return is === wanted ? sent : { message: `${file.name} is ${IS[is]}. Use the step ${STEP_FOR[is]} for it.` }
  } catch (error) {
    if (!(error instanceof ServerSays)) throw error
    return { message: error.status === 0 ? 'The server does not answer. Try again when it does.' : `${file.name}: ${error.message}` }
  }
}

/** Asks until the server is not busy any more. */
async function patiently<T>(asked: () => Promise<T>, signal: AbortSignal): Promise<T> {
  for (let tries = 1; ; tries++) {
    try {
      return await asked()
    } catch (error) {
      if (!(error instanceof ServerSays && error.status === 503) || tries === TRIES) throw error
      await new Promise<void>((resolve) => {
        const over = () => {
          clearTimeout(timer)
          signal.removeEventListener('abort', over)
          resolve()
        }
        const timer = setTimeout(over, PAUSE)
        signal.addEventListener('abort', over)
      })
      signal.throwIfAborted()
    }
  }
}

/** The file that is meant of several: an OBJ with its MTL and its pictures as one archive, else the first. */
export async function asOneFile(files: readonly File[]): Promise<File | undefined> {
  const of = (ending: string) => files.find(({ name }) => name.toLowerCase().endsWith(ending))
  const [obj, mtl] = [of('.obj'), of('.mtl')]
  if (!obj || !mtl) return obj ?? files[0]
  const bytes = async (file: File) => new Uint8Array(await file.arrayBuffer())
  const parts = [obj, mtl, ...files.filter(({ name }) => /\.(png|jpe?g|webp)$/i.test(name))]
  return new File([zipSync(Object.fromEntries(await Promise.all(parts.map(async (file) => [file.name, await bytes(file)]))), { level: 1 }).slice()], obj.name)
}

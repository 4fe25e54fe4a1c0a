import { z } from 'zod'
import { ask, ServerSays } from '@/state/server'

const added = z.object({ sha256: z.string(), name: z.string(), bytes: z.number(), layers: z.number().optional(), width: z.number().optional() })

interface SentFile {
  readonly sha256: string
  readonly name: string
  readonly bytes: number
}

/** Hands a file to the server, which reads it for real; what it is, or why it is refused, in words. Throws only when it is stopped. */
export async function sendFile(file: File, wanted: 'drawing' | 'picture', signal: AbortSignal): Promise<SentFile | { message: string }> {
  try {
    const sent = await ask('/api/files', added, { method: 'POST', body: file, headers: { 'x-file-name': encodeURIComponent(file.name) }, signal })
    const isPicture = sent.width !== undefined
    if (isPicture && wanted === 'drawing') return { message: `${file.name} is a picture, not a drawing of outlines. Use the step Traced picture for it.` }
    if (!isPicture && wanted === 'picture') return { message: `${file.name} is a vector drawing, not a picture. Use the step Vector file for it.` }
    return sent
  } catch (error) {
    if (!(error instanceof ServerSays)) throw error
    return { message: error.status === 0 ? 'The server does not answer. Try again when it does.' : `${file.name}: ${error.message}` }
  }
}

import { z } from 'zod'

const added = z.object({ sha256: z.string(), name: z.string(), bytes: z.number(), layers: z.number().optional(), width: z.number().optional() })
const refusal = z.object({ error: z.object({ message: z.string(), remedy: z.string() }) })

export interface SentFile {
  readonly sha256: string
  readonly name: string
  readonly bytes: number
}

/** Hands a file to the server, which reads it for real; what it is, or why it is refused, in words. Throws only when it is stopped. */
export async function sendFile(file: File, wanted: 'drawing' | 'picture', signal: AbortSignal): Promise<SentFile | { message: string }> {
  try {
    const response = await fetch('/api/files', { method: 'POST', body: file, headers: { 'x-file-name': encodeURIComponent(file.name) }, signal })
    const answer: unknown = await response.json()
    if (!response.ok) {
      const { error } = refusal.parse(answer)
      return { message: `${file.name}: ${error.message} ${error.remedy}` }
    }
    const sent = added.parse(answer)
    const isPicture = sent.width !== undefined
    if (isPicture && wanted === 'drawing') return { message: `${file.name} is a picture, not a drawing of outlines. Use the step Traced picture for it.` }
    if (!isPicture && wanted === 'picture') return { message: `${file.name} is a vector drawing, not a picture. Use the step Vector file for it.` }
    return sent
  } catch (error) {
    signal.throwIfAborted()
    console.error(error)
    return { message: 'The server does not answer. Try again when it does.' }
  }
}

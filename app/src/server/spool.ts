import { createWriteStream } from 'node:fs'
import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { once } from 'node:events'

/** A file on its way in, kept on disk while it is looked at. */
export interface Spooled {
  readonly path: string
  readonly size: number
  /** a folder of its own, for what is unpacked of it */
  readonly folder: string
  remove(): Promise<void>
}

/** Writes bytes to a file of their own as they come in; undefined as soon as they grow beyond the limit. The caller removes it. */
export async function spool(body: AsyncIterable<Uint8Array>, limit: number): Promise<Spooled | undefined> {
  const folder = await mkdtemp(join(tmpdir(), 'kelvar-'))
  const remove = () => rm(folder, { recursive: true, force: true })
  const path = join(folder, 'file')
  let size = 0
  try {
    const out = createWriteStream(path)
    // a full disk is heard of between two writes, or when the file is ended
    const failed = new Promise<never>((_, reject) => out.once('error', reject))
    failed.catch(() => {})
    for await (const chunk of body) {
      size += chunk.length
      if (size > limit) {
        out.destroy()
        await remove()
        return undefined
      }
      if (!out.write(chunk)) await Promise.race([once(out, 'drain'), failed])
    }
    out.end()
    await Promise.race([once(out, 'finish'), failed])
    return { path, size, folder, remove }
  } catch (error) {
    await remove()
    throw error
  }
}

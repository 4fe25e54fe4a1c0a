import { LRUCache } from 'lru-cache'
import { useEffect, useState } from 'react'
import { viewAtRest } from '@/state/at-rest'
import { isLight } from '@/state/work'
import { atHand, desk } from '@/workers/maker'
import { SUPERSEDED } from '@/workers/supervisor'
import type { Work } from '@/workers/messages'
import { studioReady, takePicture } from './pictures'

interface PictureSize {
  readonly width: number
  readonly height: number
  /** with the stage's ground and its shadow */
  readonly ground?: boolean
}

/** Pictures by content of the solid and size, so that one is drawn once whatever asks for it. */
const drawn = new LRUCache<string, string>({ max: 300 })

const nameOf = (key: string, { width, height, ground }: PictureSize) => `${key} ${width}×${height}${ground ? ' on ground' : ''}`

/**
 * The picture of a route's result as of a step, PNG data URL; undefined when that is no solid. Waits for the view's first
 * solid, which must not wait for pictures. Asked for by what is to be seen first: a mesh is sent only where there is no picture of it yet.
 */
export async function solidPicture(work: Work, until: string, size: PictureSize, signal?: AbortSignal): Promise<string | undefined> {
  await studioReady()
  const key = await atHand().ask((maker) => maker.keyOf(work, until), signal)
  if (!key) return undefined
  const known = drawn.get(nameOf(key, size))
  if (known) return known
  await viewAtRest()
  signal?.throwIfAborted()
  const answer = await (isLight(work) ? atHand() : desk).ask((maker, job) => maker.pictureMesh(job, work, until), signal)
  if (!answer) return undefined
  const url = await takePicture(answer.mesh, size.width, size.height, { ground: size.ground })
  drawn.set(nameOf(answer.key, size), url)
  return url
}

/**
 * The same for a component: drawn once nothing has changed for `delay` ms; the last picture stays until then. `key` is the
 * content key of the result where it is known: a picture that is there is then shown at once.
 */
export function useSolidPicture(work: Work | undefined, until: string | undefined, size: PictureSize, delay: number, key?: string): string | undefined {
  const [url, setUrl] = useState<string>()
  const { width, height } = size
  const known = key ? drawn.get(nameOf(key, size)) : undefined
  useEffect(() => {
    if (!work || !until || known) return
    const leaving = new AbortController()
    const { signal } = leaving
    const timer = setTimeout(async () => {
      try {
        const picture = await solidPicture(work, until, { width, height }, signal)
        if (!signal.aborted && picture) setUrl(picture)
      } catch (error) {
        if (!signal.aborted) console.error(error)
      }
    }, delay)
    return () => {
      leaving.abort(SUPERSEDED)
      clearTimeout(timer)
    }
  }, [work, until, known, width, height, delay])
  return known ?? url
}

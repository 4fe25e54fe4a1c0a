import { useEffect, useState } from 'react'
import { makerForQuestions } from '@/workers/maker'
import type { Work } from '@/workers/messages'
import { studioReady, takePicture } from './pictures'

interface PictureSize {
  readonly width: number
  readonly height: number
  /** with the stage's ground and its shadow */
  readonly ground?: boolean
}

/** Pictures by content of the solid and size, so that one is drawn once whatever asks for it. */
const drawn = new Map<string, string>()
const MAX_PICTURES = 300

const nameOf = (key: string, { width, height, ground }: PictureSize) => `${key} ${width}×${height}${ground ? ' on ground' : ''}`

/**
 * The picture of a route's result as of a step, PNG data URL; undefined when that is no solid. Waits for the view's first
 * solid, which must not wait for pictures.
 */
export async function solidPicture(work: Work, until: string, size: PictureSize): Promise<string | undefined> {
  await studioReady()
  const maker = await makerForQuestions()
  const answer = await maker.picture(work, until)
  if (!answer) return undefined
  const name = nameOf(answer.key, size)
  let url = drawn.get(name)
  if (!url) {
    url = await takePicture(answer.mesh, size.width, size.height, size.ground)
    if (drawn.size >= MAX_PICTURES) drawn.clear()
    drawn.set(name, url)
  }
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
    let gone = false
    const timer = setTimeout(async () => {
      try {
        const picture = await solidPicture(work, until, { width, height })
        if (!gone && picture) setUrl(picture)
      } catch (error) {
        console.error(error)
      }
    }, delay)
    return () => {
      gone = true
      clearTimeout(timer)
    }
  }, [work, until, known, width, height, delay])
  return known ?? url
}

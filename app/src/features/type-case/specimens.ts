import type { Drawing } from '@kelvar/core/steps/source/lettering/alternates'
import { useEffect, useState } from 'react'
import { LRUCache } from 'lru-cache'
import { desk } from '@/workers/maker'

/** null where a face cannot be opened; those looked at longest ago go first */
const kept = new LRUCache<string, { readonly drawing: Drawing | null }>({ max: 2000 })
const asked = new Map<string, Promise<Drawing | null>>()

function ask(name: string, sha256: string, words: string): Promise<Drawing | null> {
  let answer = asked.get(name)
  if (!answer) {
    answer = desk
      .ask((maker) => maker.specimen(sha256, words))
      .then((drawing) => {
        kept.set(name, { drawing })
        return drawing
      })
      .finally(() => asked.delete(name))
    asked.set(name, answer)
  }
  return answer
}

/** Words drawn in a face, made once and kept; undefined until then, null when the face cannot be opened. */
export function useSpecimen(sha256: string, words: string): Drawing | null | undefined {
  const name = `${sha256}:${words}`
  const [, refresh] = useState(0)
  useEffect(() => {
    if (kept.has(name)) return
    let gone = false
    // a row that is only scrolled past is not asked for
    const timer = setTimeout(() => {
      ask(name, sha256, words)
        .then(() => !gone && refresh((n) => n + 1))
        .catch((error) => console.error(error))
    }, 60)
    return () => {
      gone = true
      clearTimeout(timer)
    }
  }, [name, sha256, words])
  return kept.get(name)?.drawing
}

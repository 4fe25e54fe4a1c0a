import type { Drawing } from '@kelvar/core/steps/lettering/alternates'
import { useEffect, useState } from 'react'
import { makerForQuestions } from '@/workers/maker'

const MAX_KEPT = 2000
const kept = new Map<string, Drawing | null>()
const asked = new Map<string, Promise<Drawing | null>>()

function ask(name: string, sha256: string, words: string): Promise<Drawing | null> {
  let answer = asked.get(name)
  if (!answer) {
    answer = makerForQuestions()
      .then((maker) => maker.specimen(sha256, words))
      .then((drawing) => {
        if (kept.size >= MAX_KEPT) kept.clear()
        kept.set(name, drawing)
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
  return kept.get(name)
}

import type { Remote } from 'comlink'
import { useEffect, useRef, useState } from 'react'
import { atHand, desk } from '@/workers/maker'
import type { MakerApi } from '@/workers/messages'

/**
 * What the worker answers to a question, asked anew `delay` ms after anything in `about` changed; the last answer stays
 * until then, undefined before the first. `brief` says that the answer takes a moment, whatever the piece is.
 */
export function useMade<T>(question: (maker: Remote<MakerApi>) => Promise<T>, about: readonly unknown[], delay: number, brief = false): T | undefined {
  const [answer, setAnswer] = useState<T>()
  const latest = useRef(question)
  latest.current = question
  useEffect(() => {
    let gone = false
    const timer = setTimeout(
      () => {
        const worker = brief ? atHand() : desk
        worker
          .ask((maker) => latest.current(maker))
          .then((made) => !gone && setAnswer(() => made))
          .catch((error) => console.error(error))
      },
      answer === undefined ? 0 : delay,
    )
    return () => {
      gone = true
      clearTimeout(timer)
    }
    // eslint-disable-next-line react-hooks/exhaustive-deps -- `about` is the list of dependencies
  }, about)
  return answer
}

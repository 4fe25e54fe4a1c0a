import { useFrame } from '@react-three/fiber'
import { useEffect, useRef } from 'react'
import { useWorkbench } from '@/state/context'
import { rateOf } from '@/state/work'

/** Pixels of the picture for one of the page, or the least and the most, by what the screen has. */
export type Ratio = number | [number, number]

export const FINE: Ratio = [0.5, 2]
/** The coarsest that is drawn. */
const COARSEST = 0.5
/** Frames after which it is looked at whether the drawing keeps up. */
const LOOKED_AT = 4

/** While frames pass by faster than they can be drawn, as without a graphics card, they are drawn coarser; what stands is as fine as ever. */
export function PlayPace({ onRatio }: { onRatio: (ratio: Ratio) => void }) {
  const playing = useWorkbench((s) => s.playing)
  const rate = useWorkbench((s) => rateOf(s.document))
  const pace = useRef({ since: 0, drawn: 0, ratio: 1 })
  useEffect(() => {
    if (!playing) return
    pace.current = { since: 0, drawn: 0, ratio: 1 }
    return () => onRatio(FINE)
  }, [playing, onRatio])
  useFrame(() => {
    if (!playing) return
    const now = pace.current
    if (now.drawn === 0) now.since = performance.now()
    if (now.drawn++ < LOOKED_AT) return
    const each = (performance.now() - now.since) / LOOKED_AT
    now.drawn = 0
    if (each < 1500 / rate || now.ratio <= COARSEST) return
    now.ratio = Math.max(COARSEST, now.ratio * 0.7)
    onRatio(now.ratio)
  })
  return null
}

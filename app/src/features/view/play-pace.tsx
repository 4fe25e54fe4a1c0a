import { useFrame, useThree } from '@react-three/fiber'
import { useEffect, useRef } from 'react'
import { useWorkbench } from '@/state/context'
import { rateOf } from '@/state/work'

/** Pixels of the picture for one of the page, or the least and the most, by what the screen has. */
export type Ratio = number | [number, number]

export const FINE: Ratio = [0.5, 2]
/** The coarsest that is drawn. */
const COARSEST = 0.35
/** Frames at which shadows follow where it is coarse. */
export const SHADOWS_LATE = 4
/** Whether it is so coarse that shadows come late. */
export const isCoarse = (ratio: Ratio): boolean => typeof ratio === 'number' && ratio <= 0.5
/** Frames after which it is looked at whether the drawing keeps up. */
const LOOKED_AT = 4

/** While frames pass by faster than they can be drawn, as without a graphics card, they are drawn coarser, their shadows less often; what stands is as fine as ever. */
export function PlayPace({ onRatio }: { onRatio: (ratio: Ratio) => void }) {
  const playing = useWorkbench((s) => s.playing)
  const rate = useWorkbench((s) => rateOf(s.document))
  const gl = useThree((s) => s.gl)
  const invalidate = useThree((s) => s.invalidate)
  const pace = useRef({ since: 0, drawn: 0, ratio: 1, shadows: 0 })
  useEffect(() => {
    if (!playing) return
    pace.current = { since: 0, drawn: 0, ratio: 1, shadows: 0 }
    return () => {
      onRatio(FINE)
      gl.shadowMap.needsUpdate = true
      invalidate()
    }
  }, [playing, onRatio, gl, invalidate])
  useFrame(() => {
    if (!playing) return
    const now = pace.current
    if (isCoarse(now.ratio) && ++now.shadows % SHADOWS_LATE !== 0) gl.shadowMap.needsUpdate = false
    if (now.drawn === 0) now.since = performance.now()
    if (now.drawn++ < LOOKED_AT) return
    const each = (performance.now() - now.since) / LOOKED_AT
    now.drawn = 0
    if (each < 1200 / rate || now.ratio <= COARSEST) return
    now.ratio = Math.max(COARSEST, now.ratio * 0.7)
    onRatio(now.ratio)
  })
  return null
}

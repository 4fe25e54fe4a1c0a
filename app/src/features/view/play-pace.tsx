import { useThree } from '@react-three/fiber'
import { useEffect, useRef } from 'react'
import { useWorkbench } from '@/state/context'
import { rateOf } from '@/state/work'

/** Pixels of the picture for one of the page, or the least and the most, by what the screen has. */
export type Ratio = number | [number, number]

export const FINE: Ratio = [0.5, 2]
/** The coarsest that is drawn. */
const COARSEST = 0.4
/** After so many frames that were shown it is looked at how many passed by meanwhile, for each of them: soon, and then surely. */
const LOOKS = [
  { shown: 4, passed: 1.5 },
  { shown: 12, passed: 1.06 },
]
/** Frames in a second that a screen shows at the most. */
const SCREEN = 59
const UNSEEN = { shown: 0, passed: 0, ratio: 1 }

/** While frames pass by faster than they can be drawn, as without a graphics card, they are drawn coarser; what stands is as fine as ever. Stands last in the view, so that all else is up to date when it draws. */
export function PlayPace({ onRatio }: { onRatio: (ratio: Ratio) => void }) {
  const playing = useWorkbench((s) => s.playing)
  const rate = useWorkbench((s) => rateOf(s.document))
  const frame = useWorkbench((s) => s.frame)
  const pace = useRef({ ...UNSEEN, frame })
  useEffect(() => {
    if (!playing) return
    Object.assign(pace.current, UNSEEN)
    return () => onRatio(FINE)
  }, [playing, onRatio])
  useEffect(() => {
    const now = pace.current
    // from the last to the first it goes on as it should
    now.passed += frame > now.frame ? frame - now.frame : 1
    now.frame = frame
    if (!playing) return
    now.shown++
    const behind = LOOKS.some(({ shown, passed }) => now.shown === shown && now.passed / now.shown > passed * Math.max(1, rate / SCREEN))
    if (behind && now.ratio > COARSEST) {
      now.ratio = Math.max(COARSEST, now.ratio * 0.7)
      onRatio(now.ratio)
    } else if (now.shown < LOOKS[LOOKS.length - 1].shown) return
    now.shown = now.passed = 0
  }, [frame, playing, rate, onRatio])
  const get = useThree((s) => s.get)
  // what is new is drawn at once and not in the browser's next frame, by when the graphics card could be done with it
  useEffect(() => {
    const { internal, advance, gl } = get()
    if (!playing || internal.frames === 0) return
    advance(performance.now())
    gl.getContext().flush()
  })
  return null
}

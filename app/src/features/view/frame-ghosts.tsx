import { useMemo } from 'react'
import { useWorkbench } from '@/state/context'
import { madeFrames } from '@/state/filling'
import { contentAt, framesOf, moves, workOf } from '@/state/work'
import { useThemeColour } from '@/ui/day-and-night'
import { flattened, type ViewMesh } from '@/workers/view-mesh'
import { GhostPiece } from './other-pieces'

/** So many frames are shown on either side of the one in hand. */
const EITHER_SIDE = 3

/** Frames before and after the one in hand that are made already, seen through: what moves leaves its trail. */
export function FrameGhosts() {
  const on = useWorkbench((s) => s.ghosts && s.view === 'Motion' && !s.playing)
  const frame = useWorkbench((s) => s.frame)
  const document = useWorkbench((s) => s.document)
  const pieceId = useWorkbench((s) => s.pieceId)
  const grown = useWorkbench((s) => s.framesMade)
  const colours = [useThemeColour('--action'), useThemeColour('--soft')]
  const shown = useMemo(() => {
    const base = on ? workOf(document, pieceId) : undefined
    if (!base || !moves(base)) return []
    const frames = framesOf(document)
    const apart = Math.max(1, Math.round(frames / 24))
    const seen = new Set([contentAt(base, frame)])
    return Array.from({ length: 2 * EITHER_SIDE + 1 }, (_, i) => i - EITHER_SIDE).flatMap((k): { key: string; later: boolean; mesh: ViewMesh }[] => {
      const at = frame + k * apart
      if (k === 0 || at < 0 || at >= frames) return []
      const key = contentAt(base, at)
      const mesh = madeFrames.peek(key)?.mesh
      if (!mesh || seen.has(key)) return []
      seen.add(key)
      return [{ key, later: k > 0, mesh: flattened(mesh) }]
    })
    // eslint-disable-next-line react-hooks/exhaustive-deps -- more frames are there
  }, [on, frame, document, pieceId, grown])
  return shown.map(({ key, later, mesh }) => <GhostPiece key={key} mesh={mesh} colour={colours[later ? 0 : 1]} opacity={0.2} behind />)
}

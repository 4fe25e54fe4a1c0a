import { cameraAt, type CameraStand } from '@kelvar/core/document/camera'
import { useMemo, useRef } from 'react'
import { usePiecesNow, useWorkbench } from '@/state/context'
import { madeFrames } from '@/state/filling'
import { contentAt, framesOf, moves, workOf } from '@/state/work'
import { type Box, boxAbout } from './scene'
import { standBeside } from './standing'

/** What the stage is set up for: the box that is shown, in Motion that about all frames that are made, so that the ground does not move with the piece. */
export function useMotionBox(box: Box | undefined): Box | undefined {
  const on = useWorkbench((s) => s.view === 'Motion' && !s.together)
  const document = useWorkbench((s) => s.document)
  const pieceId = useWorkbench((s) => s.pieceId)
  const grown = useWorkbench((s) => s.framesMade)
  const all = useMemo(() => {
    const base = on ? workOf(document, pieceId) : undefined
    if (!base || !moves(base)) return undefined
    const contents = new Set(Array.from({ length: framesOf(document) }, (_, frame) => contentAt(base, frame)))
    const boxes = [...contents].flatMap((content) => madeFrames.peek(content)?.mesh?.box ?? [])
    return boxAbout(
      Array.from({ length: boxes.length / 6 }, (_, i) => ({ box: boxes.slice(6 * i, 6 * i + 6) as unknown as Box })).filter(({ box: b }) => b[0] <= b[3]),
    )
    // eslint-disable-next-line react-hooks/exhaustive-deps -- more frames are there
  }, [on, document, pieceId, grown])
  const about = useMemo(() => (box && all ? boxAbout([{ box }, { box: all }]) : box), [box, all])
  // the very same while its numbers are: another box has the stage set up anew
  const last = useRef(about)
  if (about?.some((v, i) => v !== last.current?.[i]) || !about) last.current = about
  return last.current
}

/** How the project's camera stands at the frame that is shown, where the view is what it sees. */
export function useLed(): CameraStand | undefined {
  const on = useWorkbench((s) => s.view === 'Motion' && s.through)
  const camera = useWorkbench((s) => s.document.camera)
  const frame = useWorkbench((s) => (s.through && s.document.camera ? s.frame : 0))
  const together = useWorkbench((s) => s.together)
  const pieceId = useWorkbench((s) => s.pieceId)
  const place = usePiecesNow().find(({ id }) => id === pieceId)?.place
  return useMemo(() => {
    const stand = on ? cameraAt({ camera }, frame) : undefined
    return stand && !together ? standBeside(stand, place) : stand
  }, [on, camera, frame, together, place])
}

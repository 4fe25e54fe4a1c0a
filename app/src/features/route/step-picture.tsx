'use client'
import { useEffect, useState } from 'react'
import styled from 'styled-components'
import { useWorkbenchStore } from '@/features/workbench/context'
import { currentPiece } from '@/features/workbench/store'
import { makerForQuestions } from '@/workers/maker'
import type { StepNews } from '@/workers/messages'

const Box = styled.span`
  display: grid;
  place-items: center;
  width: 64px;
  height: 42px;
  border: 1px solid var(--rule);
  border-radius: 3px;
  background: linear-gradient(#f8f5ee, #ece5d8);
  overflow: hidden;
  svg, img { width: 100%; height: 100%; display: block; }
  svg { padding: 5px 6px; fill: var(--ink); }
`

const pictures = new Map<string, string>()
const MAX_PICTURES = 300

/** A picture of the piece as of a step, drawn when things have been quiet for a moment. */
export function StepPicture({ step }: { step: StepNews | undefined }) {
  const store = useWorkbenchStore()
  const [url, setUrl] = useState<string | undefined>(step?.key ? pictures.get(step.key) : undefined)
  const key = step?.gives === 'solid' ? step.key : undefined
  const id = step?.id
  useEffect(() => {
    if (!key || !id) return
    const known = pictures.get(key)
    if (known) {
      setUrl(known)
      return
    }
    let gone = false
    const timer = setTimeout(async () => {
      const piece = currentPiece(store.getState())
      if (!piece) return
      const { studioReady, takePicture } = await import('@/features/view/pictures')
      await studioReady()
      const maker = await makerForQuestions()
      const mesh = await maker.picture(piece.route, id)
      if (gone || !mesh) return
      const drawn = await takePicture(mesh, 128, 84)
      if (pictures.size > MAX_PICTURES) pictures.clear()
      pictures.set(key, drawn)
      if (!gone) setUrl(drawn)
    }, 500)
    return () => {
      gone = true
      clearTimeout(timer)
    }
  }, [key, id, store])
  return (
    <Box aria-hidden>
      {step?.drawing ? (
        <svg viewBox={step.drawing.box.join(' ')}>
          <path d={step.drawing.path} />
        </svg>
      ) : url && key ? (
        <img src={url} alt="" />
      ) : null}
    </Box>
  )
}

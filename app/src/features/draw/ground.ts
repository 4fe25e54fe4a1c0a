import { useEffect, useState } from 'react'
import { useWorkbench } from '@/state/context'
import { viewMaker } from '@/workers/maker'
import type { BoardGround } from '@/workers/messages'
import { currentWork } from '@/state/work'

/** The outline that comes before a step, as the worker makes it; the last one until a new one is there. */
export function useGround(stepId: string): BoardGround | undefined {
  const work = useWorkbench(currentWork)
  const [ground, setGround] = useState<{ step: string; ground: BoardGround | null }>()
  useEffect(() => {
    let gone = false
    if (!work) return
    viewMaker
      .ask((maker) => maker.board(work, stepId))
      .then((next) => {
        if (!gone) setGround((last) => (last?.step === stepId && last.ground?.key === next?.key ? last : { step: stepId, ground: next }))
      })
      .catch(console.error)
    return () => {
      gone = true
    }
  }, [work, stepId])
  return ground?.step === stepId ? (ground.ground ?? undefined) : undefined
}

'use client'
import { useEffect, useState } from 'react'
import styled from 'styled-components'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { currentWork } from '@/state/work'
import { PlainButton } from '@/ui/buttons'
import { desk } from '@/workers/maker'
import { SUPERSEDED } from '@/workers/supervisor'
import type { MaskMesh } from '@/workers/messages'
import { MASK_COLOURS } from './scene'

/** The piece with the mask that is shown, once it is there; null where there is none to be seen. */
export function useMaskShown(): MaskMesh | null | undefined {
  const work = useWorkbench(currentWork)
  const step = useWorkbench((s) => s.maskShown)
  const [mesh, setMesh] = useState<MaskMesh | null>()
  useEffect(() => {
    if (!step || !work) return setMesh(undefined)
    const leaving = new AbortController()
    const { signal } = leaving
    desk
      .ask((maker, job) => maker.maskMesh(job, work, step), signal)
      .then((found) => !signal.aborted && setMesh(found))
      .catch((error) => {
        if (signal.aborted) return
        console.error(error)
        setMesh(null)
      })
    return () => leaving.abort(SUPERSEDED)
  }, [work, step])
  return step ? mesh : undefined
}

const Legend = styled.div`
  position: absolute;
  left: 16px;
  top: 14px;
  z-index: 8;
  display: grid;
  gap: 4px;
  width: 210px;
  padding: 9px 12px 10px;
  background: color-mix(in srgb, var(--paper) 92%, transparent);
  border: 1px solid var(--rule);
  border-radius: 4px;
  font-size: 12.5px;
  b { font-weight: 600; }
  .ramp { height: 10px; border-radius: 2px; background: linear-gradient(to right, ${MASK_COLOURS.join(', ')}); border: 1px solid var(--rule); }
  .ends { display: flex; justify-content: space-between; color: var(--soft); font-variant-numeric: tabular-nums; }
  p { margin: 0; color: var(--soft); }
`

/** What the shades of a shown mask mean, and its value under the pointer. */
export function MaskLegend({ title, value, missing, atRest }: { title: string; value: number | undefined; missing: boolean; atRest: boolean }) {
  const store = useWorkbenchStore()
  return (
    <Legend role="group" aria-label="Legend of the mask">
      <b>Mask of {title}</b>
      {missing ? (
        <p>There is nothing to show: the mask has no entries, or there is no solid before this step.</p>
      ) : (
        <>
          <div className="ramp" aria-hidden />
          <div className="ends">
            <span>0 %</span>
            <span>{value === undefined ? 'point at a place' : `${Math.round(100 * value)} % here`}</span>
            <span>100 %</span>
          </div>
          <p>{atRest ? 'Shown on the shape at rest, on which it is measured once.' : 'Shown on the shape before this step, on which it is measured.'}</p>
        </>
      )}
      <PlainButton onPress={() => store.getState().showMask(undefined)}>Back to the piece</PlainButton>
    </Legend>
  )
}

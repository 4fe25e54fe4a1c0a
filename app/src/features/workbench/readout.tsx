'use client'
import { ToggleButton } from 'react-aria-components'
import styled from 'styled-components'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { isThere } from '@/workers/view-mesh'

const Bar = styled.footer`
  display: flex;
  align-items: center;
  gap: 26px;
  height: 40px;
  flex: none;
  padding: 0 20px;
  background: var(--paper);
  border-top: 1px solid var(--rule);
  color: var(--soft);
  font-size: 12.5px;
  white-space: nowrap;
  overflow: hidden;
  b { color: var(--ink); font-weight: 600; }
  .sound b { color: var(--action); }
  .unsound b { color: var(--failure); }
  .wall { border: 0; background: none; padding: 2px 0; font: inherit; color: inherit; cursor: pointer; border-bottom: 1px dotted var(--soft); }
  .wall[data-hovered] { color: var(--ink); }
  .wall[data-selected] { border-bottom: 2px solid var(--action); color: var(--ink); }
  container-type: inline-size;
  > :last-child { margin-left: auto; }
  @container (max-width: 620px) {
    > :last-child { display: none; }
    .plain { display: none; }
  }
`

const whole = new Intl.NumberFormat('en-GB', { maximumFractionDigits: 0 })

/** Milliseconds as one reads them, of what is long as seconds. */
const inTime = (ms: number): string => (ms < 1 ? '<1 ms' : ms < 999.5 ? `${Math.round(ms)} ms` : `${(ms / 1000).toFixed(1)} s`)

/** Size, triangles, volume and soundness of what is shown, and how long it took. */
export function Readout() {
  const news = useWorkbench((s) => s.news)
  // the last good solid counts only while it is this piece's
  const mesh = useWorkbench((s) => (s.meshPiece === s.pieceId || s.making ? s.mesh : undefined))
  const meshKey = useWorkbench((s) => s.meshKey)
  const making = useWorkbench((s) => s.making)
  const report = useWorkbench((s) => s.report)
  const fault = useWorkbench((s) => s.fault)
  const store = useWorkbenchStore()
  const thinnest = useWorkbench((s) => (s.thinnest && s.thinnest.key === s.meshKey ? s.thinnest : undefined))
  const shows = useWorkbench((s) => s.showsThinnest)
  const check = report && report.key === news?.key ? report.check : undefined
  const triangles = news?.steps.findLast((s) => s.triangles !== undefined)?.triangles
  const current = mesh && news?.complete && news.key === meshKey
  // a verdict stands only for what is shown: not while something newer is being made
  const verdict = current && !making ? check : undefined
  // a time that has not come is no fault
  const nothingYet = current && triangles === 0 && news.steps.some(({ issues }) => issues.some(({ code }) => code === 'nothing-yet'))
  return (
    <Bar aria-label="Readout">
      {mesh && isThere(mesh) && (
        <span>
          <b>{[0, 1, 2].map((k) => (mesh.box[k + 3] - mesh.box[k]).toFixed(1)).join(' × ')}</b> mm
        </span>
      )}
      {current && triangles !== undefined && !nothingYet && (
        <span>
          <b>{whole.format(triangles)}</b> triangles
        </span>
      )}
      {current && check && !nothingYet && (
        <span>
          <b>{(check.volume / 1000).toFixed(1)}</b> cm³
        </span>
      )}
      {verdict && thinnest && !nothingYet && (
        <span className="plain">
          <ToggleButton className="wall" isSelected={shows} onChange={(on) => store.getState().showThinnest(on)}>
            <b>{thinnest.thickness < 0.1 ? '<0.1' : thinnest.thickness.toFixed(1)}</b> mm thinnest
          </ToggleButton>
        </span>
      )}
      <span role="status" className={fault ? 'unsound' : verdict ? (verdict.sound ? 'sound' : 'unsound') : ''}>
        {fault ? (
          <b>{fault}</b>
        ) : news && !news.complete && mesh ? (
          <>
            <b>Last good solid.</b> A step failed: see the route
          </>
        ) : making ? (
          'making…'
        ) : nothingYet ? (
          'Nothing is there yet at this frame'
        ) : verdict ? (
          verdict.sound ? (
            <>
              <b>Sound</b> <span className="plain">closed, no crossings</span>
            </>
          ) : (
            <>
              <b>Not sound</b> {verdict.findings.map((f) => f.message).join(' ')}
            </>
          )
        ) : current ? (
          'checking…'
        ) : (
          ''
        )}
      </span>
      <span>
        {news && !making && (
          <>
            made in <b>{inTime(news.ms)}</b>
          </>
        )}
      </span>
    </Bar>
  )
}

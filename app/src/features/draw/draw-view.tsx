'use client'
import type { RouteStep } from '@kelvar/core/document/schema'
import { stepKind } from '@kelvar/core/steps/registry'
import { Brush, PenLine, Scissors, Spline, SquarePen } from 'lucide-react'
import type { ComponentType } from 'react'
import { Button } from 'react-aria-components'
import styled from 'styled-components'
import { useWorkbench, useWorkbenchStore } from '@/features/workbench/context'
import { currentPiece, insertStep } from '@/features/workbench/store'
import { Board } from './board'
import { DrawingMode } from './drawing-mode'
import { ExtendMode } from './extend-mode'
import { boxOf, Ghost } from './ghost'
import { RedrawMode } from './redraw-mode'
import { SliceMode } from './slice-mode'
import { SmoothMode } from './smooth-mode'
import { BoardHead } from './toolbar'
import { WarpMode } from './warp-mode'

/** The steps that are edited on the board. */
const MODES: Readonly<Record<string, ComponentType<{ step: RouteStep }>>> = {
  drawing: DrawingMode,
  redraw: RedrawMode,
  extend: ExtendMode,
  smooth: SmoothMode,
  slice: SliceMode,
  warp: WarpMode,
}

export const isDrawnOn = (step: RouteStep): boolean => {
  if (step.kind === 'warp') return step.params.shape === 'corners' || step.params.shape === 'envelope'
  return step.kind in MODES
}

/** The drawing board, in the hands of the step that is open. */
export function DrawView() {
  const openStep = useWorkbench((s) => s.openStep)
  const route = useWorkbench((s) => currentPiece(s)?.route)
  const step = route?.find((s) => s.id === openStep)
  const Mode = step && isDrawnOn(step) ? MODES[step.kind] : undefined
  return step && Mode ? <Mode key={step.id} step={step} /> : <LookOnly />
}

const Offers = styled.div`
  position: absolute;
  left: 50%;
  bottom: 26px;
  transform: translateX(-50%);
  display: grid;
  grid-template-columns: repeat(5, auto);
  gap: 1px;
  border: 1px solid var(--rule);
  border-radius: 6px;
  overflow: hidden;
  background: var(--rule);
  box-shadow: 0 10px 30px rgb(var(--shadow) / 0.1);
  h3 { grid-column: 1 / -1; margin: 0; padding: 9px 14px 8px; background: var(--paper); font: 600 14px/1.3 var(--display); }
  button {
    display: grid;
    gap: 3px;
    justify-items: start;
    width: 136px;
    align-content: start;
    border: 0;
    background: var(--paper);
    padding: 10px 14px 12px;
    text-align: left;
    cursor: pointer;
    svg { color: var(--action); }
    b { font-weight: 600; }
    small { color: var(--soft); font-size: 12px; line-height: 1.3; }
    &[data-hovered] { background: var(--tint); }
    &[data-focus-visible] { outline: 2px solid var(--action); outline-offset: -2px; }
  }
`

const OFFERS = [
  { kind: 'redraw', title: 'Redraw', words: 'Change a letter’s outline by hand', icon: SquarePen, params: {} },
  { kind: 'extend', title: 'Extend', words: 'Draw a limb from letter to letter', icon: PenLine, params: {} },
  { kind: 'smooth', title: 'Smooth', words: 'Brush over what is too rough', icon: Brush, params: { where: 'brushed' } },
  { kind: 'slice', title: 'Slice', words: 'Cut along lines that you draw', icon: Scissors, params: { cut: 'drawn' } },
  { kind: 'warp', title: 'Warp', words: 'Stand it between two drawn lines', icon: Spline, params: { shape: 'envelope' } },
] as const

/** The piece's outline, and what can be drawn on it. */
function LookOnly() {
  const store = useWorkbenchStore()
  const piece = useWorkbench(currentPiece)
  const news = useWorkbench((s) => s.news)
  const steps = (piece?.route ?? []).map((step) => ({ step, news: news?.steps.find((n) => n.id === step.id) }))
  const last = steps.findLast((s) => s.step.on && s.news?.drawing)
  const drawing = last?.news?.drawing
  const at = last ? steps.indexOf(last) + 1 : 0
  return (
    <Board
      content={boxOf(drawing)}
      contentKey={`look/${piece?.id}`}
      typeLines={[]}
      tool={{}}
      told={drawing ? 'Choose what to do with the outline' : 'This piece has no outline to draw on'}
      head={<BoardHead tools={[]} options={<p>The outline as it goes into the form. Open a step that is drawn to go on with it.</p>} />}
      under={<Ghost drawing={drawing} as="solid" />}
      aside={
        drawing && (
          <Offers role="group" aria-label="What to draw">
            <h3>What would you like to do to it?</h3>
            {OFFERS.map(({ kind, title, words, icon: Icon, params }) => (
              <Button key={kind} onPress={() => insertStep(store, at, kind, stepKind(kind)?.title ?? title, { ...params })}>
                <Icon size={17} aria-hidden />
                <b>{title}</b>
                <small>{words}</small>
              </Button>
            ))}
          </Offers>
        )
      }
    />
  )
}

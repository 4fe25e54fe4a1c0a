'use client'
import { stepKind } from '@kelvar/core/steps/registry'
import { Button } from 'react-aria-components'
import styled from 'styled-components'
import { Board } from '@/features/draw/board'
import { boxOf, Ghost } from '@/features/draw/ghost'
import { BoardHead } from '@/features/draw/toolbar'
import { ON_SCREEN } from '@/features/route/registry'
import { insertStep } from '@/state/actions/steps'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { currentPiece } from '@/state/work'

/** The drawing board, in the hands of the step that is open. */
export function DrawView() {
  const openStep = useWorkbench((s) => s.openStep)
  const route = useWorkbench((s) => currentPiece(s)?.route)
  const step = route?.find((s) => s.id === openStep)
  const board = step && ON_SCREEN[step.kind]?.board
  return step && board && (board.when?.(step) ?? true) ? <board.Mode key={step.id} step={step} /> : <LookOnly />
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

const OFFERS = Object.entries(ON_SCREEN).flatMap(([kind, { board }]) => (board?.offer ? [{ kind, title: stepKind(kind)?.title ?? kind, ...board.offer }] : []))

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
              <Button key={kind} onPress={() => insertStep(store, at, kind, title, { ...params })}>
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

'use client'
import type { RouteStep } from '@kelvar/core/document/schema'
import { stepKind } from '@kelvar/core/steps/registry'
import { SHIPPED_FACES } from '@kelvar/core/fonts'
import type { Fix as StepFix, StepKind } from '@kelvar/core/steps/step'
import { Ellipsis, Plus } from 'lucide-react'
import { Fragment, useState } from 'react'
import { Button, Menu, MenuItem, MenuTrigger } from 'react-aria-components'
import styled from 'styled-components'
import { useFrameAtRest, useWorkbench, useWorkbenchStore } from '@/state/context'
import { type WorkbenchStore } from '@/state/store'
import { useShortcuts } from '@/ui/shortcuts'
import { PlainButton, SmallButton } from '@/ui/buttons'
import { CheckMark, PopoverPaper } from '@/ui/controls'
import { useIsLong } from '@/ui/long-work'
import type { StepNews } from '@/workers/messages'
import { Finder } from './finder'
import { StepForm } from './step-form'
import { StepPicture } from './step-picture'
import { changeStep, placeOf, insertStep, replaceStep, setParams } from '@/state/actions/steps'
import { currentPiece } from '@/state/work'
import { setFace } from '@/state/actions/files'
import { paramsAtFrame } from '@/state/actions/tracks'

const Rows = styled.ol`
  list-style: none;
  margin: 0;
  padding: 0;
  flex: 1;
  overflow-y: auto;
  scrollbar-width: thin;
  padding-bottom: 28px;
`
const Row = styled.li`
  position: relative;
  border-bottom: 1px solid var(--rule);
  &[data-open] { background: var(--tint); box-shadow: inset 4px 0 0 var(--action); }
  &[data-off] .words { opacity: 0.5; }
`
const Head = styled.div`
  display: grid;
  grid-template-columns: 1fr auto auto;
  align-items: start;
  gap: 6px;
  padding: 11px 8px 10px 16px;
`
const Opener = styled(Button)`
  display: grid;
  grid-template-columns: 16px 1fr;
  gap: 0 6px;
  border: 0;
  background: none;
  text-align: left;
  padding: 0;
  cursor: pointer;
  border-radius: 2px;
  .number { color: var(--soft); font-size: 12px; padding-top: 2px; }
  .title { font: 600 15px/1.3 var(--display); }
  .describe { grid-column: 2; color: var(--soft); font-size: 12.5px; line-height: 1.35; }
`
const Picture = styled.div`
  position: relative;
  padding-right: 2px;
`
const State = styled.span`
  position: absolute;
  right: -4px;
  bottom: -5px;
  width: 16px;
  height: 16px;
  border-radius: 50%;
  display: grid;
  place-items: center;
  background: var(--action);
  color: var(--paper);
  font: 700 11px/1 var(--text);
  border: 1.5px solid var(--paper);
  &[data-state='warning'] { background: var(--caution); }
  &[data-state='failed'] { background: var(--failure); }
  &[data-state='running'], &[data-state='waiting'], &[data-state='off'] { background: var(--soft); }
`
const Issue = styled.div`
  margin: 0 16px 12px 38px;
  padding: 8px 10px;
  border-left: 3px solid var(--caution);
  background: color-mix(in srgb, var(--caution) 9%, var(--paper));
  font-size: 12.5px;
  b { display: block; font-weight: 600; }
  &[data-severity='note'] { border-color: var(--rule); background: transparent; }
  &[data-severity='failed'] { border-color: var(--failure); background: color-mix(in srgb, var(--failure) 8%, var(--paper)); }
`
const Fix = styled(SmallButton)`
  display: block;
  margin-top: 6px;
`
const Insert = styled.li`
  position: relative;
  height: 0;
  z-index: 2;
  button {
    position: absolute;
    left: 50%;
    top: -11px;
    transform: translateX(-50%);
    white-space: nowrap;
    border: 1px solid var(--rule);
    border-radius: 11px;
    background: var(--paper);
    color: var(--action);
    font-size: 11.5px;
    line-height: 1;
    padding: 4px 10px;
    display: inline-flex;
    gap: 4px;
    align-items: center;
    cursor: pointer;
    opacity: 0;
    transition: opacity 0.1s;
  }
  button:focus-visible, &:hover button, &[data-shown] button { opacity: 1; }
  &[data-shown] button { top: 8px; }
  &::before { content: ''; position: absolute; left: 0; right: 0; top: -8px; height: 16px; }
`
const MenuList = styled(Menu)`
  outline: none;
  padding: 4px;
  min-width: 168px;
`
const MenuRow = styled(MenuItem)`
  padding: 6px 10px;
  border-radius: 3px;
  outline: none;
  cursor: pointer;
  &[data-focused] { background: var(--tint); }
  &[data-disabled] { opacity: 0.4; }
`

const stateWords = {
  sound: 'sound',
  warning: 'with a warning',
  failed: 'failed',
  off: 'switched off',
  waiting: 'waits for the step before',
  running: 'running',
} as const

function StepRow({
  step,
  index,
  count,
  news,
  onSwap,
}: {
  step: RouteStep
  index: number
  count: number
  news: StepNews | undefined
  /** another kind of step is wanted in its place */
  onSwap: () => void
}) {
  const store = useWorkbenchStore()
  const open = useWorkbench((s) => s.openStep === step.id)
  const pointing = useWorkbench((s) => (s.openStep === step.id ? s.pointing : undefined))
  const until = useWorkbench((s) => s.until === step.id)
  const running = useWorkbench((s) => (s.making && s.progress?.step === step.id ? s.progress.done : undefined))
  const kind = stepKind(step.kind)
  const title = kind?.title ?? step.kind
  const atRest = useFrameAtRest()
  const frame = step.tracks ? atRest : 0
  const described = kind ? kind.describe(paramsAtFrame(kind, step, frame) as never) : 'unknown to this version'
  const state = running !== undefined ? 'running' : step.on ? (news?.state ?? 'waiting') : 'off'
  return (
    <Row data-open={open ? '' : undefined} data-off={step.on ? undefined : ''} data-step={step.kind} data-state={state}>
      <Head>
        <Opener className="words" aria-expanded={open} onPress={() => store.getState().unfold(open ? undefined : step.id)}>
          <span className="number">{index + 1}</span>
          <span className="title">{title}</span>
          <span className="describe">
            {described}
            {news?.told && step.on ? ` · ${news.told}` : ''}
            {running !== undefined ? ` · ${Math.round(running * 100)} %` : ''}
          </span>
        </Opener>
        <Picture>
          <StepPicture step={news} />
          <State data-state={state} role="img" aria-label={`${title}: ${stateWords[state]}`}>
            {state === 'sound' ? <CheckMark /> : state === 'warning' || state === 'failed' ? '!' : state === 'off' ? '–' : '·'}
          </State>
        </Picture>
        <MenuTrigger>
          <PlainButton aria-label={`${title}: more`} style={{ padding: '4px 3px' }}>
            <Ellipsis size={16} />
          </PlainButton>
          <PopoverPaper placement="bottom end">
            <MenuList
              disabledKeys={[...(index === 0 ? ['up'] : []), ...(index === count - 1 ? ['down'] : [])]}
              onAction={(key) => {
                if (key === 'swap') onSwap()
                else if (key === 'look') store.getState().lookUntil(until ? undefined : step.id)
                else changeStep(store, step.id, key as 'switch' | 'up' | 'down' | 'copy' | 'remove', title)
              }}
            >
              <MenuRow id="look">{until ? 'Show the whole route' : 'Show the piece as of here'}</MenuRow>
              <MenuRow id="switch">{step.on ? 'Switch off' : 'Switch on'}</MenuRow>
              <MenuRow id="up">Move up</MenuRow>
              <MenuRow id="down">Move down</MenuRow>
              <MenuRow id="swap">Change into another step…</MenuRow>
              <MenuRow id="copy">Copy</MenuRow>
              <MenuRow id="remove">Remove</MenuRow>
            </MenuList>
          </PopoverPaper>
        </MenuTrigger>
      </Head>
      <OutOfDate step={step} kind={kind} />
      {news?.issues
        // an open step names missing characters beside the words themselves
        .filter((issue) => !(open && issue.code === 'missing-characters'))
        .map((issue, i) => (
          // a step may say the same kind of thing twice
          <Issue key={`${issue.code} ${i}`} data-severity={issue.severity} role={issue.severity === 'failed' ? 'alert' : 'note'}>
            <b>{issue.message}</b>
            {issue.remedy}
            {open && (issue.places?.length ?? 0) > 0 && news.issues.filter(({ places }) => (places?.length ?? 0) > 0).length > 1 && (
              <Fix onPress={() => store.getState().point(pointing === issue.code ? undefined : issue.code)}>
                {pointing === issue.code ? 'Show all places' : `Show ${issue.places?.length === 1 ? 'this place' : 'these places'} only`}
              </Fix>
            )}
            {issue.fixes?.map((fix) => (
              <Fix key={fix.label} onPress={() => applyFix(store, step.id, fix)}>
                {fix.label}
              </Fix>
            ))}
          </Issue>
        ))}
      {open && kind && <StepForm step={step} kind={kind} focusText={index === 0} />}
    </Row>
  )
}

/** Says that what is shown was made before, while a step is recorded anew or when its making was stopped. */
function OutOfDate({ step, kind }: { step: RouteStep; kind: StepKind | undefined }) {
  const store = useWorkbenchStore()
  const stopped = useWorkbench((s) => s.stopped && s.stoppedAt === step.id && s.mesh !== undefined)
  const recorded = kind?.family === 'Physics'
  const recording = useWorkbench(
    (s) => recorded && s.making && s.progress?.step === step.id && s.news?.steps.some(({ id, state }) => id === step.id && state !== 'failed') === true,
  )
  const long = useIsLong(recording)
  if (!stopped && !long) return null
  return (
    <Issue data-severity={stopped ? 'warning' : 'note'} role="note">
      <b>Out of date: what you see {recorded ? 'is the earlier recording' : 'was made before'}.</b>
      {!stopped ? 'It is being recorded anew.' : recorded ? 'It was stopped, and goes on from there.' : 'Its making was stopped.'}
      {stopped && <Fix onPress={() => store.getState().goOn()}>{recorded ? 'Record on' : 'Bring it up to date'}</Fix>}
    </Issue>
  )
}

/** Does what a remedy proposes; a face it names is carried by the project from then on. */
function applyFix(store: WorkbenchStore, stepId: string, fix: StepFix): void {
  const font = fix.params.font as { sha256: string } | undefined
  const face = font && SHIPPED_FACES.find((f) => f.sha256 === font.sha256)
  if (face) setFace(store, placeOf(store, stepId), face)
  else setParams(store, stepId, fix.params, fix.label)
}

/** The route of the piece in hand as a numbered docket. */
export function Docket() {
  const store = useWorkbenchStore()
  const piece = useWorkbench(currentPiece)
  const news = useWorkbench((s) => s.news)
  const [insertAt, setInsertAt] = useState<number>()
  const [swap, setSwap] = useState<number>()
  const route = piece?.route ?? []
  const place = () => route.findIndex((s) => s.id === store.getState().openStep)
  const open = (at: number) => route[at] && store.getState().unfold(route[at].id)
  useShortcuts({
    insert: () => setInsertAt(place() < 0 ? route.length : place() + 1),
    previous: () => open(place() < 0 ? route.length - 1 : place() - 1),
    next: () => open(place() + 1),
  })
  if (!piece) return null
  return (
    <>
      <Rows aria-label={`Route of ${piece.name}`} key={piece.id}>
        {route.map((step, i) => (
          <Fragment key={step.id}>
            <StepRow step={step} index={i} count={route.length} news={news?.steps.find((s) => s.id === step.id)} onSwap={() => setSwap(i)} />
            <Insert data-shown={i === route.length - 1 ? '' : undefined}>
              <Button aria-label={`Insert a step after ${i + 1}`} onPress={() => setInsertAt(i + 1)}>
                <Plus size={11} /> insert a step
              </Button>
            </Insert>
          </Fragment>
        ))}
        {route.length === 0 && (
          <li style={{ padding: 20 }}>
            <PlainButton onPress={() => setInsertAt(0)}>
              <Plus size={14} /> Begin with a source
            </PlainButton>
          </li>
        )}
      </Rows>
      <Finder
        open={insertAt !== undefined}
        route={route}
        at={insertAt ?? route.length}
        onClose={() => setInsertAt(undefined)}
        onChoose={(kind, at) => {
          insertStep(store, at, kind.kind, kind.title)
          setInsertAt(undefined)
        }}
      />
      <Finder
        title={`Change ${swap === undefined ? 'the step' : (stepKind(route[swap]?.kind ?? '')?.title ?? 'the step')} into`}
        open={swap !== undefined}
        route={route}
        at={swap ?? 0}
        swaps
        onClose={() => setSwap(undefined)}
        onChoose={(kind) => {
          if (swap !== undefined && route[swap]) replaceStep(store, route[swap].id, kind)
          setSwap(undefined)
        }}
      />
    </>
  )
}

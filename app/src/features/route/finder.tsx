'use client'
import type { RouteStep } from '@kelvar/core/document/schema'
import { misfit, placeFor, valuesAlong } from '@kelvar/core/steps/fitting'
import { STEPS, stepKind } from '@kelvar/core/steps/registry'
import { FAMILIES, type Family, type StepKind } from '@kelvar/core/steps/step'
import { Search } from 'lucide-react'
import { useMemo, useState } from 'react'
import {
  Dialog,
  Header,
  Input,
  ListBox,
  ListBoxItem,
  ListBoxSection,
  Modal,
  ModalOverlay,
  SearchField,
  ToggleButton,
  ToggleButtonGroup,
} from 'react-aria-components'
import styled from 'styled-components'

const Overlay = styled(ModalOverlay)`
  position: fixed;
  inset: 0;
  background: rgb(var(--shadow) / 0.28);
  z-index: 50;
`
const Sheet = styled(Modal)`
  position: absolute;
  left: 360px;
  top: 72px;
  width: 750px;
  max-width: calc(100vw - 380px);
  background: var(--paper);
  border-radius: 5px;
  box-shadow: 0 24px 60px rgb(var(--shadow) / 0.3);
  @media (max-width: 820px) { left: 12px; max-width: calc(100vw - 24px); }
`
const Body = styled(Dialog)`
  outline: none;
  h2 { font-size: 16px; padding: 14px 18px 0; }
  .search { display: flex; align-items: center; gap: 8px; margin: 10px 18px; border-bottom: 1px solid var(--ink); }
  .search input { flex: 1; border: 0; background: none; padding: 6px 0; outline: none; }
  .none { padding: 8px 18px 18px; color: var(--soft); }
`
const Steps = styled(ListBox)`
  padding: 0 10px 12px;
  outline: none;
  max-height: calc(100dvh - 72px - 190px);
  overflow-y: auto;
  scrollbar-width: thin;
`
const Group = styled(ListBoxSection)`
  & + & { margin-top: 8px; border-top: 1px solid var(--rule); }
`
const Heading = styled(Header)`
  padding: 10px 8px 4px;
  font-size: 12px;
  color: var(--soft);
`
const Step = styled(ListBoxItem)`
  display: grid;
  grid-template-columns: 84px minmax(0, 1fr) auto;
  grid-template-rows: auto 1fr;
  gap: 0 12px;
  padding: 7px 8px;
  border-radius: 3px;
  outline: none;
  cursor: pointer;
  .picture { grid-row: 1 / 3; width: 84px; height: 54px; border: 1px solid var(--rule); border-radius: 3px; background: linear-gradient(var(--stage-near), var(--stage)); overflow: hidden; }
  .picture img { width: 100%; height: 100%; object-fit: cover; display: block; }
  b { font: 600 14px/1.35 var(--display); align-self: end; }
  .family { color: var(--soft); font-size: 12px; align-self: end; }
  small { grid-column: 2 / -1; color: var(--soft); line-height: 1.35; }
  &[data-focused] { background: var(--tint); }
  &[data-disabled] { cursor: default; }
  &[data-disabled] b { color: var(--soft); font-weight: 500; }
  &[data-disabled] small { color: var(--caution); }
  &.quiet { grid-template-rows: auto; padding: 4px 8px; }
  &.quiet .picture { grid-row: auto; width: 42px; height: 27px; justify-self: end; }
  &.quiet b { font: 500 13px/1.3 var(--text); align-self: center; }
  &.quiet small { grid-column: 3; align-self: center; }
`

const Stages = styled(ToggleButtonGroup)`
  display: flex;
  flex-wrap: wrap;
  gap: 2px;
  margin: 0 14px 8px;
  button { border: 0; background: none; padding: 4px 9px; border-radius: 11px; font-size: 12.5px; color: var(--soft); cursor: pointer; }
  button[data-hovered] { color: var(--ink); }
  button[data-selected] { background: var(--ink); color: var(--paper); font-weight: 600; }
`

/** The stages of the work that have steps, in their order. */
const STAGES = FAMILIES.filter((family) => STEPS.some((step) => step.family === family))
const STAGE_NAMES: Partial<Record<Family, string>> = { Source: 'Begin with', Outline: 'Shape the outline', Form: 'Form it' }

interface Found {
  readonly kind: StepKind
  /** where it goes in */
  readonly at: number
  /** why it fits nowhere */
  readonly why?: string
}

/** The steps that fit at a place, those that fit elsewhere on the route, and those that fit nowhere on it. */
export function sortedSteps(route: readonly RouteStep[], at: number, elsewhereToo: boolean): { here: Found[]; elsewhere: Found[]; nowhere: Found[] } {
  const before = valuesAlong(route)[at]
  const sorted: ReturnType<typeof sortedSteps> = { here: [], elsewhere: [], nowhere: [] }
  for (const kind of STEPS) {
    const why = misfit(kind, before)
    const place = why && elsewhereToo ? placeFor(kind, route, at) : undefined
    if (!why) sorted.here.push({ kind, at })
    else if (place !== undefined) sorted.elsewhere.push({ kind, at: place })
    else sorted.nowhere.push({ kind, at, why })
  }
  for (const list of Object.values(sorted)) list.sort((a, b) => FAMILIES.indexOf(a.kind.family) - FAMILIES.indexOf(b.kind.family))
  return sorted
}

/**
 * The finder: what fits here comes first, each with a picture of what it does; what fits elsewhere on this route says where, and goes in
 * there; what fits nowhere is shown only to who searches for it.
 */
export function Finder({
  title = 'Insert a step',
  open,
  route,
  at,
  swaps = false,
  onClose,
  onChoose,
}: {
  title?: string
  open: boolean
  route: readonly RouteStep[]
  /** before which step of the route, by its number from 0 */
  at: number
  /** it takes another step's place, and can go nowhere else */
  swaps?: boolean
  onClose: () => void
  onChoose: (kind: StepKind, at: number) => void
}) {
  const [query, setQuery] = useState('')
  const [stage, setStage] = useState<Family | 'all'>('all')
  const wanted = query.trim().toLowerCase()
  const matches = ({ kind }: Found) =>
    (stage === 'all' || kind.family === stage) && `${kind.title} ${kind.family} ${kind.summary}`.toLowerCase().includes(wanted)
  const { here, elsewhere, nowhere } = useMemo(() => sortedSteps(route, at, !swaps), [route, at, swaps])
  const shown = { here: here.filter(matches), elsewhere: elsewhere.filter(matches), nowhere: wanted === '' ? [] : nowhere.filter(matches) }
  const found = [...shown.here, ...shown.elsewhere, ...shown.nowhere]
  return (
    <Overlay isOpen={open} onOpenChange={(next) => !next && onClose()} isDismissable>
      <Sheet>
        <Body aria-label={title}>
          <h2>{title}</h2>
          <SearchField className="search" aria-label="Search steps" value={query} onChange={setQuery} autoFocus>
            <Search size={15} aria-hidden />
            <Input placeholder="What should happen next?" />
          </SearchField>
          <Stages
            aria-label="Stage of the work"
            selectionMode="single"
            disallowEmptySelection
            selectedKeys={[stage]}
            onSelectionChange={(keys) => setStage([...keys][0] as Family | 'all')}
          >
            <ToggleButton id="all">All</ToggleButton>
            {STAGES.map((family) => (
              <ToggleButton key={family} id={family}>
                {STAGE_NAMES[family] ?? family}
              </ToggleButton>
            ))}
          </Stages>
          {found.length === 0 ? (
            <p className="none">
              {wanted === ''
                ? 'No step of this stage fits on this route. Search for one to see what it needs.'
                : `No step is called or does that${stage === 'all' ? '' : ' at this stage of the work'}.`}
            </p>
          ) : (
            <Steps
              aria-label="Steps"
              disabledKeys={shown.nowhere.map(({ kind }) => kind.kind)}
              onAction={(key) => {
                const hit = found.find(({ kind }) => kind.kind === key)
                if (hit) onChoose(hit.kind, hit.at)
                setQuery('')
              }}
            >
              {shown.here.length > 0 && (
                <Group>
                  {shown.here.map(({ kind }) => (
                    <Step key={kind.kind} id={kind.kind} textValue={kind.title}>
                      <StepSample kind={kind} />
                      <b>{kind.title}</b>
                      <span className="family">{kind.family}</span>
                      <small>{kind.summary}</small>
                    </Step>
                  ))}
                </Group>
              )}
              {shown.elsewhere.length > 0 && (
                <Group>
                  <Heading>Elsewhere on this route</Heading>
                  {shown.elsewhere.map(({ kind, at: place }) => (
                    <Step key={kind.kind} id={kind.kind} textValue={kind.title} className="quiet">
                      <StepSample kind={kind} />
                      <b>{kind.title}</b>
                      <small>{place === 0 ? 'goes in at the start' : `goes in after ${place} ${stepKind(route[place - 1]?.kind)?.title ?? ''}`}</small>
                    </Step>
                  ))}
                </Group>
              )}
              {shown.nowhere.length > 0 && (
                <Group>
                  <Heading>Not on this route</Heading>
                  {shown.nowhere.map(({ kind, why }) => (
                    <Step key={kind.kind} id={kind.kind} textValue={kind.title}>
                      <StepSample kind={kind} />
                      <b>{kind.title}</b>
                      <span className="family">{kind.family}</span>
                      <small>{why}</small>
                    </Step>
                  ))}
                </Group>
              )}
            </Steps>
          )}
        </Body>
      </Sheet>
    </Overlay>
  )
}

/** What a step does to one word; drawn by `npm run pictures` and kept in public/steps. */
function StepSample({ kind }: { kind: StepKind }) {
  return (
    <span className="picture" aria-hidden>
      <img src={`/steps/${kind.kind}.png`} alt="" loading="lazy" />
    </span>
  )
}

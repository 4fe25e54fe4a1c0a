'use client'
import { STEPS } from '@kelvar/core/steps/registry'
import { FAMILIES, type Family, type StepKind, type ValueKind } from '@kelvar/core/steps/step'
import { Search } from 'lucide-react'
import { useState } from 'react'
import { Dialog, Input, ListBox, ListBoxItem, Modal, ModalOverlay, SearchField, ToggleButton, ToggleButtonGroup } from 'react-aria-components'
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
  top: 96px;
  width: 420px;
  background: var(--paper);
  border-radius: 5px;
  box-shadow: 0 24px 60px rgb(var(--shadow) / 0.3);
`
const Body = styled(Dialog)`
  outline: none;
  h2 { font-size: 16px; padding: 14px 16px 0; }
  .search { display: flex; align-items: center; gap: 8px; margin: 10px 16px; border-bottom: 1px solid var(--ink); }
  .search input { flex: 1; border: 0; background: none; padding: 6px 0; outline: none; }
  .none { padding: 8px 16px 18px; color: var(--soft); }
`
const Steps = styled(ListBox)`
  padding: 0 8px 12px;
  outline: none;
  max-height: calc(100dvh - 96px - 180px);
  overflow-y: auto;
  scrollbar-width: thin;
`
const Step = styled(ListBoxItem)`
  display: grid;
  grid-template-columns: 86px 1fr;
  gap: 0 8px;
  padding: 8px;
  border-radius: 3px;
  outline: none;
  cursor: pointer;
  b { font: 600 14px/1.3 var(--display); }
  span { color: var(--soft); font-size: 12px; padding-top: 1px; }
  small { grid-column: 2; color: var(--soft); }
  &[data-focused] { background: var(--tint); }
  &[data-disabled] { cursor: default; }
  &[data-disabled] b { color: var(--soft); font-weight: 500; }
  &[data-disabled] small { color: var(--caution); }
`

const Stages = styled(ToggleButtonGroup)`
  display: flex;
  flex-wrap: wrap;
  gap: 2px;
  margin: 0 12px 8px;
  button { border: 0; background: none; padding: 4px 9px; border-radius: 11px; font-size: 12.5px; color: var(--soft); cursor: pointer; }
  button[data-hovered] { color: var(--ink); }
  button[data-selected] { background: var(--ink); color: var(--paper); font-weight: 600; }
`

/** The stages of the work that have steps, in their order. */
const STAGES = FAMILIES.filter((family) => STEPS.some((step) => step.family === family))
const STAGE_NAMES: Partial<Record<Family, string>> = { Source: 'Begin with', Outline: 'Shape the outline', Form: 'Form it' }

/** Why a step does not fit where it would be inserted; undefined when it does. */
export function misfit(kind: StepKind, before: ValueKind | undefined): string | undefined {
  if (kind.takes === 'nothing') return before ? 'A source begins a route; it takes nothing from before it.' : undefined
  if (!before) return `Needs ${kind.takes === 'outline' ? 'an outline' : 'a solid'}; nothing comes before it here.`
  if (before !== kind.takes)
    return `Needs ${kind.takes === 'outline' ? 'an outline' : 'a solid'}; here it would get ${before === 'outline' ? 'an outline' : 'a solid'}.`
  return undefined
}

/** The finder: every step by search, with what fits here first and the reason where one does not. */
export function Finder({
  title = 'Insert a step',
  open,
  before,
  onClose,
  onChoose,
}: {
  title?: string
  open: boolean
  before: ValueKind | undefined
  onClose: () => void
  onChoose: (kind: StepKind) => void
}) {
  const [query, setQuery] = useState('')
  const [stage, setStage] = useState<Family | 'all'>('all')
  const wanted = query.trim().toLowerCase()
  const found = STEPS.filter((s) => (stage === 'all' || s.family === stage) && `${s.title} ${s.family} ${s.summary}`.toLowerCase().includes(wanted))
    .map((kind) => ({ id: kind.kind, kind, why: misfit(kind, before) }))
    .sort((a, b) => Number(Boolean(a.why)) - Number(Boolean(b.why)) || FAMILIES.indexOf(a.kind.family) - FAMILIES.indexOf(b.kind.family))
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
            <p className="none">No step is called or does that{stage === 'all' ? '' : ' at this stage of the work'}.</p>
          ) : (
            <Steps
              aria-label="Steps"
              disabledKeys={found.filter((f) => f.why).map((f) => f.id)}
              onAction={(key) => {
                const hit = found.find((f) => f.id === key)
                if (hit) onChoose(hit.kind)
                setQuery('')
              }}
            >
              {found.map(({ kind, why }) => (
                <Step key={kind.kind} id={kind.kind} textValue={kind.title}>
                  <span>{kind.family}</span>
                  <b>{kind.title}</b>
                  <small>{why ?? kind.summary}</small>
                </Step>
              ))}
            </Steps>
          )}
        </Body>
      </Sheet>
    </Overlay>
  )
}

'use client'
import { Redo2, Undo2 } from 'lucide-react'
import { VisuallyHidden } from 'react-aria'
import { Input, TextField, ToggleButton, ToggleButtonGroup } from 'react-aria-components'
import styled from 'styled-components'
import { Dispatch } from '@/features/dispatch/dispatch'
import { Conflict } from '@/features/history/conflict'
import { PlainButton } from '@/ui/buttons'
import { DayAndNight } from '@/ui/day-and-night'
import { Wordmark } from '@/ui/wordmark'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { HelpSheet } from './help-sheet'
import { useShortcuts } from '@/ui/shortcuts'
import { MAIN_VIEWS, type MainView, type Saving } from '@/state/store'

const Bar = styled.header`
  display: flex;
  align-items: center;
  gap: 14px;
  height: 46px;
  flex: none;
  padding: 0 18px;
  background: var(--paper);
  border-bottom: 1px solid var(--ink);
  .rule { width: 1px; height: 22px; background: var(--rule); }
  .name input {
    border: 0;
    border-bottom: 1px solid transparent;
    background: none;
    font: 600 14px/1.2 var(--display);
    padding: 4px 2px;
    field-sizing: content;
    min-width: 80px;
    max-width: 380px;
  }
  .name input:hover { border-bottom-color: var(--rule); }
  .name input:focus { border-bottom-color: var(--action); outline: none; }
  .kept { color: var(--soft); font-size: 12px; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; min-width: 0; }
  @media (max-width: 820px) {
    gap: 10px;
    padding: 0 10px;
    .kept:not([data-bad]) { display: none; }
  }
  .kept[data-bad] { color: var(--failure); font-weight: 600; }
  .views { display: flex; gap: 4px; margin-left: auto; align-self: stretch; }
  .view { border: 0; border-bottom: 3px solid transparent; border-top: 3px solid transparent; background: none; padding: 0 12px; font: 600 14px/1 var(--display); color: var(--soft); cursor: pointer; }
  .view[data-hovered] { color: var(--ink); }
  .view[data-selected] { color: var(--ink); border-bottom-color: var(--action); }
  .actions { margin-left: auto; display: flex; align-items: center; gap: 6px; }
`

const clock = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' })

const savingWords: Record<Saving, string> = {
  kept: 'kept',
  changed: 'keeping…',
  saving: 'keeping…',
  unreachable: 'kept in this browser: no answer from the server',
  conflict: 'changed in another window',
  refused: 'not kept',
}

/** Project name, state of saving, undo and redo, Dispatch. */
export function Masthead() {
  const store = useWorkbenchStore()
  const name = useWorkbench((s) => s.document.name)
  const view = useWorkbench((s) => s.view)
  const saving = useWorkbench((s) => s.saving)
  const savingMessage = useWorkbench((s) => s.savingMessage)
  const keptAt = useWorkbench((s) => s.keptAt)
  const undoable = useWorkbench((s) => s.past.at(-1)?.label)
  const redoable = useWorkbench((s) => s.future.at(-1)?.label)

  useShortcuts({
    undo: () => store.getState().undo(),
    redo: () => store.getState().redo(),
    draw: () => store.getState().turnTo('Draw'),
    model: () => store.getState().turnTo('Model'),
    motion: () => store.getState().turnTo('Motion'),
  })

  return (
    <Bar>
      <Wordmark />
      <VisuallyHidden elementType="h1">{name}</VisuallyHidden>
      <span className="rule" />
      <TextField
        className="name"
        aria-label="Name of the project"
        value={name}
        maxLength={120}
        onChange={(value) =>
          value &&
          store.getState().edit(
            'Rename project',
            (draft) => {
              draft.name = value
            },
            'project-name',
          )
        }
      >
        <Input />
      </TextField>
      <span
        className="kept"
        role="status"
        title={savingMessage}
        data-saving={saving}
        data-bad={['unreachable', 'conflict', 'refused'].includes(saving) ? '' : undefined}
      >
        {savingWords[saving]}
        {saving === 'kept' && keptAt ? ` ${clock.format(keptAt)}` : ''}
      </span>
      <Conflict />
      <ToggleButtonGroup
        className="views"
        aria-label="View"
        selectionMode="single"
        disallowEmptySelection
        selectedKeys={[view]}
        onSelectionChange={(keys) => store.getState().turnTo([...keys][0] as MainView)}
      >
        {MAIN_VIEWS.map((name) => (
          <ToggleButton key={name} id={name} className="view">
            {name}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      <div className="actions">
        <PlainButton isDisabled={!undoable} onPress={() => store.getState().undo()} aria-label={undoable ? `Undo: ${undoable}` : 'Undo'}>
          <Undo2 size={15} /> Undo
        </PlainButton>
        <PlainButton isDisabled={!redoable} onPress={() => store.getState().redo()} aria-label={redoable ? `Redo: ${redoable}` : 'Redo'}>
          <Redo2 size={15} /> Redo
        </PlainButton>
        <HelpSheet />
        <DayAndNight />
        <Dispatch />
      </div>
    </Bar>
  )
}

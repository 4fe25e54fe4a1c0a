'use client'
import { ToggleButton, ToggleButtonGroup } from 'react-aria-components'
import styled from 'styled-components'
import { History } from '@/features/history/history'
import { TryOutsShelf } from '@/features/try-outs/try-outs-shelf'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { useShortcuts } from '@/ui/shortcuts'
import type { Shelf as ShelfName } from '@/state/store'

const Beside = styled.nav`
  display: flex;
  flex: none;
  @media (max-width: 820px) { order: 1; height: 54%; }
`
const Strip = styled(ToggleButtonGroup)`
  display: flex;
  flex-direction: column;
  align-items: stretch;
  flex: none;
  width: 30px;
  padding-top: 10px;
  gap: 4px;
  background: var(--paper);
  border-left: 1px solid var(--ink);
  button {
    writing-mode: vertical-rl;
    border: 0;
    border-left: 3px solid transparent;
    border-right: 3px solid transparent;
    background: none;
    padding: 12px 3px;
    font: 600 13px/1 var(--display);
    color: var(--soft);
    cursor: pointer;
  }
  button[data-hovered] { color: var(--ink); }
  button[data-selected] { color: var(--ink); border-left-color: var(--action); }
`
const Panel = styled.aside`
  flex: none;
  width: 292px;
  background: var(--paper);
  border-left: 1px solid var(--rule);
  overflow-y: auto;
  scrollbar-width: thin;
  h2 { font-size: 16px; padding: 14px 14px 0; }
  @media (max-width: 1100px) { position: absolute; right: 30px; top: 0; bottom: 0; z-index: 12; box-shadow: -12px 0 34px rgb(var(--shadow) / 0.14); }
`

const NAMES: Record<ShelfName, string> = { 'try-outs': 'Try-outs', history: 'History' }

/** What is folded away at the right until it is wanted. */
export function Shelf() {
  const store = useWorkbenchStore()
  const shelf = useWorkbench((s) => s.shelf)
  const turn = (name: ShelfName) => store.getState().openShelf(store.getState().shelf === name ? undefined : name)
  useShortcuts({ 'try-outs': () => turn('try-outs'), history: () => turn('history') })
  return (
    <>
      {shelf && (
        <Panel aria-label={NAMES[shelf]}>
          <h2>{NAMES[shelf]}</h2>
          {shelf === 'try-outs' ? <TryOutsShelf /> : <History />}
        </Panel>
      )}
      <Beside aria-label="Beside the view">
        <Strip
          aria-label="What is beside the view"
          orientation="vertical"
          selectionMode="single"
          selectedKeys={shelf ? [shelf] : []}
          onSelectionChange={(keys) => store.getState().openShelf([...keys][0] as ShelfName | undefined)}
        >
          {(['try-outs', 'history'] as const).map((name) => (
            <ToggleButton key={name} id={name}>
              {NAMES[name]}
            </ToggleButton>
          ))}
        </Strip>
      </Beside>
    </>
  )
}

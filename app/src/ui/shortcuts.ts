import { useEffect, useRef } from 'react'

/** What keys do, as the help sheet lists it. Everything is also there for the mouse. */
export const SHORTCUTS = [
  { id: 'insert', keys: ['/'], does: 'Insert a step after the open one' },
  { id: 'previous', keys: ['Alt', '↑'], does: 'Open the step before' },
  { id: 'next', keys: ['Alt', '↓'], does: 'Open the step after' },
  { id: 'undo', keys: ['Ctrl', 'Z'], does: 'Undo' },
  { id: 'redo', keys: ['Ctrl', 'Y'], does: 'Redo' },
  { id: 'draw', keys: ['D'], does: 'Draw view' },
  { id: 'model', keys: ['M'], does: 'Model view' },
  { id: 'motion', keys: ['F'], does: 'Motion view' },
  { id: 'side', keys: ['V'], does: 'See the piece from the next side' },
  { id: 'whole', keys: ['W'], does: 'See the whole piece' },
  { id: 'wipe', keys: ['B'], does: 'Hold: before and after the open step' },
  { id: 'try-outs', keys: ['T'], does: 'Try-outs' },
  { id: 'history', keys: ['H'], does: 'History and revisions' },
  { id: 'help', keys: ['?'], does: 'This sheet' },
] as const

/** Keys that work where the focus is; the help sheet lists them as well. */
export const PLACES = [
  { keys: ['← ↑ → ↓'], does: 'In the view: turn the piece' },
  { keys: ['+', '−'], does: 'In the view: nearer, further' },
  { keys: ['↑', '↓'], does: 'In a number: one step up or down; with Shift ten' },
  { keys: ['← ↑ → ↓'], does: 'On a handle in the view: pull it; with Shift finely' },
  { keys: ['Esc'], does: 'Close what has opened' },
] as const

type ShortcutId = (typeof SHORTCUTS)[number]['id']

/** Whether an event is of the key of a shortcut, whatever else is held. */
export const isKeyOf = (id: ShortcutId, event: KeyboardEvent): boolean =>
  SHORTCUTS.some((shortcut) => shortcut.id === id && shortcut.keys.at(-1)?.toLowerCase() === event.key.toLowerCase())

/** Which shortcut an event is; undefined for none, and for plain keys while something is typed. */
function shortcutOf(event: KeyboardEvent): ShortcutId | undefined {
  const key = event.key.toLowerCase()
  if (event.ctrlKey || event.metaKey) {
    if (event.altKey) return undefined
    if (key === 'y' || (key === 'z' && event.shiftKey)) return 'redo'
    return key === 'z' ? 'undo' : undefined
  }
  if (event.altKey) return key === 'arrowup' ? 'previous' : key === 'arrowdown' ? 'next' : undefined
  const place = event.target instanceof HTMLElement ? event.target : undefined
  // what has keys of its own keeps them: text, and lists that are searched by typing
  if (place?.closest('input, textarea, select, [contenteditable], [role="menu"], [role="listbox"], [role="dialog"]')) return undefined
  return SHORTCUTS.find(({ keys }) => keys.length === 1 && keys[0].toLowerCase() === key)?.id
}

type Handlers = Partial<Record<ShortcutId, (event: KeyboardEvent) => void>>

/** Does what a shortcut says while the component is there. */
export function useShortcuts(handlers: Handlers): void {
  const latest = useRef(handlers)
  useEffect(() => {
    latest.current = handlers
  })
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const id = shortcutOf(event)
      const handler = id && latest.current[id]
      if (!handler) return
      event.preventDefault()
      handler(event)
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [])
}

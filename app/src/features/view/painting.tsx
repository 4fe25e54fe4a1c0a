'use client'
import { type Dab, textOfLetters } from '@kelvar/core/mask/painted'
import { dabCount, toldBy } from '@kelvar/core/mask/painted-file'
import { MOST_DABS } from '@kelvar/core/mask/painted-schema'
import { type RefObject, useEffect, useMemo, useRef, useState } from 'react'
import styled from 'styled-components'
import { keepPainted, paintedEntry, setPainted } from '@/state/actions/painting'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import type { MaskMesh } from '@/workers/messages'
import { Overlay } from './overlay'
import type { Cast, Point } from './space-knobs'

/** What a letter of the shown shape is painted by: where it begins in the text, and its box. */
interface Patch {
  readonly at: number
  readonly box: readonly number[]
}

/** The letters of a mask's shape, and their text. */
function patchesOf({ mesh, texts }: MaskMesh): { readonly text: string; readonly patches: readonly Patch[] } {
  const { text, offsets } = textOfLetters(texts)
  const boxes = new Map<number, number[]>()
  mesh.letters.forEach((letter, t) => {
    const box = boxes.get(letter) ?? [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity]
    boxes.set(letter, box)
    for (let i = 3 * t; i < 3 * t + 3; i++)
      for (let k = 0; k < 3; k++) {
        const at = mesh.positions[3 * mesh.indices[i] + k]
        box[k] = Math.min(box[k], at)
        box[k + 3] = Math.max(box[k + 3], at)
      }
  })
  return { text, patches: [...boxes].map(([letter, box]) => ({ at: letter < 0 ? -1 : offsets[letter], box })) }
}

/** Dabs at a place: one on every letter that the brush reaches. */
function dabsAt(patches: readonly Patch[], place: Point, brush: Omit<Dab, 'at' | 'place'>): Dab[] {
  return patches.flatMap(({ at, box }) => {
    let far = 0
    for (let k = 0; k < 3; k++) far += Math.max(box[k] - place[k], place[k] - box[k + 3], 0) ** 2
    if (far >= brush.radius ** 2) return []
    return [{ at, place: [0, 1, 2].map((k) => Number((place[k] - box[k]).toFixed(3))) as Dab['place'], ...brush }]
  })
}

const Circle = styled.div`
  position: absolute;
  left: 0;
  top: 0;
  border-radius: 50%;
  border: 2px solid var(--action);
  box-shadow: 0 0 0 1px rgb(255 255 255 / 0.7), inset 0 0 0 1px rgb(255 255 255 / 0.5);
  pointer-events: none;
  &[data-does='takes'] { border-style: dashed; }
  &[data-does='smooths'] { border-style: dotted; }
`
const Layer = styled(Overlay)`
  z-index: 7;
  &[data-focus] { outline: 2px solid var(--action); outline-offset: -3px; }
`

const DOES = { lays: 'paint', takes: 'take away by brush', smooths: 'smooth by brush' } as const

/** How far the brush goes, of its radius, between two dabs; and by arrow keys, in pixels. */
const APART = 0.35
const STEP = 12

/** Paints the open step's mask on the shape it is measured on: by dragging over it, or by arrow keys and the space bar. */
export function Painting({ shown, cast, frame }: { shown: MaskMesh; cast: RefObject<Cast | undefined>; frame: RefObject<HTMLElement | null> }) {
  const store = useWorkbenchStore()
  const brush = useWorkbench((s) => s.painting)
  const letters = useMemo(() => patchesOf(shown), [shown])
  const [at, setAt] = useState<{ x: number; y: number; size: number }>()
  const [focused, setFocused] = useState(false)
  const count = useRef(0)
  const live = useRef({ letters, brush })
  live.current = { letters, brush }

  const lay = useMemo(
    () => (place: Point, gesture: string) => {
      const { letters, brush } = live.current
      if (!brush) return
      // what was laid a moment ago is in the document already, though not drawn yet
      const entry = paintedEntry(store, brush)
      if (!entry) return
      const { does, radius, soft } = brush
      const amount = does === 'takes' ? -brush.amount : brush.amount
      const dabs = dabsAt(letters.patches, place, { radius, soft, amount, ...(does === 'smooths' ? { smooths: true } : {}) })
      const before = toldBy(entry, letters.text)
      if (dabs.length === 0 || dabCount(before) + dabs.length > MOST_DABS) return
      setPainted(store, brush, { ...before, list: [...before.list, ...dabs] }, DOES[does], gesture)
    },
    [store],
  )

  useEffect(() => {
    const element = frame.current
    if (!element) return
    let gesture: string | undefined
    let last: Point | undefined
    const follow = (event: PointerEvent) => {
      const box = element.getBoundingClientRect()
      const hit = cast.current?.hit(event.clientX, event.clientY)
      const { brush } = live.current
      if (!hit || !brush) {
        setAt(undefined)
        return undefined
      }
      setAt({ x: event.clientX - box.left, y: event.clientY - box.top, size: 2 * brush.radius * (cast.current?.pixels(hit) ?? 1) })
      return hit
    }
    const down = (event: PointerEvent) => {
      if (event.button !== 0 || !(event.target instanceof HTMLCanvasElement)) return
      const hit = follow(event)
      if (!hit) return
      // the piece is painted; beside it the view is turned as ever
      event.stopPropagation()
      event.preventDefault()
      element.setPointerCapture(event.pointerId)
      gesture = `drag:paint/${++count.current}`
      last = hit
      lay(hit, gesture)
    }
    const move = (event: PointerEvent) => {
      const hit = follow(event)
      const { brush } = live.current
      if (gesture === undefined || !hit || !brush) return
      event.stopPropagation()
      if (last && Math.hypot(hit[0] - last[0], hit[1] - last[1], hit[2] - last[2]) < APART * brush.radius) return
      last = hit
      lay(hit, gesture)
    }
    const up = () => {
      const { brush } = live.current
      if (gesture !== undefined && brush) void keepPainted(store, brush, DOES[brush.does], gesture)
      gesture = undefined
    }
    element.addEventListener('pointerdown', down, true)
    element.addEventListener('pointermove', move, true)
    element.addEventListener('pointerup', up, true)
    element.addEventListener('lostpointercapture', up)
    return () => {
      element.removeEventListener('pointerdown', down, true)
      element.removeEventListener('pointermove', move, true)
      element.removeEventListener('pointerup', up, true)
      element.removeEventListener('lostpointercapture', up)
    }
  }, [frame, cast, lay, store])

  if (!brush) return null
  const reach = (x: number, y: number) => {
    const box = frame.current?.getBoundingClientRect()
    const hit = box && cast.current?.hit(box.left + x, box.top + y)
    setAt({ x, y, size: hit ? 2 * brush.radius * (cast.current?.pixels(hit) ?? 1) : 16 })
    return hit
  }
  return (
    <Layer
      role="application"
      aria-label="Brush: arrow keys move it, the space bar paints"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: it is painted by keys
      tabIndex={0}
      data-focus={focused ? '' : undefined}
      onFocus={() => setFocused(true)}
      onBlur={() => setFocused(false)}
      onKeyDown={(event) => {
        const box = frame.current?.getBoundingClientRect()
        if (!box || event.altKey || event.ctrlKey || event.metaKey) return
        const from = at ?? { x: box.width / 2, y: box.height / 2 }
        const way = ({ ArrowRight: [1, 0], ArrowLeft: [-1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] } as const)[event.key as 'ArrowUp']
        if (!way && event.key !== ' ') return
        event.preventDefault()
        event.stopPropagation()
        const by = event.shiftKey ? STEP / 4 : STEP
        const hit = way ? (reach(from.x + way[0] * by, from.y + way[1] * by), undefined) : reach(from.x, from.y)
        if (!hit) return
        const gesture = `drag:paint/${++count.current}`
        lay(hit, gesture)
        void keepPainted(store, brush, DOES[brush.does], gesture)
      }}
    >
      {at && (
        <Circle
          aria-hidden
          data-does={brush.does}
          style={{ width: at.size, height: at.size, transform: `translate(${at.x - at.size / 2}px, ${at.y - at.size / 2}px)` }}
        />
      )}
    </Layer>
  )
}

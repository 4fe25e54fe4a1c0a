import { carryOver, lettersKept } from '@kelvar/core/document/letters'
import type { RouteStep } from '@kelvar/core/document/schema'
import { letterChanges } from '@kelvar/core/steps/source/lettering/schema'
import { type WorkbenchStore, writable } from '../store'
import { HAND } from './copies'
import { routeIn } from './steps'

/**
 * Changes the words of a Lettering step. What was done to single letters, and which are picked, goes with the letters;
 * `caret` is the offset behind what was typed.
 */
export function setWords(store: WorkbenchStore, stepId: string, text: string, caret: number | undefined): void {
  const { edit, pieceId, picked, document } = store.getState()
  const step = routeIn(document, pieceId).find((s) => s.id === stepId)
  const before = typeof step?.params.text === 'string' ? step.params.text : ''
  const changes = letterChanges.safeParse(step?.params.letters)
  edit(
    'Lettering: words',
    (draft) => {
      const target = routeIn(draft, pieceId).find((s) => s.id === stepId)
      if (!target) return
      target.params.text = text
      carryDrawn(routeIn(draft, pieceId), text, caret)
      if (changes.success && changes.data.list.length > 0) target.params.letters = carryOver(carryOver(changes.data, before), text, caret)
    },
    `${pieceId}/${stepId}/text`,
  )
  if (picked.length > 0) writable(store).setState({ picked: carryOver({ of: before, list: picked.map((at) => ({ at })) }, text, caret).list.map((c) => c.at) })
}

/** Lists that hang on letters in the steps after the words, each as `{ of, list }` of the text it was made for. */
const ON_LETTERS: Readonly<Record<string, { param: string; anchors: readonly string[] }>> = {
  redraw: { param: 'edits', anchors: ['at'] },
  extend: { param: 'limbs', anchors: ['from.at', 'to.at'] },
}

/** What was drawn on letters goes with them; what hangs on a letter that is gone stays where it was, and the step sets it aside. */
function carryDrawn(route: RouteStep[], text: string, caret: number | undefined): void {
  for (const step of route) {
    const kept = ON_LETTERS[step.kind]
    if (kept) carryList(step.params[kept.param] as Held | undefined, kept.anchors, text, caret)
    // copies that are left out or moved hang on the letters they are in
    carryList(step.params[HAND] as Held | undefined, ['at'], text, caret)
    // masks are painted letter by letter
    const mask = step.params.mask as { list?: { painted?: Held & { readonly letters?: Held['list'] } }[] } | undefined
    for (const { painted } of mask?.list ?? []) {
      if (!painted) continue
      const { of, list, letters = [] } = painted
      const all: Held = { of, list: [...list, ...letters] }
      carryList(all, ['at'], text, caret)
      painted.of = all.of
    }
  }
}

interface Held {
  of: string
  readonly list: Record<string, unknown>[]
}

function carryList(held: Held | undefined, anchors: readonly string[], text: string, caret: number | undefined): void {
  if (!held || held.list.length === 0 || held.of === text) return
  const places = held.list.flatMap((item) => anchors.map((path) => anchorOf(item, path).at)).filter((at) => at >= 0)
  const target = lettersKept(held.of, text, caret)
  // as long as a letter is missing the list keeps the text it was made for, so that the letter finds it when it comes back
  if (!places.every((at) => target.has(at))) return
  for (const item of held.list)
    for (const path of anchors) {
      const place = anchorOf(item, path)
      if (place.at >= 0) place.at = target.get(place.at) as number
    }
  held.of = text
}

const anchorOf = (item: Record<string, unknown>, path: string): { at: number } => (path === 'at' ? item : item[path.split('.')[0]]) as { at: number }

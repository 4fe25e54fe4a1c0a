import { retold } from '@kelvar/core/document/letters'
import { effectiveParams, fieldsOf } from '@kelvar/core/steps/fields'
import { stepKind } from '@kelvar/core/steps/registry'
import type { ByHand } from '@kelvar/core/steps/shared/repeating'
import type { RouteStep } from '@kelvar/core/document/schema'
import type { PickedCopy, WorkbenchStore } from '../store'
import { currentPiece } from '../work'
import { setParam } from './steps'

export const HAND = 'hand'

/** Whether single copies of a step can be left out and moved. */
const takesHand = ({ kind, on }: RouteStep): boolean => {
  const known = on ? stepKind(kind) : undefined
  return known !== undefined && fieldsOf(known).some(([name]) => name === HAND)
}

/** The step whose copies are seen: the last one that repeats, as far as the piece is looked at. */
export function copyingStep(route: readonly RouteStep[], until: string | undefined): RouteStep | undefined {
  const end = route.findIndex(({ id }) => id === until)
  return route.slice(0, end < 0 ? undefined : end + 1).findLast(takesHand)
}

const same = (a: ByHand['list'][number], b: Pick<PickedCopy, 'at' | 'spot'>) => a.at === b.at && a.spot.every((v, k) => Math.abs(v - b.spot[k]) < 0.01)

/** The change of a copy, where there is one. */
export const changeOf = (value: ByHand, copy: PickedCopy): ByHand['list'][number] | undefined => retold(value, copy.of).list.find((one) => same(one, copy))

/** Leaves a copy out, moves it by mm, or puts it back where it belongs. */
export function changeCopy(
  store: WorkbenchStore,
  copy: PickedCopy,
  change: { readonly out: true } | { readonly by: readonly [number, number, number] } | 'back',
  gesture?: string,
): void {
  const step = currentPiece(store.getState())?.route.find(({ id }) => id === copy.step)
  const kind = step && stepKind(step.kind)
  if (!step || !kind) return
  const value = effectiveParams(kind, step.params)[HAND] as ByHand
  const { of, list } = retold(value, copy.of)
  const others = list.filter((one) => !same(one, copy))
  const spot = copy.spot.map((v) => Number(v.toFixed(3))) as [number, number, number]
  const own =
    change === 'back'
      ? []
      : [
          {
            at: copy.at,
            spot,
            out: 'out' in change,
            by: 'out' in change ? ([0, 0, 0] as [number, number, number]) : ([...change.by] as [number, number, number]),
          },
        ]
  const words = change === 'back' ? 'put a copy back' : 'out' in change ? 'leave a copy out' : 'move a copy'
  setParam(store, step.id, HAND, { of, list: [...others, ...own] }, `${kind.title}: ${words}`, gesture)
}

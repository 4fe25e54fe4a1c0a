'use client'
import { type Mask, type MaskEntry, maskSchema } from '@kelvar/core/mask/schema'
import { effectiveParams } from '@kelvar/core/steps/fields'
import { stepKind } from '@kelvar/core/steps/registry'
import { MoveHorizontal, MoveVertical } from 'lucide-react'
import { type RefObject, useMemo, useRef } from 'react'
import { setParam } from '@/state/actions/steps'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { currentPiece } from '@/state/work'
import type { ViewMesh } from '@/workers/view-mesh'
import { alongLine, type Cast, onPlane, type Point, type SpaceKnob } from './space-knobs'

const AXES: readonly Point[] = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
]
const FACING = { right: 0, up: 1, forward: 2 } as const
const WAYS = ['to the right', 'up', 'forward'] as const

const rounded = (v: number) => Number(v.toFixed(2))
const moved = (from: Point, axis: number, by: number): Point => from.map((v, k) => (k === axis ? v + by : v)) as unknown as Point

/** The mask of the step whose mask is shown. */
function useShownMask(): { readonly step: string; readonly title: string; readonly mask: Mask } | undefined {
  const step = useWorkbench((s) => currentPiece(s)?.route.find(({ id }) => id === s.maskShown))
  return useMemo(() => {
    const kind = step && stepKind(step.kind)
    const mask = kind && maskSchema.safeParse(effectiveParams(kind, step.params).mask).data
    return kind && mask ? { step: step.id, title: kind.title, mask } : undefined
  }, [step])
}

/** Knobs for the places of a shown mask: the middle and the size of balls and boxes, how far planes lie. */
export function useMaskKnobs(cast: RefObject<Cast | undefined>): readonly SpaceKnob[] {
  const store = useWorkbenchStore()
  const shown = useShownMask()
  const count = useRef(0)
  return useMemo(() => {
    if (!shown) return NONE
    const { step, title, mask } = shown
    const set = (i: number, change: Partial<MaskEntry>, gesture?: string) =>
      setParam(store, step, 'mask', { ...mask, list: mask.list.map((one, j) => (j === i ? { ...one, ...change } : one)) }, `${title}: mask ${i + 1}`, gesture)
    const drag = () => `drag:mask/${++count.current}`
    const middle = (i: number, { centre }: MaskEntry): SpaceKnob => ({
      name: `mask-${i}-middle`,
      at: centre,
      icon: null,
      words: `Mask ${i + 1}: middle at ${centre.map(rounded).join(', ')} mm`,
      label: `Mask ${i + 1}: middle`,
      value: rounded(Math.hypot(...centre)),
      begin(x, y) {
        const ray = cast.current?.ray(x, y)
        // in the plane that faces the viewer
        const normal = ray && (ray.direction.toArray() as Point)
        const start = ray && normal && onPlane(ray, centre, normal)
        if (!start || !normal) return undefined
        const gesture = drag()
        return (px, py, fine) => {
          const next = cast.current?.ray(px, py)
          const to = next && onPlane(next, centre, normal)
          if (!to) return
          const by = to.sub(start).multiplyScalar(fine ? 0.2 : 1)
          set(i, { centre: [rounded(centre[0] + by.x), rounded(centre[1] + by.y), rounded(centre[2] + by.z)] }, gesture)
        }
      },
      key: (right, up, fine) => set(i, { centre: [rounded(centre[0] + right * (fine ? 0.1 : 1)), rounded(centre[1] + up * (fine ? 0.1 : 1)), centre[2]] }),
    })
    const pulled = (
      name: string,
      i: number,
      at: Point,
      axis: number,
      value: number,
      words: string,
      change: (value: number) => Partial<MaskEntry>,
    ): SpaceKnob => ({
      name,
      at,
      icon: axis === 1 ? <MoveVertical size={13} aria-hidden /> : <MoveHorizontal size={13} aria-hidden />,
      words: `Mask ${i + 1}: ${words} ${rounded(value)} mm`,
      label: `Mask ${i + 1}: ${words}`,
      value: rounded(value),
      begin(x, y) {
        const ray = cast.current?.ray(x, y)
        if (!ray) return undefined
        const [start, gesture] = [alongLine(ray, at, AXES[axis]), drag()]
        return (px, py, fine) => {
          const next = cast.current?.ray(px, py)
          if (next) set(i, change(rounded(value + (alongLine(next, at, AXES[axis]) - start) * (fine ? 0.2 : 1))), gesture)
        }
      },
      key: (right, up, fine) => set(i, change(rounded(value + (right + up) * (fine ? 0.1 : 1)))),
    })
    return mask.list.flatMap((entry, i): SpaceKnob[] => {
      const { by, centre, radius, size, facing } = entry
      if (by === 'ball')
        return [middle(i, entry), pulled(`mask-${i}-radius`, i, moved(centre, 0, radius), 0, radius, 'radius', (value) => ({ radius: Math.max(0.1, value) }))]
      if (by === 'box')
        return [
          middle(i, entry),
          ...[0, 1, 2].map((k) =>
            pulled(`mask-${i}-size-${k}`, i, moved(centre, k, size[k] / 2), k, size[k] / 2, `half its size ${WAYS[k]}`, (value) => ({
              size: size.map((v, j) => (j === k ? Math.max(0, rounded(2 * value)) : v)) as unknown as MaskEntry['size'],
            })),
          ),
        ]
      if (by !== 'plane') return []
      const k = FACING[facing]
      return [
        pulled(`mask-${i}-plane`, i, centre, k, centre[k], `plane ${WAYS[k]}`, (value) => ({
          centre: centre.map((v, j) => (j === k ? value : v)) as unknown as MaskEntry['centre'],
        })),
      ]
    })
  }, [shown, store, cast])
}

/** Lines that show where the balls, boxes and planes of a shown mask lie. */
export function useMaskLines(mesh: ViewMesh | undefined): readonly (readonly Point[])[] {
  const shown = useShownMask()
  return useMemo(() => {
    if (!shown || !mesh) return NO_LINES
    const [x0, y0, z0, x1, y1, z1] = mesh.box
    return shown.mask.list.flatMap(({ by, centre, radius, size, facing }) => {
      if (by === 'ball') return [0, 1, 2].map((k) => circle(centre, radius, k))
      if (by === 'box') return boxLines(centre.map((v, k) => v - size[k] / 2) as unknown as Point, centre.map((v, k) => v + size[k] / 2) as unknown as Point)
      if (by !== 'plane') return []
      const k = FACING[facing]
      const [low, high] = [
        [x0, y0, z0],
        [x1, y1, z1],
      ].map((corner) => corner.map((v, j) => (j === k ? centre[k] : v)))
      const [a, b] = [0, 1, 2].filter((j) => j !== k)
      const corner = (u: number, v: number) => [0, 1, 2].map((j) => (j === a ? u : j === b ? v : centre[k])) as unknown as Point
      return [[corner(low[a], low[b]), corner(high[a], low[b]), corner(high[a], high[b]), corner(low[a], high[b]), corner(low[a], low[b])]]
    })
  }, [shown, mesh])
}

const NONE: readonly SpaceKnob[] = []
const NO_LINES: readonly (readonly Point[])[] = []

const circle = (centre: Point, radius: number, about: number): Point[] =>
  Array.from({ length: 49 }, (_, i) => {
    const [c, s] = [radius * Math.cos((Math.PI * i) / 24), radius * Math.sin((Math.PI * i) / 24)]
    return moved(moved(centre, (about + 1) % 3, c), (about + 2) % 3, s)
  })

function boxLines(low: Point, high: Point): Point[][] {
  const at = (i: number): Point => [0, 1, 2].map((k) => ((i >> k) & 1 ? high : low)[k]) as unknown as Point
  return [0, 1, 2, 3, 4, 5, 6, 7].flatMap((i) => [1, 2, 4].filter((bit) => (i & bit) === 0).map((bit) => [at(i), at(i | bit)]))
}

'use client'
import { boxAt, heldTo, turnedUpright, UNMOVED_PLACE } from '@kelvar/core/document/place'
import type { Piece, Place } from '@kelvar/core/document/schema'
import { ArrowUpDown, Move, RotateCw } from 'lucide-react'
import { type RefObject, useMemo, useRef, useState } from 'react'
import * as THREE from 'three'
import { setPlace } from '@/state/actions/pieces'
import { useWorkbenchStore } from '@/state/context'
import type { ViewMesh } from '@/workers/view-mesh'
import type { OtherPiece } from './other-pieces'
import { alongLine, type Cast, onPlane, type Point, type SpaceKnob } from './space-knobs'

const SIZE = 14
const NONE: readonly SpaceKnob[] = []
const UP: Point = [0, 1, 0]
/** Nearer than this share of all that is shown, a piece is held to another one's sides and middles. */
const HOLD = 0.012

const round = (v: number) => Number(v.toFixed(2))

/** Knobs that push the piece in hand over what it stands on, lift it and turn it, while all pieces are looked at together. */
export function usePlaceKnobs(
  piece: Piece | undefined,
  mesh: ViewMesh | undefined,
  others: readonly (OtherPiece & { readonly name: string })[],
  cast: RefObject<Cast | undefined>,
): readonly SpaceKnob[] {
  const store = useWorkbenchStore()
  const count = useRef(0)
  const [held, setHeld] = useState('')
  return useMemo(() => {
    if (!piece || !mesh) return NONE
    const place = piece.place ?? UNMOVED_PLACE
    const box = boxAt(mesh.box, place)
    const [x0, y0, z0, x1, y1, z1] = box
    const foot: Point = [(x0 + x1) / 2, y0, (z0 + z1) / 2]
    const beside = others.map(({ name, mesh: theirs, matrix }) => {
      const b = new THREE.Box3(
        new THREE.Vector3(...(theirs.box.slice(0, 3) as [number, number, number])),
        new THREE.Vector3(...(theirs.box.slice(3) as [number, number, number])),
      ).applyMatrix4(matrix)
      return { name, box: [...b.min.toArray(), ...b.max.toArray()] }
    })
    const all = [box, ...beside.map((b) => b.box)]
    const reach = HOLD * Math.max(...[0, 1, 2].map((k) => Math.max(...all.map((b) => b[k + 3])) - Math.min(...all.map((b) => b[k]))))
    const set = (next: Place, what: string, gesture?: string) =>
      setPlace(
        store,
        piece.id,
        { ...next, position: next.position.map(round) as Place['position'], turn: next.turn.map(round) as Place['turn'] },
        what,
        gesture,
      )
    const drag = (what: string) => `drag:place/${piece.id}/${what}/${++count.current}`
    const by = (d: readonly number[], axes: readonly (0 | 1 | 2)[], loose: boolean): Place['position'] => {
      const moved = place.position.map((v, k) => v + d[k]) as Place['position']
      if (loose) {
        setHeld('')
        return moved
      }
      const names: string[] = []
      for (const axis of axes) {
        const hold = heldTo(
          box.map((v, i) => v + d[i % 3]),
          beside,
          axis,
          reach,
        )
        if (!hold) continue
        moved[axis] += hold.by
        names.push(hold.to)
      }
      setHeld(names.join(', '))
      return moved
    }
    const figures = `${place.position.map((v) => round(v)).join(', ')} mm${held ? ` · held to ${held}` : ''}`
    return [
      {
        name: 'place-push',
        at: foot,
        icon: <Move size={SIZE} aria-hidden />,
        words: figures,
        label: `Push ${piece.name}`,
        begin(x, y) {
          const ray = cast.current?.ray(x, y)
          const start = ray && onPlane(ray, foot, UP)
          if (!start) return undefined
          const gesture = drag('push')
          // what stands on something goes on standing on it
          const under = cast.current?.below([foot[0], foot[1] + reach, foot[2]], piece.id)
          const stands = under !== undefined && foot[1] - under[1] < 2 * reach
          return (px, py, fine) => {
            const now = cast.current?.ray(px, py)
            const level = now && onPlane(now, foot, UP)
            if (!level) return
            const [dx, dz] = [level.x - start.x, level.z - start.z]
            const beneath = stands ? cast.current?.below([foot[0] + dx, y1, foot[2] + dz], piece.id) : undefined
            set({ ...place, position: by([dx, beneath ? beneath[1] - foot[1] : 0, dz], [0, 2], fine) }, 'push', gesture)
          }
        },
        key: (right, up, fine) => set({ ...place, position: by([right * (fine ? 0.1 : 1), 0, -up * (fine ? 0.1 : 1)], [], true) }, 'push'),
      },
      {
        name: 'place-lift',
        at: [foot[0], y1, foot[2]],
        icon: <ArrowUpDown size={SIZE} aria-hidden />,
        words: figures,
        label: `Lift ${piece.name}`,
        value: round(place.position[1]),
        begin(x, y) {
          const ray = cast.current?.ray(x, y)
          if (!ray) return undefined
          const top: Point = [foot[0], y1, foot[2]]
          const start = alongLine(ray, top, UP)
          const gesture = drag('lift')
          return (px, py, fine) => {
            const now = cast.current?.ray(px, py)
            if (now) set({ ...place, position: by([0, alongLine(now, top, UP) - start, 0], [1], fine) }, 'lift', gesture)
          }
        },
        key: (right, up, fine) => set({ ...place, position: by([0, (up + right) * (fine ? 0.1 : 1), 0], [], true) }, 'lift'),
      },
      {
        name: 'place-turn',
        at: [foot[0] + 0.5 * Math.max(x1 - x0, z1 - z0) + reach, y0, foot[2]],
        icon: <RotateCw size={SIZE} aria-hidden />,
        words: `Turned ${round(place.turn[1])}°`,
        label: `Turn ${piece.name}`,
        value: round(place.turn[1]),
        begin(x, y) {
          const angle = (px: number, py: number) => {
            const ray = cast.current?.ray(px, py)
            const at = ray && onPlane(ray, foot, UP)
            return at && (Math.atan2(-(at.z - foot[2]), at.x - foot[0]) * 180) / Math.PI
          }
          const start = angle(x, y)
          if (start === undefined) return undefined
          const gesture = drag('turn')
          return (px, py, fine) => {
            const now = angle(px, py)
            if (now === undefined) return
            const step = fine ? 0.5 : 5
            set(turnedUpright(place, Math.round((now - start) / step) * step, foot), 'turn', gesture)
          }
        },
        key: (right, up, fine) => set(turnedUpright(place, (right + up) * (fine ? 1 : 5), foot), 'turn'),
      },
    ]
  }, [piece, mesh, others, cast, store, held])
}

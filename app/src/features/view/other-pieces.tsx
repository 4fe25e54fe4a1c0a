import { UNMOVED_PLACE } from '@kelvar/core/document/place'
import type { Piece, ProjectDocument } from '@kelvar/core/document/schema'
import { effectiveParams, inputsOf } from '@kelvar/core/steps/fields'
import { stepKind } from '@kelvar/core/steps/registry'
import { useEffect, useMemo, useState } from 'react'
import type * as THREE from 'three'
import { usePiecesNow, useWorkbench, useWorkbenchStore } from '@/state/context'
import { moves, workAt, workOf } from '@/state/work'
import { useThemeColour } from '@/ui/day-and-night'
import { desk } from '@/workers/maker'
import { SUPERSEDED } from '@/workers/supervisor'
import type { ViewMesh } from '@/workers/view-mesh'
import { PieceInSpace } from './piece'
import type { Section } from './section'
import { matrixOf, meshGeometry, relativeMatrix } from './scene'

/** A piece that stands beside the one in hand. */
export interface OtherPiece {
  readonly id: string
  readonly mesh: ViewMesh
  readonly matrix: THREE.Matrix4
}

interface Made {
  readonly key: string
  readonly mesh: ViewMesh
}

export const NO_OTHERS: readonly never[] = []

/** Which pieces besides the one in hand are wanted: all that are not hidden, or certain ones. */
export type Wanted = 'all' | readonly string[]

/**
 * The wanted pieces as they are made, each at its place: in the project where all are looked at together, else as it stands to the piece
 * in hand.
 */
export function useOtherPieces(wanted: Wanted): readonly OtherPiece[] {
  const store = useWorkbenchStore()
  const pieces = usePiecesNow()
  const current = useWorkbench((s) => s.pieceId)
  // what stands beside is seen at the same moment, where any of it moves
  const document = useWorkbench((s) => s.document)
  const moving = useMemo(
    () => wanted.length > 0 && document.pieces.some((p) => isWanted(p, wanted, current) && movesIn(document, p.id)),
    [wanted, document, current],
  )
  const frame = useWorkbench((s) => (moving ? s.frame : 0))
  const [made, setMade] = useState<ReadonlyMap<string, Made>>(new Map())
  useEffect(() => {
    if (wanted.length === 0) return
    const leaving = new AbortController()
    const { signal } = leaving
    const make = async () => {
      for (const { id } of pieces.filter((p) => isWanted(p, wanted, current))) {
        const work = workAt(store.getState().document, id, frame)
        const known = made.get(id)
        const answer = work && (await desk.ask((api, job) => api.pieceMesh(job, work, known?.key), signal))
        signal.throwIfAborted()
        const { key, mesh } = answer ?? {}
        if (key && mesh) setMade((list) => new Map(list).set(id, { key, mesh }))
        else if (!answer)
          setMade((list) => {
            const rest = new Map(list)
            return rest.delete(id) ? rest : list
          })
      }
    }
    make().catch((error) => !signal.aborted && console.error(error))
    return () => leaving.abort(SUPERSEDED)
    // eslint-disable-next-line react-hooks/exhaustive-deps -- what is made is only told, it asks for nothing anew
  }, [wanted, pieces, current, frame, store])
  return useMemo(() => {
    if (wanted.length === 0) return NO_OTHERS
    const own = wanted === 'all' ? undefined : (pieces.find((p) => p.id === current)?.place ?? UNMOVED_PLACE)
    return pieces.flatMap((piece): OtherPiece[] => {
      const mesh = made.get(piece.id)?.mesh
      return mesh && isWanted(piece, wanted, current) ? [{ id: piece.id, mesh, matrix: own ? relativeMatrix(own, piece.place) : matrixOf(piece.place) }] : []
    })
  }, [wanted, pieces, current, made])
}

const movesIn = (document: ProjectDocument, id: string): boolean => {
  const work = workOf(document, id)
  return work !== undefined && moves(work)
}

const isWanted = (piece: Piece, wanted: Wanted, current: string): boolean =>
  piece.id !== current && (wanted === 'all' ? !piece.hidden : wanted.includes(piece.id))

/** The pieces that the open step joins its own with, where they stand. */
export function useJoinedPieces(): readonly string[] {
  const step = useWorkbench((s) => s.document.pieces.find((p) => p.id === s.pieceId)?.route.find(({ id }) => id === s.openStep))
  return useMemo(() => {
    const kind = step?.on ? stepKind(step.kind) : undefined
    const params = kind && step ? effectiveParams(kind, step.params) : {}
    // words that are laid on a surface are not where their piece stands
    const laid = params.lay !== undefined && params.lay !== 'place'
    const ids = kind && !laid ? inputsOf(kind, params).flatMap(({ placed, references }) => (placed ? references.map(({ piece }) => piece) : [])) : []
    return ids.length > 0 ? ids : NO_OTHERS
  }, [step])
}

/** Pieces that the open step works with, seen through, so that one sees where they stand in it. */
export function GhostPieces({ pieces }: { pieces: readonly OtherPiece[] }) {
  const colour = useThemeColour('--action')
  return pieces.map(({ id, mesh, matrix }) => <GhostPiece key={id} mesh={mesh} matrix={matrix} colour={colour} />)
}

/** Something seen through. */
export function GhostPiece({
  mesh,
  matrix,
  colour,
  opacity = 0.28,
  behind = false,
}: {
  mesh: ViewMesh
  matrix?: THREE.Matrix4
  colour: string
  opacity?: number
  /** it gives way to what stands about where it does */
  behind?: boolean
}) {
  // eslint-disable-next-line react-hooks/exhaustive-deps -- the arrays are of one mesh
  const geometry = useMemo(() => meshGeometry(mesh), [mesh.indices])
  useEffect(() => () => geometry.dispose(), [geometry])
  return (
    <mesh geometry={geometry} matrix={matrix} matrixAutoUpdate={matrix === undefined} raycast={() => {}} renderOrder={2}>
      <meshStandardMaterial
        color={colour}
        transparent
        opacity={opacity}
        depthWrite={false}
        roughness={0.7}
        polygonOffset={behind}
        polygonOffsetFactor={8}
        polygonOffsetUnits={4000}
      />
    </mesh>
  )
}

/** The pieces beside the one in hand; pressing one takes it in hand, unless `onFace` has another use for it. */
export function OtherPieces({
  pieces,
  section,
  onFace,
}: {
  pieces: readonly OtherPiece[]
  section: Section | undefined
  onFace: (at: THREE.Vector3, normal: THREE.Vector3) => boolean
}) {
  const store = useWorkbenchStore()
  return pieces.map(({ id, mesh, matrix }) => (
    <PieceInSpace
      key={id}
      id={id}
      mesh={mesh}
      matrix={matrix}
      section={section}
      onPick={(_, __, at, normal) => onFace(at, normal) || store.getState().choosePiece(id)}
    />
  ))
}

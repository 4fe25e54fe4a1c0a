import type { Piece } from '@kelvar/core/document/schema'
import { useEffect, useMemo, useState } from 'react'
import type * as THREE from 'three'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { workOf } from '@/state/work'
import { desk } from '@/workers/maker'
import { SUPERSEDED } from '@/workers/supervisor'
import type { ViewMesh } from '@/workers/view-mesh'
import { PieceInSpace } from './piece'
import { matrixOf } from './scene'

/** A piece that stands beside the one in hand. */
interface OtherPiece {
  readonly id: string
  readonly mesh: ViewMesh
  readonly matrix: THREE.Matrix4
}

interface Made {
  readonly key: string
  readonly mesh: ViewMesh
}

const NONE: readonly OtherPiece[] = []

/** The pieces besides the one in hand that are not hidden, as they are made, each at its place; none while they are not wanted. */
export function useOtherPieces(wanted: boolean): readonly OtherPiece[] {
  const store = useWorkbenchStore()
  const pieces = useWorkbench((s) => s.document.pieces)
  const current = useWorkbench((s) => s.pieceId)
  const [made, setMade] = useState<ReadonlyMap<string, Made>>(new Map())
  useEffect(() => {
    if (!wanted) return
    const leaving = new AbortController()
    const { signal } = leaving
    const make = async () => {
      for (const { id } of pieces.filter((p) => p.id !== current && !p.hidden)) {
        const work = workOf(store.getState().document, id)
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
  }, [wanted, pieces, current, store])
  return useMemo(() => (wanted ? pieces.flatMap((piece) => placedPiece(piece, current, made)) : NONE), [wanted, pieces, current, made])
}

function placedPiece(piece: Piece, current: string, made: ReadonlyMap<string, Made>): OtherPiece[] {
  const known = made.get(piece.id)
  return known && piece.id !== current && !piece.hidden ? [{ id: piece.id, mesh: known.mesh, matrix: matrixOf(piece.place) }] : []
}

/** The pieces beside the one in hand; pressing one takes it in hand. */
export function OtherPieces({ pieces }: { pieces: readonly OtherPiece[] }) {
  const store = useWorkbenchStore()
  return pieces.map(({ id, mesh, matrix }) => <PieceInSpace key={id} mesh={mesh} matrix={matrix} onPick={() => store.getState().choosePiece(id)} />)
}

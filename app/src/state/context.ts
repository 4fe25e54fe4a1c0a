import { piecesAt } from '@kelvar/core/document/moment'
import type { Piece } from '@kelvar/core/document/schema'
import { createContext, useContext, useMemo } from 'react'
import { useStore } from 'zustand'
import type { WorkbenchActions, WorkbenchState, WorkbenchStore } from './store'

export const WorkbenchContext = createContext<WorkbenchStore | undefined>(undefined)

export function useWorkbenchStore(): WorkbenchStore {
  const store = useContext(WorkbenchContext)
  if (!store) throw new Error('used outside the workbench')
  return store
}

export function useWorkbench<T>(select: (state: WorkbenchState & WorkbenchActions) => T): T {
  return useStore(useWorkbenchStore(), select)
}

/** The frame that is shown; while frames pass by, the one from which they do: for what would not keep up with them. */
export const useFrameAtRest = (): number => useWorkbench((s) => (s.playing ? s.playedFrom : s.frame))

/** The pieces as they stand at the frame that is shown. */
export function usePiecesNow(): readonly Piece[] {
  const pieces = useWorkbench((s) => s.document.pieces)
  const frame = useWorkbench((s) => (s.document.pieces.some(({ tracks }) => tracks) ? s.frame : 0))
  return useMemo(() => (pieces.some(({ tracks }) => tracks) ? piecesAt(pieces, frame) : pieces), [pieces, frame])
}

import { createContext, useContext } from 'react'
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

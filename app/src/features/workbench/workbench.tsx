'use client'
import type { ProjectDocument } from '@kelvar/core/document/schema'
import dynamic from 'next/dynamic'
import { DRAWER } from '@/ui/drawer'
import { useEffect, useState } from 'react'
import styled from 'styled-components'
import { Docket } from '@/features/route/docket'
import { PieceStrip } from '@/features/route/piece-strip'
import { PlacePanel } from '@/features/view/place-panel'
import { TypeCase } from '@/features/type-case/type-case'
import { useWorkbench, WorkbenchContext } from '@/state/context'
import { FirstSteps } from './first-steps'
import { FilmLine } from '@/features/motion/film-line'
import { keepFilling } from '@/state/filling'
import { keepMaking } from '@/state/making'
import { Masthead } from './masthead'
import { Readout } from './readout'
import { bringAssets, sweepLocal } from '@/state/local-assets'
import { keepSaving } from '@/state/saving'
import { Shelf } from './shelf'
import { createWorkbenchStore, type WorkbenchStore } from '@/state/store'
import { browserKeeper } from '@/state/unsaved'
import { workForPicture } from '@/state/work'

const TimeDrawer = dynamic(() => import('@/features/motion/time-drawer').then((m) => m.TimeDrawer), { ssr: false })
const DrawView = dynamic(() => import('@/features/workbench/draw-view').then((m) => m.DrawView), { ssr: false, loading: () => <Filler /> })
/** Asked for as soon as this is read, not when it is first drawn. */
const viewModule = typeof window === 'undefined' ? undefined : import('@/features/view/view')
const View = dynamic(() => (viewModule ?? import('@/features/view/view')).then((m) => m.View), { ssr: false, loading: () => <Filler /> })

const Page = styled.div`
  display: flex;
  flex-direction: column;
  height: 100dvh;
  overflow: hidden;
`
const Middle = styled.div`
  display: flex;
  flex: 1;
  min-height: 0;
  position: relative;
  @media (max-width: 820px) { flex-wrap: wrap; }
`
const Column = styled.aside`
  display: flex;
  flex-direction: column;
  width: 348px;
  flex: none;
  background: var(--paper);
  border-right: 1px solid var(--ink);
  @media (max-width: 1100px) { width: 316px; }
  @media (max-width: 820px) { width: 100%; height: 46%; order: 2; border-right: 0; border-top: 1px solid var(--ink); }
`
const Right = styled.main`
  position: relative;
  display: flex;
  flex-direction: column;
  flex: 1;
  min-width: 0;
  @media (max-width: 820px) { height: 54%; flex: 1 1 calc(100% - 30px); order: 0; }
`
const Layer = styled.div`
  position: absolute;
  inset: 0;
  display: flex;
  flex-direction: column;
  &[data-hidden] { visibility: hidden; }
`
const Filler = styled.div`
  flex: 1;
  background: var(--stage);
`

/** The view that is chosen. The solid stays alive under the board, so that pictures can still be taken and nothing is built anew. */
function MainPane() {
  const view = useWorkbench((s) => s.view)
  const together = useWorkbench((s) => s.together && s.document.pieces.length > 1)
  return (
    <Right>
      <Layer data-hidden={view === 'Draw' ? '' : undefined} inert={view === 'Draw'}>
        <View />
        <FirstSteps />
        {together && <PlacePanel />}
        <div id={DRAWER} />
        {view === 'Motion' && <TimeDrawer />}
        <Readout />
      </Layer>
      <FilmLine />
      {view === 'Draw' && (
        <Layer>
          <DrawView />
        </Layer>
      )}
    </Right>
  )
}

/** One project at work. The page's own state is a store; workers make the geometry; saving goes on by itself. */
export function Workbench({ id, document, revision, hasPicture }: { id: string; document: ProjectDocument; revision: number; hasPicture: boolean }) {
  const [store] = useState(() => createWorkbenchStore(id, document, revision))
  useEffect(() => keepMaking(store), [store])
  useEffect(() => keepFilling(store), [store])
  useEffect(() => void sweepLocal().catch((error) => console.error(error)), [])
  useEffect(() => keepSaving(store, hasPicture, () => cabinetPicture(store), browserKeeper(id), bringAssets), [store, hasPicture, id])
  return (
    <WorkbenchContext.Provider value={store}>
      <Page>
        <Masthead />
        <Middle>
          <Column aria-label="Pieces and route">
            <PieceStrip />
            <Docket />
          </Column>
          <TypeCase />
          <MainPane />
          <Shelf />
        </Middle>
      </Page>
    </WorkbenchContext.Provider>
  )
}

/** The first piece's picture for the cabinet, base64 PNG. */
async function cabinetPicture(store: WorkbenchStore): Promise<string | undefined> {
  const { document } = store.getState()
  const work = document.pieces[0] && workForPicture(document, document.pieces[0].id)
  if (!work?.route.length) return undefined
  const { solidPicture } = await import('@/features/view/solid-picture')
  // saving must not wait for a view that may never come, as with a route that fails
  const nothing = new Promise<undefined>((resolve) => setTimeout(resolve, 2000))
  const url = await Promise.race([solidPicture(work, work.route[work.route.length - 1].id, { width: 640, height: 400, ground: true }), nothing])
  return url?.replace(/^data:image\/png;base64,/, '')
}

'use client'
import { routeDifferences } from '@kelvar/core/project/differences'
import { MAX_TRY_OUTS, type TryOut } from '@kelvar/core/document/schema'
import { Plus, X } from 'lucide-react'
import { useMemo } from 'react'
import { Button, Input, TextField } from 'react-aria-components'
import styled from 'styled-components'
import { useSolidPicture } from '@/features/view/solid-picture'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { ActionButton } from '@/ui/buttons'
import { currentPiece, workOf } from '@/state/work'
import { keepTryOut, removeTryOut, renameTryOut, takeTryOut, withPresentWords } from '@/state/actions/try-outs'

const Part = styled.section`
  padding: 12px 14px 20px;
  > p { margin: 0 0 12px; color: var(--soft); font-size: 12.5px; }
  > button { width: 100%; display: inline-flex; align-items: center; justify-content: center; gap: 7px; margin-bottom: 14px; }
`
const Tiles = styled.ul`
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 14px 10px;
`
const Tile = styled.li`
  position: relative;
  min-width: 0;
  .take { display: block; width: 100%; padding: 0; border: 1px solid var(--rule); border-radius: 3px; overflow: hidden; background: linear-gradient(var(--stage-near), var(--stage)); aspect-ratio: 3 / 2; cursor: pointer; color: var(--soft); font-size: 12px; }
  .take img { width: 100%; height: 100%; object-fit: contain; display: block; }
  .take[data-hovered] { border-color: var(--ink); }
  &[data-same] .take { border-color: var(--action); box-shadow: inset 0 0 0 1px var(--action); }
  .remove { position: absolute; top: 4px; right: 4px; border: 0; border-radius: 50%; width: 18px; height: 18px; padding: 0; display: grid; place-items: center; background: var(--paper); color: var(--soft); cursor: pointer; opacity: 0; }
  &:hover .remove, .remove[data-focus-visible] { opacity: 1; }
  .remove[data-hovered] { color: var(--failure); }
  input { width: 100%; border: 0; border-bottom: 1px solid transparent; background: none; padding: 3px 0 0; font: 600 12.5px/1.3 var(--text); outline: none; text-overflow: ellipsis; }
  input:focus { border-bottom-color: var(--action); }
  p { margin: 0; color: var(--soft); font-size: 11.5px; line-height: 1.35; overflow-wrap: anywhere; }
`

/** Kept sets of values with their pictures, side by side. */
export function TryOutsShelf() {
  const store = useWorkbenchStore()
  const tryOuts = useWorkbench((s) => currentPiece(s)?.tryOuts)
  const list = tryOuts ?? []
  return (
    <Part aria-label="Try-outs">
      <p>
        {list.length === 0
          ? 'Keep the values as they are now, go on changing, and see the results side by side. Up to nine for each piece; they all follow your words.'
          : 'Press a picture to take its values. All follow your words.'}
      </p>
      <ActionButton isDisabled={list.length >= MAX_TRY_OUTS} onPress={() => keepTryOut(store)}>
        <Plus size={14} aria-hidden /> {list.length >= MAX_TRY_OUTS ? 'Nine are kept: remove one first' : 'Keep the present values'}
      </ActionButton>
      <Tiles>
        {list.map((tryOut) => (
          <TryOutTile key={tryOut.id} tryOut={tryOut} />
        ))}
      </Tiles>
    </Part>
  )
}

const SIZE = { width: 264, height: 176 }

function TryOutTile({ tryOut }: { tryOut: TryOut }) {
  const store = useWorkbenchStore()
  const document = useWorkbench((s) => s.document)
  const piece = useWorkbench(currentPiece)
  const route = useMemo(() => (piece ? withPresentWords(tryOut, piece) : tryOut.route), [tryOut, piece])
  const work = piece && workOf(document, piece.id, route)
  const url = useSolidPicture(work, route.at(-1)?.id, SIZE, 300)
  const said = piece ? routeDifferences(piece.route, route) : []
  return (
    <Tile data-same={said.length === 0 ? '' : undefined}>
      <Button className="take" aria-label={`Take ${tryOut.name}`} onPress={() => takeTryOut(store, tryOut)}>
        {url && <img src={url} alt="" />}
      </Button>
      <Button className="remove" aria-label={`Remove ${tryOut.name}`} onPress={() => removeTryOut(store, tryOut)}>
        <X size={11} aria-hidden />
      </Button>
      <TextField aria-label={`Name of ${tryOut.name}`} value={tryOut.name} maxLength={60} onChange={(name) => name && renameTryOut(store, tryOut.id, name)}>
        <Input />
      </TextField>
      <p>{said.length === 0 ? 'as it is now' : said.length <= 2 ? said.join(' · ') : `${said.slice(0, 2).join(' · ')} and ${said.length - 2} more`}</p>
    </Tile>
  )
}

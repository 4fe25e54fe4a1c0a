'use client'
import { Plus, X } from 'lucide-react'
import { Button, Input, TextField } from 'react-aria-components'
import styled from 'styled-components'
import { useSolidPicture } from '@/features/view/solid-picture'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { addPiece, removePiece, renamePiece } from '@/state/actions/pieces'
import { NewPieceMenu } from './new-piece-menu'
import { workForPicture } from '@/state/work'

const Strip = styled.div`
  display: flex;
  gap: 8px;
  padding: 12px 16px 10px;
  overflow-x: auto;
  border-bottom: 1px solid var(--rule);
  scrollbar-width: thin;
  flex: none;
`
const Tile = styled.div`
  position: relative;
  width: 74px;
  flex: none;
  /* the caption chooses the piece as its picture does */
  .open { display: block; width: 74px; padding: 0; border: 0; background: none; cursor: pointer; }
  .picture {
    display: block;
    height: 48px;
    border: 1px solid var(--rule);
    border-radius: 3px;
    background: linear-gradient(var(--stage-near), var(--stage));
    overflow: hidden;
  }
  .picture img { width: 100%; height: 100%; object-fit: cover; display: block; }
  &[data-current] .picture { border: 2px solid var(--action); }
  .name, input {
    display: block;
    width: 100%;
    font-size: 11.5px;
    line-height: 20px;
    margin-top: 1px;
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
    text-align: center;
    border: 0;
    padding: 0;
    background: none;
    color: var(--soft);
  }
  &[data-current] input { font-weight: 600; color: var(--ink); }
  .remove {
    position: absolute;
    right: -5px;
    top: -5px;
    width: 17px;
    height: 17px;
    border-radius: 50%;
    border: 1px solid var(--rule);
    background: var(--paper);
    display: grid;
    place-items: center;
    padding: 0;
    opacity: 0;
    cursor: pointer;
  }
  &:hover .remove, .remove:focus-visible { opacity: 1; }
  /* where nothing can hover, as on a tablet, it is always there */
  @media (hover: none) { .remove { opacity: 1; } }
  .new { display: grid; place-items: center; border-style: dashed; background: none; color: var(--soft); }
`

/** The pieces of the project with pictures; the one in hand is marked. */
export function PieceStrip() {
  const store = useWorkbenchStore()
  const pieces = useWorkbench((s) => s.document.pieces)
  const current = useWorkbench((s) => s.pieceId)
  return (
    <Strip role="group" aria-label="Pieces">
      {pieces.map((piece) => (
        <Tile key={piece.id} data-current={piece.id === current ? '' : undefined}>
          <Button className="open" aria-label={piece.name} aria-pressed={piece.id === current} onPress={() => store.getState().choosePiece(piece.id)}>
            <span className="picture">
              <PiecePicture id={piece.id} />
            </span>
            {piece.id !== current && <span className="name">{piece.name}</span>}
          </Button>
          {piece.id === current && (
            <TextField aria-label="Name of the piece" value={piece.name} maxLength={120} onChange={(name) => name && renamePiece(store, piece.id, name)}>
              <Input />
            </TextField>
          )}
          {pieces.length > 1 && (
            <Button className="remove" aria-label={`Remove ${piece.name}`} onPress={() => removePiece(store, piece.id)}>
              <X size={11} />
            </Button>
          )}
        </Tile>
      ))}
      <Tile>
        <NewPieceMenu without={pieces.length > 0 ? [] : ['outline']} onChoose={(of) => addPiece(store, of)}>
          <Button className="open" aria-label="New piece">
            <span className="picture new">
              <Plus size={18} />
            </span>
            <span className="name">New piece</span>
          </Button>
        </NewPieceMenu>
      </Tile>
    </Strip>
  )
}

const SIZE = { width: 148, height: 96 }

/** The piece as its whole route makes it, drawn when nothing has changed for a moment. */
function PiecePicture({ id }: { id: string }) {
  const work = useWorkbench((s) => workForPicture(s.document, id))
  const url = useSolidPicture(work, work?.route.at(-1)?.id, SIZE, 900)
  return url ? <img src={url} alt="" /> : null
}

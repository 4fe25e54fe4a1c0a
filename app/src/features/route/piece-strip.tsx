'use client'
import { Plus, X } from 'lucide-react'
import { Button, Input, Menu, MenuItem, MenuTrigger, TextField } from 'react-aria-components'
import styled from 'styled-components'
import { PopoverPaper } from '@/ui/controls'
import { useSolidPicture } from '@/features/view/solid-picture'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { addPiece, type NewPiece, removePiece, renamePiece } from '@/state/actions/pieces'
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

const Choices = styled(Menu)`
  outline: none;
  padding: 4px;
  width: 240px;
`
const Choice = styled(MenuItem)`
  display: grid;
  padding: 7px 10px;
  border-radius: 3px;
  outline: none;
  cursor: pointer;
  b { font-weight: 600; }
  small { color: var(--soft); font-size: 12px; }
  &[data-focused] { background: var(--tint); }
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
        <MenuTrigger>
          <Button className="open" aria-label="New piece">
            <span className="picture new">
              <Plus size={18} />
            </span>
            <span className="name">New piece</span>
          </Button>
          <PopoverPaper placement="bottom end">
            <Choices aria-label="New piece" onAction={(key) => addPiece(store, key as NewPiece)}>
              <Choice id="words" textValue="Words">
                <b>Words</b>
                <small>Lettering, extruded and dressed</small>
              </Choice>
              <Choice id="hand" textValue="Drawn by hand">
                <b>Drawn by hand</b>
                <small>Pen and pencil on an empty board</small>
              </Choice>
              <Choice id="drawing" textValue="A drawing">
                <b>A drawing</b>
                <small>An SVG or DXF file, layer by layer</small>
              </Choice>
              <Choice id="picture" textValue="A picture">
                <b>A picture</b>
                <small>Traced by light and dark or by colours</small>
              </Choice>
              {pieces.length > 0 && (
                <Choice id="outline" textValue="Out of this piece">
                  <b>Out of this piece</b>
                  <small>Its outline or a colour of it, in another form</small>
                </Choice>
              )}
              <Choice id="plate" textValue="A plate">
                <b>A plate</b>
                <small>Rectangle, pill, disc, arch or shield</small>
              </Choice>
              <Choice id="block" textValue="A block">
                <b>A block</b>
                <small>Box, ball, cylinder, cone or ring</small>
              </Choice>
            </Choices>
          </PopoverPaper>
        </MenuTrigger>
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

'use client'
import type { ReactNode } from 'react'
import { Menu, MenuItem, MenuTrigger } from 'react-aria-components'
import styled from 'styled-components'
import { PopoverPaper } from '@/ui/controls'
import type { NewPiece } from '@/state/actions/pieces'

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

const ALL: readonly { readonly of: NewPiece; readonly title: string; readonly what: string }[] = [
  { of: 'words', title: 'Words', what: 'Lettering, extruded and dressed' },
  { of: 'hand', title: 'Drawn by hand', what: 'Pen and pencil on an empty board' },
  { of: 'drawing', title: 'A drawing', what: 'An SVG or DXF file, layer by layer' },
  { of: 'picture', title: 'A picture', what: 'Traced by light and dark or by colours' },
  { of: 'outline', title: 'Out of this piece', what: 'Its outline or a colour of it, in another form' },
  { of: 'plate', title: 'A plate', what: 'Rectangle, pill, disc, arch or shield' },
  { of: 'block', title: 'A block', what: 'Box, ball, cylinder, cone or ring' },
]

/** What a new piece may begin with, under the button that is given. */
export function NewPieceMenu({
  without = [],
  at = 'bottom end',
  onChoose,
  children,
}: {
  without?: readonly NewPiece[]
  at?: 'bottom end' | 'bottom start'
  onChoose: (of: NewPiece) => void
  children: ReactNode
}) {
  return (
    <MenuTrigger>
      {children}
      <PopoverPaper placement={at}>
        <Choices aria-label="New piece" onAction={(key) => onChoose(key as NewPiece)}>
          {ALL.filter(({ of }) => !without.includes(of)).map(({ of, title, what }) => (
            <Choice key={of} id={of} textValue={title}>
              <b>{title}</b>
              <small>{what}</small>
            </Choice>
          ))}
        </Choices>
      </PopoverPaper>
    </MenuTrigger>
  )
}

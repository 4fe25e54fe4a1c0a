'use client'
import { Box, Boxes, DraftingCompass, Globe, Palette, PenTool, Triangle } from 'lucide-react'
import { useState } from 'react'
import { Button, Dialog, DialogTrigger } from 'react-aria-components'
import styled from 'styled-components'
import { useWorkbenchStore } from '@/features/workbench/context'
import { currentPiece, currentWork } from '@/features/workbench/store'
import { ActionButton, PopoverPaper } from '@/ui/controls'
import { makerForQuestions } from '@/workers/maker'

const Body = styled(Dialog)`
  width: 320px;
  padding: 8px;
  outline: none;
  h2 { font-size: 15px; padding: 6px 8px 8px; }
  p { margin: 4px 8px 6px; font-size: 12.5px; color: var(--failure); }
`
const Way = styled(Button)`
  display: grid;
  grid-template-columns: 24px 1fr;
  gap: 0 10px;
  width: 100%;
  border: 0;
  background: none;
  text-align: left;
  padding: 9px 8px;
  border-radius: 3px;
  cursor: pointer;
  svg { grid-row: span 2; align-self: center; color: var(--action); }
  b { font-weight: 600; }
  small { color: var(--soft); font-size: 12px; }
  &[data-hovered], &[data-focus-visible] { background: var(--tint); }
  &[data-disabled] { opacity: 0.5; cursor: default; }
`

const WAYS = [
  { format: 'stl', icon: Box, title: 'For a 3D printer', words: 'STL, binary, millimetres' },
  { format: '3mf', icon: Palette, title: 'For printing in colours', words: '3MF, a material for every surface, millimetres' },
  { format: 'glb', icon: Globe, title: 'For a web page or a renderer', words: 'GLB, a material for every surface' },
  { format: 'obj', icon: Boxes, title: 'For a 3D program', words: 'OBJ with its MTL, zipped' },
  { format: 'ply', icon: Triangle, title: 'For mesh tools', words: 'PLY, binary, a colour for every triangle' },
  { format: 'svg', icon: PenTool, title: 'For a cutter or a drawing', words: 'SVG of the outline, exact curves, millimetres' },
  { format: 'dxf', icon: DraftingCompass, title: 'For a CAD program or a router', words: 'DXF of the outline, exact curves, millimetres' },
] as const

const TYPES = {
  '3mf': 'model/3mf',
  obj: 'application/zip',
  ply: 'application/octet-stream',
  stl: 'model/stl',
  glb: 'model/gltf-binary',
  svg: 'image/svg+xml',
  dxf: 'image/vnd.dxf',
} as const

/** The button that writes the piece in hand out as a file. */
export function Dispatch() {
  const store = useWorkbenchStore()
  const [busy, setBusy] = useState<string>()
  const [message, setMessage] = useState('')

  async function write(format: (typeof WAYS)[number]['format'], close: () => void) {
    const piece = currentPiece(store.getState())
    const work = currentWork(store.getState())
    if (!piece || !work) return setMessage('There is no piece to write out. Add one first.')
    setBusy(format)
    setMessage('')
    try {
      const result = await (await makerForQuestions()).dispatch(work, format, piece.name)
      if ('issue' in result) return setMessage(`${result.issue.message} ${result.issue.remedy}`)
      const url = URL.createObjectURL(new Blob([result.bytes as BlobPart], { type: TYPES[format] }))
      const link = document.createElement('a')
      link.href = url
      link.download = `${fileName(piece.name)}.${format === 'obj' ? 'zip' : format}`
      link.click()
      setTimeout(() => URL.revokeObjectURL(url), 10_000)
      close()
    } catch (error) {
      console.error(error)
      setMessage('The file could not be written. Nothing in the project has changed; try again.')
    } finally {
      setBusy(undefined)
    }
  }

  return (
    <DialogTrigger>
      <ActionButton>Dispatch</ActionButton>
      <PopoverPaper placement="bottom end">
        <Body aria-label="Dispatch">
          {({ close }) => (
            <>
              <h2>Write this piece out</h2>
              {WAYS.map(({ format, icon: Icon, title, words }) => (
                <Way key={format} isDisabled={busy !== undefined} onPress={() => write(format, close)}>
                  <Icon size={20} aria-hidden />
                  <b>{title}</b>
                  <small>{busy === format ? 'Writing…' : words}</small>
                </Way>
              ))}
              {message && <p role="alert">{message}</p>}
            </>
          )}
        </Body>
      </PopoverPaper>
    </DialogTrigger>
  )
}

const fileName = (name: string) =>
  name
    .normalize('NFKD')
    .replace(/[^\p{L}\p{N}]+/gu, '-')
    .replace(/^-+|-+$/g, '')
    .toLowerCase()
    .slice(0, 60) || 'piece'

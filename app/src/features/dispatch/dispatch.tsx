'use client'
import { Box, Boxes, DraftingCompass, Globe, Image, Palette, PenTool, Triangle } from 'lucide-react'
import { useState } from 'react'
import { ListBox, ListBoxItem } from 'react-aria-components'
import styled from 'styled-components'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { ActionButton, Choice } from '@/ui/buttons'
import { NumberInput, SheetDialog, SwitchInput } from '@/ui/controls'
import { LongWorkLine, useLongWork } from '@/ui/long-work'
import { fileName, saveFile } from '@/ui/save-file'
import { desk } from '@/workers/maker'
import { shownTriangles } from '@/workers/view-mesh'
import type { MakerApi, DispatchFormat, DispatchOptions } from '@/workers/messages'
import { currentPiece, currentWork } from '@/state/work'

const Body = styled.div`
  display: grid;
  grid-template-columns: 300px minmax(0, 1fr);
  border-top: 1px solid var(--rule);
  min-height: 452px;
`
const Ways = styled(ListBox)`
  padding: 8px;
  border-right: 1px solid var(--rule);
  outline: none;
`
const Way = styled(ListBoxItem)`
  display: grid;
  grid-template-columns: 24px 1fr;
  gap: 0 10px;
  padding: 8px;
  border-radius: 3px;
  outline: none;
  cursor: pointer;
  svg { grid-row: span 2; align-self: center; color: var(--action); }
  b { font-weight: 600; }
  small { color: var(--soft); font-size: 12px; }
  &[data-hovered] { background: color-mix(in srgb, var(--ink) 5%, transparent); }
  &[data-selected] { background: var(--tint); box-shadow: inset 3px 0 0 var(--action); }
  &[data-focus-visible] { outline: 2px solid var(--action); outline-offset: -2px; }
`
const Chosen = styled.section`
  display: flex;
  flex-direction: column;
  gap: 8px;
  padding: 18px 22px 20px;
  h3 { font-size: 16px; }
  > p { margin: 0; color: var(--soft); max-width: 46ch; }
  .bad { color: var(--failure); font-weight: 600; }
  .do { margin-top: auto; display: flex; align-items: center; gap: 14px; }
  .do small { color: var(--soft); }
`

const PICTURE = 'png'
const STOPPED = 'Stopped; nothing was written.'
type Format = DispatchFormat | typeof PICTURE

const WAYS: readonly { format: Format; icon: typeof Box; title: string; words: string; more: string }[] = [
  { format: 'stl', icon: Box, title: 'For a 3D printer', words: 'STL, binary', more: 'Triangles alone, in millimetres, as every slicer reads them.' },
  { format: '3mf', icon: Palette, title: 'For printing in colours', words: '3MF', more: 'In millimetres, with the colour of every surface.' },
  { format: 'glb', icon: Globe, title: 'For a web page or a renderer', words: 'GLB', more: 'One file with materials; in metres, as its standard asks.' },
  {
    format: 'obj',
    icon: Boxes,
    title: 'For a 3D program',
    words: 'OBJ with its MTL, zipped',
    more: 'With normals, texture coordinates in millimetres and materials.',
  },
  { format: 'ply', icon: Triangle, title: 'For mesh tools', words: 'PLY, binary', more: 'In millimetres, with a colour for every triangle.' },
  {
    format: 'svg',
    icon: PenTool,
    title: 'For a cutter or a drawing',
    words: 'SVG of the outline',
    more: 'The exact curves of the last outline on the route, in millimetres.',
  },
  {
    format: 'dxf',
    icon: DraftingCompass,
    title: 'For a CAD program or a router',
    words: 'DXF of the outline',
    more: 'The exact curves of the last outline on the route, in millimetres.',
  },
  {
    format: PICTURE,
    icon: Image,
    title: 'A picture',
    words: 'PNG of the view',
    more: 'What the view shows, from where you see it now, without lines and handles.',
  },
]

const TYPES: Record<DispatchFormat, string> = {
  '3mf': 'model/3mf',
  obj: 'application/zip',
  ply: 'application/octet-stream',
  stl: 'model/stl',
  glb: 'model/gltf-binary',
  svg: 'image/svg+xml',
  dxf: 'image/vnd.dxf',
}

/** The button and the sheet that write the piece in hand out as a file. */
export function Dispatch() {
  const store = useWorkbenchStore()
  const name = useWorkbench((s) => currentPiece(s)?.name)
  const [open, setOpen] = useState(false)
  const [format, setFormat] = useState<Format>('stl')
  const [options, setOptions] = useState<DispatchOptions>({ scale: 1, up: 'y', parts: 'dressed', copies: 'instances' })
  const [large, setLarge] = useState(false)
  const [transparent, setTransparent] = useState(false)
  const work = useLongWork()
  const [message, setMessage] = useState('')
  const way = WAYS.find((w) => w.format === format) ?? WAYS[0]
  const solid = !['svg', 'dxf', PICTURE].includes(format)
  const coloured = solid && format !== 'stl'
  const many = useWorkbench((s) => s.mesh?.copies?.reduce((sum, { numbers }) => sum + numbers.length, 0) ?? 0)
  const manyTriangles = useWorkbench((s) => (s.mesh ? shownTriangles(s.mesh) : 0))
  const keepsCopies = many > 0 && (format === 'glb' || format === '3mf')
  const copies = options.copies === 'nodes' && format !== 'glb' ? 'instances' : options.copies
  const parts = options.parts === 'merged' && !coloured ? 'dressed' : options.parts

  async function picture(signal: AbortSignal, tell: (done: number) => void): Promise<Blob | string> {
    const { mesh } = store.getState()
    if (!mesh) return 'The view shows no solid to take a picture of. Open a piece that has one.'
    const { STILL_SIZES, takeStill } = await import('@/features/view/still')
    const { width, height } = STILL_SIZES[large ? 1 : 0]
    return takeStill(mesh, { width, height, transparent }, signal, tell)
  }

  async function file(as: DispatchFormat, piece: string, signal: AbortSignal): Promise<Blob | string> {
    const wanted = currentWork(store.getState())
    if (!wanted) return 'There is no piece to write out. Add one first.'
    const result: Awaited<ReturnType<MakerApi['dispatch']>> = await desk.ask(
      async (maker, job) => maker.dispatch(job, wanted, as, piece, { ...options, parts, copies }),
      signal,
    )
    if ('issue' in result) return `${result.issue.message} ${result.issue.remedy}`
    return new Blob([result.bytes as BlobPart], { type: solid && parts === 'letters' ? 'application/zip' : TYPES[as] })
  }

  async function write() {
    setMessage('')
    try {
      const made = (await work.run((signal, tell) => (format === PICTURE ? picture(signal, tell) : file(format, name ?? 'piece', signal)))) ?? STOPPED
      if (typeof made === 'string') return setMessage(made)
      saveFile(made, `${fileName(name ?? '')}.${format === 'obj' || (solid && parts === 'letters') ? 'zip' : format}`)
      setOpen(false)
    } catch (error) {
      console.error(error)
      setMessage(
        format === PICTURE && large
          ? 'So large a picture cannot be drawn on this machine. Choose 1920 × 1080.'
          : 'The file could not be written. Nothing in the project has changed; try again.',
      )
    }
  }

  return (
    <>
      <ActionButton onPress={() => setOpen(true)}>Dispatch</ActionButton>
      <SheetDialog title={`Dispatch${name ? `: ${name}` : ''}`} open={open} onClose={() => setOpen(false)} width={720}>
        <Body>
          <Ways
            aria-label="What for"
            autoFocus
            selectionMode="single"
            disallowEmptySelection
            selectedKeys={[format]}
            onSelectionChange={(keys) => {
              setFormat([...(keys as Set<Format>)][0])
              setMessage('')
            }}
          >
            {WAYS.map(({ format: id, icon: Icon, title, words }) => (
              <Way key={id} id={id} textValue={title}>
                <Icon size={20} aria-hidden />
                <b>{title}</b>
                <small>{words}</small>
              </Way>
            ))}
          </Ways>
          <Chosen aria-label={way.title}>
            <h3>{way.title}</h3>
            <p>{way.more}</p>
            {solid && (
              <>
                <Choice
                  label="Upwards"
                  value={options.up}
                  options={[
                    { id: 'y', label: 'Lies on its back' },
                    { id: 'z', label: 'Stands upright' },
                  ]}
                  onChange={(up) => setOptions({ ...options, up })}
                />
                <p>In programs whose Z points upwards, as slicers’ does. Where Y does, the first one stands.</p>
                <NumberInput
                  label="Scale"
                  unit="%"
                  min={0.1}
                  max={100_000}
                  step={5}
                  value={Number((options.scale * 100).toFixed(4))}
                  onChange={(percent) => setOptions({ ...options, scale: percent / 100 })}
                />
                <Choice
                  label="Files"
                  value={parts}
                  options={[
                    { id: 'dressed' as const, label: coloured ? 'By surface' : 'In one' },
                    ...(coloured ? [{ id: 'merged' as const, label: 'Merged' }] : []),
                    { id: 'letters' as const, label: 'Letter by letter' },
                  ]}
                  onChange={(next) => setOptions({ ...options, parts: next })}
                />
                <p>
                  {parts === 'letters'
                    ? 'A file for every letter, in one zip. Letters that are joined stay together.'
                    : parts === 'merged'
                      ? 'All of it as one surface in the material of the face.'
                      : coloured
                        ? 'One file, with a material for every surface.'
                        : 'One file with all of the piece.'}
                </p>
              </>
            )}
            {solid && many > 0 && (
              <>
                {keepsCopies && parts === 'dressed' && (
                  <Choice
                    label="Copies"
                    value={copies}
                    options={[
                      { id: 'instances' as const, label: 'As copies' },
                      ...(format === 'glb' ? [{ id: 'nodes' as const, label: 'A node each' }] : []),
                      { id: 'one' as const, label: 'One solid' },
                    ]}
                    onChange={(next) => setOptions({ ...options, copies: next })}
                  />
                )}
                <p>
                  {keepsCopies && parts === 'dressed' && copies !== 'one'
                    ? `${many.toLocaleString('en')} copies; each unit stands in the file once.`
                    : `${many.toLocaleString('en')} copies become one solid of up to ${manyTriangles.toLocaleString('en')} triangles, united where they meet.`}
                </p>
              </>
            )}
            {format === PICTURE && (
              <>
                <Choice
                  label="Size"
                  value={large ? 'large' : 'plain'}
                  options={[
                    { id: 'plain', label: '1920 × 1080' },
                    { id: 'large', label: '3840 × 2160' },
                  ]}
                  onChange={(size) => setLarge(size === 'large')}
                />
                <SwitchInput label="Transparent" value={transparent} onChange={setTransparent} />
              </>
            )}
            {message && (
              <p className="bad" role="alert">
                {message}
              </p>
            )}
            <div className="do">
              <ActionButton isDisabled={work.busy} onPress={() => void write()}>
                {work.busy ? 'Writing…' : 'Write it out'}
              </ActionButton>
              <LongWorkLine work={work} words={format === PICTURE ? 'Drawing' : 'Making'} />
            </div>
          </Chosen>
        </Body>
      </SheetDialog>
    </>
  )
}

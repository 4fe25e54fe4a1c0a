'use client'
import { FACE_KINDS } from '@kelvar/core/font/kinds'
import { scriptName } from '@kelvar/core/font/scripts'
import { FileUp, Search, Trash2, X } from 'lucide-react'
import { useMemo, useState } from 'react'
import { Button, DropZone, FileTrigger, GridList, GridListItem, Input, ListLayout, SearchField, Virtualizer } from 'react-aria-components'
import styled from 'styled-components'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { PlainButton } from '@/ui/buttons'
import { PickInput } from '@/ui/controls'
import { LongWorkLine, useLongWork } from '@/ui/long-work'
import { type CaseFace, type Handed, lacking, useCaseChanges, useTypeCase } from './library'
import { useSpecimen } from './specimens'
import { currentPiece } from '@/state/work'
import { setFace } from '@/state/actions/files'
import { placeOf } from '@/state/actions/steps'

const Drawer = styled.aside`
  display: flex;
  flex-direction: column;
  width: 424px;
  flex: none;
  background: var(--paper);
  border-right: 1px solid var(--ink);
  min-height: 0;
  .drop { display: flex; flex-direction: column; flex: 1; min-height: 0; outline: none; }
  .drop[data-drop-target] { background: var(--tint); box-shadow: inset 0 0 0 2px var(--action); }
`
const Head = styled.div`
  padding: 11px 16px 10px;
  border-bottom: 1px solid var(--rule);
  display: grid;
  gap: 9px;
  .title { display: flex; align-items: baseline; gap: 8px; }
  .title h2 { font-size: 16px; }
  .title small { color: var(--soft); }
  .title button { margin-left: auto; }
  .filters { display: grid; grid-template-columns: 1fr 108px 108px; gap: 12px; align-items: end; }
  .search { display: flex; align-items: center; gap: 6px; border-bottom: 1px solid var(--ink); min-width: 0; }
  .search input { flex: 1; min-width: 0; border: 0; background: none; padding: 5px 0; outline: none; }
  .search:focus-within { border-color: var(--action); box-shadow: 0 1px 0 var(--action); }
`
const Faces = styled(GridList)`
  flex: 1;
  min-height: 0;
  overflow: auto;
  outline: none;
  scrollbar-width: thin;
` as typeof GridList
const ROW = 88
const Row = styled(GridListItem)`
  position: relative;
  height: ${ROW}px;
  padding: 10px 16px 8px;
  > [role='gridcell'] { display: grid; grid-template-rows: 44px auto; gap: 6px; min-width: 0; }
  border-bottom: 1px solid color-mix(in srgb, var(--rule) 70%, transparent);
  cursor: pointer;
  outline: none;
  svg.specimen { height: 44px; width: 100%; fill: var(--ink); display: block; }
  .facts { display: flex; gap: 7px; align-items: baseline; white-space: nowrap; overflow: hidden; font-size: 12px; color: var(--soft); }
  .facts b { color: var(--ink); font-weight: 600; overflow: hidden; text-overflow: ellipsis; }
  .lacks { color: var(--caution); overflow: hidden; text-overflow: ellipsis; }
  .use { margin-left: auto; color: var(--action); font-weight: 600; }
  .aside { margin-left: auto; display: flex; gap: 8px; align-items: center; }
  .aside a { color: var(--soft); text-decoration-thickness: 1px; text-underline-offset: 2px; }
  &[data-hovered] { background: color-mix(in srgb, var(--ink) 4%, transparent); }
  &[data-focus-visible] { box-shadow: inset 0 0 0 2px var(--action); }
  &[data-selected] { background: var(--tint); box-shadow: inset 4px 0 0 var(--action); }
`
const Told = styled.ul`
  list-style: none;
  margin: 0;
  padding: 8px 16px;
  border-bottom: 1px solid var(--rule);
  display: grid;
  gap: 6px;
  font-size: 12.5px;
  max-height: 180px;
  overflow: auto;
  li { padding-left: 9px; border-left: 3px solid var(--action); }
  li[data-refused] { border-color: var(--failure); }
  b { font-weight: 600; }
`
const Foot = styled.p`
  margin: 0;
  padding: 9px 16px;
  border-top: 1px solid var(--rule);
  color: var(--soft);
  font-size: 12px;
`

/** What a face shows when it lacks the words' own characters: words of its script. */
const OWN_WORDS: Readonly<Record<string, string>> = { Arab: 'مهرجان الفوانيس', Hebr: 'יריד הפנסים', Deva: 'लालटेन मेला', Hira: 'みなと祭り' }

function Specimen({ face, words }: { face: CaseFace; words: string }) {
  const lacks = lacking(face, words).length > 0
  const shown = lacks ? (OWN_WORDS[face.scripts[0]] ?? 'Lantern Fair') : words
  const drawing = useSpecimen(face.sha256, shown)
  if (drawing === null) return <span className="lacks">This face cannot be opened.</span>
  if (!drawing) return <span />
  // capitals are 10 high: every specimen is shown at the same size, wide ones smaller
  const [x, y, width, height] = drawing.box
  const top = Math.min(y, -12)
  const box = [x, top, Math.max(width, 92), Math.max(height + (y - top), 16.5)]
  return (
    <svg
      className="specimen"
      viewBox={box.join(' ')}
      preserveAspectRatio="xMinYMid meet"
      aria-hidden
      data-lacks={lacks ? '' : undefined}
      opacity={lacks ? 0.55 : 1}
    >
      <path d={drawing.path} />
    </svg>
  )
}

const all = 'all'

/** The drawer of faces: live specimens of the words in hand, filters, and a place to add one's own. */
export function TypeCase() {
  const step = useWorkbench((s) => s.typeCase)
  return step ? <OpenCase key={step} stepId={step} /> : null
}

function OpenCase({ stepId }: { stepId: string }) {
  const store = useWorkbenchStore()
  const params = useWorkbench((s) => currentPiece(s)?.route.find((r) => r.id === stepId)?.params)
  const { faces, failed, reload } = useTypeCase()
  const { handIn, takeOut } = useCaseChanges()
  const [query, setQuery] = useState('')
  const [kind, setKind] = useState<string>(all)
  const [script, setScript] = useState<string>(all)
  const [told, setTold] = useState<readonly Handed[]>([])
  const work = useLongWork()
  const text = String(params?.text ?? '')
  const words = text.trim().split('\n')[0].slice(0, 28) || 'Kelvar'
  const used = (params?.font as { sha256?: string } | undefined)?.sha256
  const shown = useMemo(() => {
    const wanted = query.trim().toLowerCase()
    return faces
      .filter(
        (f) => (kind === all || f.kind === kind) && (script === all || f.scripts.includes(script)) && `${f.name} ${f.kind}`.toLowerCase().includes(wanted),
      )
      .map((face) => ({ face, id: face.sha256 }))
  }, [faces, query, kind, script])
  const kinds = FACE_KINDS.filter((k) => faces.some((f) => f.kind === k))
  const scripts = [...new Set(faces.flatMap((f) => f.scripts))].sort((a, b) => scriptName(a).localeCompare(scriptName(b)))

  async function take(files: readonly File[]) {
    if (files.length === 0) return
    const at = placeOf(store, stepId)
    const result = await work.run((signal, tell) => handIn(files, signal, tell))
    if (!result) return
    setTold(result.handed)
    const [first] = result.faces
    if (!first) return
    setKind(all)
    setScript(all)
    setQuery('')
    setFace(store, at, first)
  }

  return (
    <Drawer aria-label="Type case">
      <DropZone
        className="drop"
        aria-label="Drop font files here"
        getDropOperation={() => 'copy'}
        onDrop={async (event) => {
          const dropped = await Promise.all(event.items.map((item) => (item.kind === 'file' ? item.getFile() : undefined)))
          await take(dropped.filter((file) => file !== undefined))
        }}
      >
        <Head>
          <div className="title">
            <h2>Type case</h2>
            <small>{shown.length === faces.length ? `${faces.length} faces` : `${shown.length} of ${faces.length} faces`}</small>
            <PlainButton aria-label="Close the type case" onPress={() => store.getState().openTypeCase(undefined)}>
              <X size={16} />
            </PlainButton>
          </div>
          <div className="filters">
            <SearchField className="search" aria-label="Search faces" value={query} onChange={setQuery}>
              <Search size={14} aria-hidden />
              <Input placeholder="Search" />
            </SearchField>
            <PickInput
              bare
              label="Kind"
              value={kind}
              onChange={setKind}
              options={[{ id: all, label: 'All kinds' }, ...kinds.map((id) => ({ id, label: id }))]}
            />
            <PickInput
              bare
              label="Script"
              value={script}
              onChange={setScript}
              options={[{ id: all, label: 'All scripts' }, ...scripts.map((id) => ({ id, label: scriptName(id) }))]}
            />
          </div>
          <FileTrigger allowsMultiple acceptedFileTypes={['.ttf', '.otf', '.ttc', '.otc', '.woff', '.woff2']} onSelect={(files) => take([...(files ?? [])])}>
            <PlainButton isDisabled={work.busy} style={{ justifySelf: 'start', color: 'var(--action)', fontWeight: 600, paddingLeft: 0 }}>
              <FileUp size={15} /> {work.busy ? 'Reading the fonts…' : 'Add fonts of your own'}
            </PlainButton>
          </FileTrigger>
          <LongWorkLine work={work} words="Reading" />
        </Head>
        {told.length > 0 && (
          <Told role="status" aria-label="What became of the files">
            {told.map((t) => (
              <li key={t.file} data-refused={t.ok ? undefined : ''}>
                <b>{t.file}</b> {t.ok ? '' : 'was not added. '}
                {t.message}
              </li>
            ))}
          </Told>
        )}
        {failed && (
          <Told role="alert">
            <li data-refused="">
              Only the faces that ship with Kelvar are shown: the server does not answer. <Button onPress={reload}>Try again</Button>
            </li>
          </Told>
        )}
        {shown.length === 0 ? (
          <p style={{ padding: '14px 16px', color: 'var(--soft)', flex: 1 }}>
            No face is called that, or of that kind and script. Clear a filter, or add a font of your own.
          </p>
        ) : (
          <Virtualizer layout={ListLayout} layoutOptions={{ rowHeight: ROW }}>
            <Faces
              aria-label="Faces"
              items={shown}
              selectionMode="single"
              disallowEmptySelection
              selectedKeys={used ? [used] : []}
              onSelectionChange={(keys) => {
                const face = faces.find((f) => f.sha256 === [...keys][0])
                if (face) setFace(store, placeOf(store, stepId), face)
              }}
              dependencies={[words, used]}
            >
              {({ face }: { face: CaseFace }) => {
                const missing = lacking(face, text)
                return (
                  <Row id={face.sha256} textValue={face.name}>
                    <Specimen face={face} words={words} />
                    <div className="facts">
                      <b>{face.name}</b>
                      {missing.length > 0 ? (
                        <span className="lacks">lacks {missing.slice(0, 8).join(' ')}</span>
                      ) : (
                        <span>
                          {face.kind}
                          {face.scripts[0] && face.scripts[0] !== 'Latn' ? ` · ${scriptName(face.scripts[0])}` : ''}
                        </span>
                      )}
                      <span className="aside">
                        {face.sha256 === used && <span className="use">in use</span>}
                        {face.shipped ? (
                          <a
                            href={`/api/licences/${face.shipped}`}
                            target="_blank"
                            rel="noreferrer"
                            onClick={(e) => e.stopPropagation()}
                            onPointerDown={(e) => e.stopPropagation()}
                            onPointerUp={(e) => e.stopPropagation()}
                          >
                            licence
                          </a>
                        ) : (
                          <span title={face.licence}>your own</span>
                        )}
                        {!face.shipped && face.sha256 !== used && (
                          <PlainButton aria-label={`Take ${face.name} out of the type case`} style={{ padding: 2 }} onPress={() => takeOut(face.sha256)}>
                            <Trash2 size={13} />
                          </PlainButton>
                        )}
                      </span>
                    </div>
                  </Row>
                )
              }}
            </Faces>
          </Virtualizer>
        )}
        <Foot>TTF, OTF, WOFF, WOFF2 and collections up to 30 MB; drop them anywhere here. Fonts stay on this machine and travel with the project.</Foot>
      </DropZone>
    </Drawer>
  )
}

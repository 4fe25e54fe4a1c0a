'use client'
import { graphemes } from '@kelvar/core/document/letters'
import { againstFace, UNMOVED_PLACE } from '@kelvar/core/document/place'
import { masksAtRest } from '@kelvar/core/steps/fields'
import { stepKind } from '@kelvar/core/steps/registry'
import { Canvas } from '@react-three/fiber'
import { useEffect, useMemo, useRef, useState } from 'react'
import { Button, ToggleButton, ToggleButtonGroup, Toolbar } from 'react-aria-components'
import styled from 'styled-components'
import type * as THREE from 'three'
import { usePiecesNow, useWorkbench, useWorkbenchStore } from '@/state/context'
import { isKeyOf, useShortcuts } from '@/ui/shortcuts'
import { DimensionFigures, DimensionLines } from './dimensions'
import { PlaceKeeper, PlacePins, useIssuePlaces } from './issue-places'
import { HandlePlacer, Handles, type Screen } from './handles'
import { OutlinePicture } from './outline-picture'
import { Painting } from './painting'
import { usePlaceKnobs } from './place-handles'
import { useMaskKnobs, useMaskLines } from './mask-knobs'
import { MaskLegend, useMaskShown } from './mask-view'
import { FINE, PlayPace, type Ratio } from './play-pace'
import { Progress } from './progress'
import { Camera, type Request, TURNS } from './camera'
import { PickedCopyFrame, useCopyKnob, useCopyPick } from './copies'
import { FrameGhosts } from './frame-ghosts'
import { useLed, useMotionBox } from './motion-box'
import { GhostPieces, NO_OTHERS, OtherPieces, useJoinedPieces, useOtherPieces } from './other-pieces'
import { LayingMarks, useLaying, useLayingKnobs } from './laying-handles'
import { type Cast, CastKeeper, SpaceKnobKeeper, SpaceKnobs } from './space-knobs'
import { StepLines, useStepKnobs } from './step-knobs'
import { PieceInSpace, PickedLetters, useTurning } from './piece'
import { boxAbout, FIELD_OF_VIEW, matrixOf, setUpRenderer, STANDARD_VIEWS, type StandardView } from './scene'
import { firstSection, type Section, useSectionKnobs } from './section'
import { Stage } from './stage'
import { useBefore, WipedScene, WipeLine } from './wipe'
import { isThere } from '@/workers/view-mesh'
import { currentPiece } from '@/state/work'
import { setPlace } from '@/state/actions/pieces'
import { setParam } from '@/state/actions/steps'
import { AGAINST } from '@/state/store'

const Frame = styled.section`
  position: relative;
  flex: 1;
  min-width: 0;
  min-height: 0;
  container-type: inline-size;
  background: radial-gradient(ellipse 75% 65% at 50% 44%, var(--stage-near) 0%, var(--stage) 62%, var(--stage-far) 100%);
  canvas { display: block; touch-action: none; }
  &[data-aiming] canvas { cursor: crosshair; }
  &[data-foreign] canvas { visibility: hidden; }
  &[data-stale] canvas { opacity: 0.72; transition: opacity 0.15s 0.12s; }
`
const Views = styled(Toolbar)`
  position: absolute;
  top: 10px;
  right: 14px;
  display: flex;
  align-items: center;
  gap: 2px;
  z-index: 8;
  .group { display: flex; gap: 2px; }
  .view {
    border: 0;
    background: none;
    padding: 5px 7px;
    font-size: 12.5px;
    white-space: nowrap;
    color: var(--soft);
    border-bottom: 2px solid transparent;
    cursor: pointer;
  }
  /* beside the type case */
  @container (max-width: 560px) {
    right: 8px;
    gap: 0;
    .group { gap: 0; }
    .view { padding-inline: 4px; font-size: 12px; }
  }
  .view[data-hovered] { color: var(--ink); }
  .view[data-selected] { color: var(--ink); font-weight: 600; border-bottom-color: var(--ink); }
`
const Middle = styled.div`
  position: absolute;
  inset: 0;
  display: grid;
  place-content: center;
  text-align: center;
  color: var(--soft);
  font-size: 14px;
  pointer-events: none;
  svg { width: min(70vw, 720px); max-height: 50vh; fill: var(--ink); }
  p { margin: 0; }
`

/** The piece as a solid, drawn only when something changes. */
export function View() {
  const store = useWorkbenchStore()
  const source = useWorkbench((s) => currentPiece(s)?.route.find((step) => step.on && step.kind === 'lettering'))
  const picked = useWorkbench((s) => s.picked)
  const latest = useWorkbench((s) => s.mesh)
  const hidden = useWorkbench((s) => s.view === 'Draw')
  // out of sight, under the drawing board, nothing is drawn anew; and the canvas stays when there is no solid for once
  const seen = useRef(latest)
  if (latest && (!hidden || !seen.current)) seen.current = latest
  const mesh = seen.current
  const picking = useWorkbench((s) => (s.picking && s.picking.key === s.meshKey && s.mesh === mesh ? s.picking : undefined))
  const together = useWorkbench((s) => s.together)
  const pieceId = useWorkbench((s) => s.pieceId)
  const several = useWorkbench((s) => s.document.pieces.length > 1)
  const pieces = usePiecesNow()
  const piece = pieces.find(({ id }) => id === pieceId)
  const place = piece?.place
  const joined = useJoinedPieces()
  const beside = useOtherPieces(hidden || !several ? NO_OTHERS : together ? 'all' : joined)
  const others = together ? beside : NO_OTHERS
  const matrix = useMemo(() => (together ? matrixOf(place) : undefined), [together, place])
  const about = useMemo(
    () =>
      mesh &&
      boxAbout([
        // a piece of which nothing is there yet has no box
        ...(isThere(mesh) ? [{ box: mesh.box, matrix }] : []),
        ...others.map((o) => ({ box: o.mesh.box, matrix: o.matrix })),
      ]),
    [mesh, matrix, others],
  )
  const lastBox = useRef(about)
  if (about) lastBox.current = about
  const box = lastBox.current
  const stageBox = useMotionBox(box)
  const led = useLed()
  const { turning, begin, end } = useTurning()
  const meshPiece = useWorkbench((s) => s.meshPiece)
  const making = useWorkbench((s) => s.making)
  const playing = useWorkbench((s) => s.playing)
  const news = useWorkbench((s) => s.news)
  const empty = useWorkbench((s) => s.document.pieces.length === 0)
  const figures = useRef<HTMLDivElement>(null)
  const pins = useRef<HTMLDivElement>(null)
  const places = useIssuePlaces()
  const [view, setView] = useState<StandardView | undefined>('Three-quarter')
  const [request, setRequest] = useState<Request>({ view: 'Three-quarter', count: 0 })
  const ask = (next: Request['view']) => setRequest((r) => ({ view: next, count: r.count + 1 }))
  const look = (next: StandardView) => {
    setView(next)
    ask(next)
  }
  const knobs = useRef<HTMLDivElement>(null)
  const [screen] = useState<Screen>(() => new Map())
  const [wiping, setWiping] = useState(false)
  const [line, setLine] = useState(0.5)
  /** the key for it is down */
  const [held, setHeld] = useState(false)
  const before = useBefore((wiping || held) && !hidden && !together)
  const maskMesh = useMaskShown()
  const painting = useWorkbench((s) => s.painting !== undefined)
  const [weight, setWeight] = useState<number>()
  const maskKind = useWorkbench((s) => stepKind(currentPiece(s)?.route.find((step) => step.id === s.maskShown)?.kind ?? ''))
  const masking = maskKind !== undefined && !together && before === undefined
  const openTitle = useWorkbench((s) => stepKind(currentPiece(s)?.route.find((step) => step.id === s.openStep)?.kind ?? '')?.title)
  const frame = useRef<HTMLElement>(null)
  const [ratio, setRatio] = useState<Ratio>(FINE)
  useShortcuts({
    side: () => !hidden && look(STANDARD_VIEWS[(STANDARD_VIEWS.indexOf(view ?? 'Three-quarter') + 1) % STANDARD_VIEWS.length]),
    whole: () => !hidden && ask('Fit'),
    wipe: (event) => {
      if (!hidden && !event.repeat && !wiping) setHeld(true)
    },
  })
  useEffect(() => {
    if (!held) return
    const end = (event: KeyboardEvent | FocusEvent) => {
      if (!('key' in event) || isKeyOf('wipe', event)) setHeld(false)
    }
    window.addEventListener('keyup', end)
    // a key that is let go in another window is not heard of
    window.addEventListener('blur', end)
    return () => {
      window.removeEventListener('keyup', end)
      window.removeEventListener('blur', end)
    }
  }, [held])
  useEffect(() => {
    setView('Three-quarter')
    setCutBy(undefined)
  }, [meshPiece])
  // the one is told in the project's coordinates, the other in the piece's
  useEffect(() => setCutBy(undefined), [together])
  const failedStep = news && !news.complete
  // the canvas stays, but another piece's solid must not be taken for this one's
  const foreign = mesh !== undefined && (!latest || (meshPiece !== pieceId && !making && failedStep === true))
  const offsets = useMemo(() => graphemes(String(source?.params.text ?? '')).map((letter) => letter.at), [source])
  const pickedLetters = useMemo(() => picked.map((at) => offsets.indexOf(at)).filter((i) => i >= 0), [picked, offsets])
  const aiming = useWorkbench((s) => s.aiming)
  const laying = useLaying()
  const cast = useRef<Cast | undefined>(undefined)
  const spaceLayer = useRef<HTMLDivElement>(null)
  const [cutBy, setCutBy] = useState<Section>()
  const section = before !== undefined ? undefined : cutBy
  const sectionKnobs = useSectionKnobs(box, section, cast, setCutBy)
  const layingKnobs = useLayingKnobs(mesh, cast)
  const stepKnobs = useStepKnobs(cast)
  const copyKnob = useCopyKnob(mesh, cast)
  const maskKnobs = useMaskKnobs(cast)
  const maskLines = useMaskLines(mesh)
  const stepLines = useWorkbench((s) => s.news?.steps.find(({ id }) => id === s.openStep)?.marks?.lines)
  const named = useMemo(() => others.map((o) => ({ ...o, name: pieces.find((p) => p.id === o.id)?.name ?? '' })), [others, pieces])
  const placeKnobs = usePlaceKnobs(together && meshPiece === pieceId ? piece : undefined, mesh, named, cast)
  const spaceKnobs = useMemo(
    () => (together ? [...placeKnobs, ...sectionKnobs] : [...sectionKnobs, ...layingKnobs, ...(masking ? maskKnobs : [...stepKnobs, ...copyKnob])]),
    [together, placeKnobs, sectionKnobs, layingKnobs, stepKnobs, copyKnob, maskKnobs, masking],
  )
  const against = aiming === AGAINST
  const onFace = (at: THREE.Vector3, normal: THREE.Vector3) => {
    if (!against || !piece || !mesh) return false
    const place = againstFace(mesh.box, piece.place ?? UNMOVED_PLACE, at.toArray(), normal.toArray())
    setPlace(store, piece.id, { ...place, position: place.position.map((v) => Number(v.toFixed(3))) as typeof place.position }, 'against a face')
    store.getState().aim(undefined)
    return true
  }
  const pick = (letter: number, added: boolean, at: THREE.Vector3) => {
    if (against) return
    if (aiming) {
      setParam(
        store,
        aiming,
        'point',
        [at.x, at.y, at.z].map((v) => Number(v.toFixed(2))),
        'Pick a spot',
      )
      store.getState().aim(undefined)
      return
    }
    if (!source || offsets[letter] === undefined) return
    store.getState().pick([offsets[letter]], added)
    store.getState().unfold(source.id)
  }
  const pickCopy = useCopyPick(mesh)
  const drawing = news?.steps.findLast((s) => s.drawing)?.drawing

  return (
    <Frame
      ref={frame}
      aria-label="View of the piece"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: the view is turned by keys
      tabIndex={0}
      onKeyDown={(event) => {
        const turn = event.target === event.currentTarget ? TURNS[event.key] : undefined
        if (!turn || event.altKey || event.ctrlKey || event.metaKey) return
        event.preventDefault()
        setView(undefined)
        ask(turn)
      }}
      data-stale={latest && ((making && !playing) || failedStep) ? '' : undefined}
      data-foreign={foreign ? '' : undefined}
      data-aiming={aiming ? '' : undefined}
    >
      {/* drawing begins to be made ready before there is anything to be drawn */}
      {(box || !empty) && (
        <Canvas
          frameloop="demand"
          shadows
          dpr={ratio}
          camera={{ fov: FIELD_OF_VIEW, near: 1, far: 20000 }}
          gl={{ antialias: true, alpha: true, preserveDrawingBuffer: true }}
          onCreated={({ gl }) => setUpRenderer(gl)}
          onPointerMissed={(event) => event.type === 'click' && (store.getState().pick([]), store.getState().pickCopy(undefined))}
        >
          {mesh && box && (
            <>
              <Stage box={stageBox ?? box} content={masking && maskMesh ? maskMesh.mesh : others.length > 0 ? others : mesh} coarse={ratio !== FINE} />
              {before !== undefined ? (
                <WipedScene at={line} before={before && <PieceInSpace mesh={before} onPick={() => {}} />} after={<PieceInSpace mesh={mesh} onPick={pick} />} />
              ) : masking && maskMesh ? (
                <PieceInSpace key="mask" mesh={maskMesh.mesh} tree={maskMesh.tree} onPick={() => {}} onWeight={setWeight} />
              ) : (
                <PieceInSpace
                  mesh={mesh}
                  matrix={matrix}
                  tree={picking?.tree}
                  lighter={picking?.lighter}
                  turning={turning}
                  section={section}
                  id={pieceId}
                  onPick={pick}
                  onPickCopy={pickCopy}
                />
              )}
              <OtherPieces pieces={others} section={section} onFace={onFace} />
              {!together && before === undefined && <GhostPieces pieces={beside} />}
              {!together && before === undefined && !masking && <FrameGhosts />}
              {!together && <PickedLetters mesh={mesh} letters={pickedLetters} />}
              {!together && before === undefined && <PickedCopyFrame mesh={mesh} />}
              {isThere(mesh) && !playing && <DimensionLines box={box} layer={figures} />}
              {!together && places.length > 0 && <PlaceKeeper places={places} layer={pins} />}
              <CastKeeper cast={cast} />
              {!together && laying?.marks && before === undefined && <LayingMarks marks={laying.marks} />}
              {!together && !masking && stepLines && before === undefined && <StepLines lines={stepLines} />}
              {masking && maskLines.length > 0 && <StepLines lines={maskLines} />}
              <SpaceKnobKeeper knobs={spaceKnobs} layer={spaceLayer} />
              {!together && !masking && !playing && <HandlePlacer mesh={mesh} layer={knobs} screen={screen} />}
              <Camera
                led={led}
                box={stageBox ?? box}
                pieceKey={together ? 'together' : (meshPiece ?? '')}
                request={request}
                onMove={() => {
                  setView(undefined)
                  begin()
                }}
                onRest={end}
              />
              <PlayPace onRatio={setRatio} />
            </>
          )}
        </Canvas>
      )}
      {mesh && isThere(mesh) && box && !foreign && !playing && <DimensionFigures box={box} layer={figures} />}
      {mesh && !foreign && !together && before === undefined && places.length > 0 && <PlacePins places={places} layer={pins} />}
      {mesh && !foreign && !hidden && before === undefined && !together && !masking && !playing && <Handles mesh={mesh} layer={knobs} screen={screen} />}
      {mesh && !foreign && !hidden && before === undefined && !playing && spaceKnobs.length > 0 && (
        <SpaceKnobs knobs={spaceKnobs} layer={spaceLayer} label="Handles in space" />
      )}
      {before !== undefined && (
        <WipeLine
          at={line}
          width={frame.current?.clientWidth ?? 1}
          left={`Before${openTitle ? ` ${openTitle}` : ''}`}
          right="The piece now"
          onChange={setLine}
        />
      )}
      {masking && maskMesh && painting && !hidden && <Painting shown={maskMesh} cast={cast} frame={frame} />}
      {masking && maskMesh !== undefined && !hidden && (
        <MaskLegend title={maskKind.title} value={weight} missing={maskMesh === null} atRest={masksAtRest(maskKind)} />
      )}
      <Progress />
      {(!mesh || foreign) && (
        <Middle>
          {empty ? (
            <p>This project has no pieces. Add one at the upper left.</p>
          ) : drawing && news?.complete ? (
            <OutlinePicture drawing={drawing} label="The outline" />
          ) : failedStep ? (
            <p>Nothing to show yet: see the step marked in the route.</p>
          ) : (
            <p data-pulse>Setting up the workshop…</p>
          )}
        </Middle>
      )}
      {mesh && !foreign && (
        <Views aria-label="Standard views">
          <ToggleButtonGroup
            className="group"
            selectionMode="single"
            selectedKeys={view ? [view] : []}
            onSelectionChange={(keys) => {
              look(([...keys][0] ?? view) as StandardView)
            }}
          >
            {STANDARD_VIEWS.map((v) => (
              <ToggleButton className="view" key={v} id={v}>
                {v}
              </ToggleButton>
            ))}
          </ToggleButtonGroup>
          <Button className="view" onPress={() => ask('Fit')}>
            Fit
          </Button>
          {several && (
            <ToggleButton className="view" isSelected={together} onChange={(all) => store.getState().lookAtAll(all)}>
              All pieces
            </ToggleButton>
          )}
          <ToggleButton className="view" isSelected={cutBy !== undefined} onChange={(on) => setCutBy(on && box ? firstSection(box) : undefined)}>
            Section
          </ToggleButton>
          <ToggleButton className="view" isSelected={wiping || held} onChange={setWiping} isDisabled={!openTitle || together}>
            Before / after
          </ToggleButton>
        </Views>
      )}
    </Frame>
  )
}

'use client'
import { graphemes } from '@kelvar/core/steps/lettering/letters'
import { stepKind } from '@kelvar/core/steps/registry'
import { ContactShadows, Line, OrbitControls } from '@react-three/drei'
import { Canvas, useThree } from '@react-three/fiber'
import { memo, useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { Button, ToggleButton, ToggleButtonGroup, Toolbar } from 'react-aria-components'
import styled from 'styled-components'
import * as THREE from 'three'
import type { OrbitControls as Orbit } from 'three-stdlib'
import { useWorkbench, useWorkbenchStore } from '@/features/workbench/context'
import { currentPiece } from '@/features/workbench/store'
import { isKeyOf, useShortcuts } from '@/features/workbench/shortcuts'
import { useThemeColour } from '@/ui/day-and-night'
import type { ViewMesh } from '@/workers/view-mesh'
import { DimensionFigures, DimensionLines } from './dimensions'
import { HandlePlacer, Handles, type Screen } from './handles'
import { OutlinePicture } from './outline-picture'
import { Progress } from './progress'
import { lendStudio } from './pictures'
import {
  FIELD_OF_VIEW,
  framingOf,
  groupGeometries,
  groupMaterials,
  keyLight,
  letterBoxes,
  retire,
  setUpRenderer,
  STANDARD_VIEWS,
  type StandardView,
  standFor,
} from './scene'
import { useBefore, WipedScene, WipeLine } from './wipe'

const Frame = styled.section`
  position: relative;
  flex: 1;
  min-width: 0;
  min-height: 0;
  background: radial-gradient(ellipse 75% 65% at 50% 44%, var(--stage-near) 0%, var(--stage) 62%, var(--stage-far) 100%);
  canvas { display: block; touch-action: none; }
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
    color: var(--soft);
    border-bottom: 2px solid transparent;
    cursor: pointer;
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

/** A press that moves further than this, in pixels, turns the view and picks nothing. */
const STILL = 4

function Piece({ mesh, onPick }: { mesh: ViewMesh; onPick: (letter: number, added: boolean) => void }) {
  const geometries = useMemo(() => groupGeometries(mesh), [mesh])
  const materials = useMemo(() => groupMaterials(mesh), [mesh])
  useEffect(
    () => () => {
      for (const geometry of geometries) geometry.dispose()
      retire(materials)
    },
    [geometries, materials],
  )
  return (
    <group>
      {mesh.groups.map(({ letters }, i) => (
        <mesh
          key={i}
          geometry={geometries[i]}
          material={materials[i]}
          castShadow
          receiveShadow
          onClick={(event) => {
            event.stopPropagation()
            if (event.delta > STILL || event.faceIndex == null) return
            onPick(letters[event.faceIndex], event.shiftKey || event.ctrlKey || event.metaKey)
          }}
        />
      ))}
    </group>
  )
}

/** A frame about every letter that is picked. */
function PickedLetters({ mesh, letters }: { mesh: ViewMesh; letters: readonly number[] }) {
  const boxes = useMemo(() => letterBoxes(mesh, letters), [mesh, letters])
  const action = useThemeColour('--action')
  return boxes.map(([x0, y0, x1, y1, z], i) => (
    <Line
      key={letters[i]}
      points={[
        [x0, y0, z],
        [x1, y0, z],
        [x1, y1, z],
        [x0, y1, z],
        [x0, y0, z],
      ]}
      color={action}
      lineWidth={1.8}
      depthTest={false}
      renderOrder={3}
    />
  ))
}

/** Light, soft shadows and air of the default stage; rendered anew for a new solid only, since its shadows are drawn then. */
const Stage = memo(function Stage({ mesh }: { mesh: ViewMesh }) {
  const gl = useThree((s) => s.gl)
  const camera = useThree((s) => s.camera)
  const invalidate = useThree((s) => s.invalidate)
  useEffect(() => lendStudio({ renderer: gl, camera }), [gl, camera])
  const framing = useMemo(() => framingOf(mesh.box), [mesh])
  const light = useMemo(() => keyLight(framing, 2048), [framing])
  useEffect(() => {
    // the shadow is drawn anew only when what throws it has changed
    gl.shadowMap.autoUpdate = false
    gl.shadowMap.needsUpdate = true
    invalidate()
    return () => light.dispose()
  }, [gl, light, invalidate])
  const reach = Math.max(framing.size.x, framing.size.y)
  const ground = mesh.box[1]
  return (
    <>
      <primitive object={light} />
      <primitive object={light.target} />
      <mesh position={[framing.centre.x, ground - reach * 0.0005, framing.centre.z]} rotation-x={-Math.PI / 2} scale={reach * 8} receiveShadow>
        <planeGeometry />
        <shadowMaterial transparent opacity={0.26} color="#3a2d1c" />
      </mesh>
      {/* one frame for every new solid: the component counts anew whenever it is rendered */}
      <ContactShadows
        frames={1}
        position={[framing.centre.x, ground + reach * 0.0004, framing.centre.z]}
        scale={reach * 1.7}
        far={Math.max(framing.size.y * 0.5, 1)}
        resolution={256}
        blur={1.6}
        opacity={0.42}
        color="#2b2114"
      />
    </>
  )
})

/** A turn about the piece, in radians across and over it, and how much nearer to it as a factor of the distance. */
interface Turn {
  readonly across: number
  readonly over: number
  readonly nearer: number
}

interface Request {
  readonly view: StandardView | 'Fit' | Turn
  readonly count: number
}

/** What keys do while the view has the focus. */
const TURNS: Readonly<Record<string, Turn>> = {
  ArrowLeft: { across: -0.1, over: 0, nearer: 1 },
  ArrowRight: { across: 0.1, over: 0, nearer: 1 },
  ArrowUp: { across: 0, over: -0.1, nearer: 1 },
  ArrowDown: { across: 0, over: 0.1, nearer: 1 },
  '+': { across: 0, over: 0, nearer: 0.9 },
  '-': { across: 0, over: 0, nearer: 1 / 0.9 },
}

/** The camera and how it is moved; told what to do through `request`. */
function Camera({ mesh, pieceKey, request, onMove }: { mesh: ViewMesh; pieceKey: string; request: Request; onMove: () => void }) {
  const controls = useRef<Orbit>(null)
  const pulling = useWorkbench((s) => s.pulling)
  const { camera, size, invalidate } = useThree()
  const box = useRef(mesh.box)
  box.current = mesh.box
  const shown = useRef<string>(undefined)
  const place = useCallback(
    (view: StandardView | 'Fit') => {
      const framing = framingOf(box.current)
      const target = controls.current?.target ?? new THREE.Vector3()
      const direction = camera.position.clone().sub(target)
      camera.position.copy(standFor(view === 'Fit' ? (direction.lengthSq() > 0 ? direction : 'Three-quarter') : view, framing, size.width / size.height))
      const reach = framing.size.length()
      if (camera instanceof THREE.PerspectiveCamera) {
        camera.near = Math.max(0.5, reach / 60)
        camera.far = reach * 60
        camera.updateProjectionMatrix()
      }
      controls.current?.target.copy(framing.centre)
      controls.current?.update()
      // what is picked before the next frame is drawn is picked from where the camera now stands
      camera.updateMatrixWorld()
      invalidate()
    },
    [camera, size, invalidate],
  )
  const turn = useCallback(
    ({ across, over, nearer }: Turn) => {
      const target = controls.current?.target ?? new THREE.Vector3()
      const stand = new THREE.Spherical().setFromVector3(camera.position.clone().sub(target))
      stand.theta += across
      stand.phi = Math.min(Math.PI - 0.05, Math.max(0.05, stand.phi + over))
      stand.radius = Math.min(20000, Math.max(5, stand.radius * nearer))
      camera.position.copy(target).add(new THREE.Vector3().setFromSpherical(stand))
      controls.current?.update()
      camera.updateMatrixWorld()
      invalidate()
    },
    [camera, invalidate],
  )
  // a new piece, or words that have outgrown the frame, are framed; any other change leaves the camera alone
  const width = mesh.box[3] - mesh.box[0]
  const framedWidth = useRef(0)
  useEffect(() => {
    if (shown.current !== pieceKey) {
      shown.current = pieceKey
      framedWidth.current = width
      place('Three-quarter')
    } else if (pulling) {
      // what is being pulled must not move under the hand
    } else if (width > framedWidth.current * 1.12 || width < framedWidth.current * 0.6) {
      framedWidth.current = width
      place('Fit')
    }
  }, [pieceKey, width, place, pulling])
  // a view of another shape shows the same from the same side
  const aspect = size.width / size.height
  const framedAspect = useRef(aspect)
  useEffect(() => {
    if (Math.abs(aspect - framedAspect.current) < 0.01) return
    framedAspect.current = aspect
    place('Fit')
  }, [aspect, place])
  const asked = useRef(0)
  useEffect(() => {
    if (request.count === asked.current) return
    asked.current = request.count
    if (typeof request.view === 'object') turn(request.view)
    else place(request.view)
  }, [request, place, turn])
  return <OrbitControls ref={controls} makeDefault enableDamping={false} onStart={onMove} minDistance={5} maxDistance={20000} />
}

/** The piece as a solid, drawn only when something changes. */
export function View() {
  const store = useWorkbenchStore()
  const source = useWorkbench((s) => currentPiece(s)?.route.find((step) => step.on && step.kind === 'lettering'))
  const picked = useWorkbench((s) => s.picked)
  const latest = useWorkbench((s) => s.mesh)
  const hidden = useWorkbench((s) => s.view !== 'Model')
  // out of sight, under the drawing board, nothing is drawn anew
  const seen = useRef(latest)
  if (!hidden || !seen.current) seen.current = latest
  const mesh = seen.current
  const meshPiece = useWorkbench((s) => s.meshPiece)
  const making = useWorkbench((s) => s.making)
  const news = useWorkbench((s) => s.news)
  const pieceId = useWorkbench((s) => s.pieceId)
  const empty = useWorkbench((s) => s.document.pieces.length === 0)
  const figures = useRef<HTMLDivElement>(null)
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
  const before = useBefore((wiping || held) && !hidden)
  const openTitle = useWorkbench((s) => stepKind(currentPiece(s)?.route.find((step) => step.id === s.openStep)?.kind ?? '')?.title)
  const frame = useRef<HTMLElement>(null)
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
  useEffect(() => setView('Three-quarter'), [meshPiece])
  const failedStep = news && !news.complete
  // the canvas stays, but another piece's solid must not be taken for this one's
  const foreign = mesh !== undefined && meshPiece !== pieceId && !making && failedStep
  const offsets = useMemo(() => graphemes(String(source?.params.text ?? '')).map((letter) => letter.at), [source])
  const pickedLetters = useMemo(() => picked.map((at) => offsets.indexOf(at)).filter((i) => i >= 0), [picked, offsets])
  const pick = (letter: number, added: boolean) => {
    if (!source || offsets[letter] === undefined) return
    store.getState().pick([offsets[letter]], added)
    store.getState().unfold(source.id)
  }
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
      data-stale={mesh && (making || failedStep) ? '' : undefined}
      data-foreign={foreign ? '' : undefined}
    >
      {mesh && (
        <Canvas
          frameloop="demand"
          shadows
          dpr={[1, 2]}
          camera={{ fov: FIELD_OF_VIEW, near: 1, far: 20000 }}
          gl={{ antialias: true, alpha: true, preserveDrawingBuffer: true }}
          onCreated={({ gl }) => setUpRenderer(gl)}
          onPointerMissed={(event) => event.type === 'click' && store.getState().pick([])}
        >
          <Stage mesh={mesh} />
          {before !== undefined ? (
            <WipedScene at={line} before={before && <Piece mesh={before} onPick={() => {}} />} after={<Piece mesh={mesh} onPick={pick} />} />
          ) : (
            <Piece mesh={mesh} onPick={pick} />
          )}
          <PickedLetters mesh={mesh} letters={pickedLetters} />
          <DimensionLines box={mesh.box} layer={figures} />
          <HandlePlacer mesh={mesh} layer={knobs} screen={screen} />
          <Camera mesh={mesh} pieceKey={meshPiece ?? ''} request={request} onMove={() => setView(undefined)} />
        </Canvas>
      )}
      {mesh && !foreign && <DimensionFigures box={mesh.box} layer={figures} />}
      {mesh && !foreign && !hidden && before === undefined && <Handles mesh={mesh} layer={knobs} screen={screen} />}
      {before !== undefined && (
        <WipeLine
          at={line}
          width={frame.current?.clientWidth ?? 1}
          left={`Before${openTitle ? ` ${openTitle}` : ''}`}
          right="The piece now"
          onChange={setLine}
        />
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
          <ToggleButton className="view" isSelected={wiping || held} onChange={setWiping} isDisabled={!openTitle}>
            Before / after
          </ToggleButton>
        </Views>
      )}
    </Frame>
  )
}

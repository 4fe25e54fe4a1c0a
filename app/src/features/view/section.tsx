'use client'
import { loopArea, type SectionLoop, sectionLoops } from '@kelvar/core/solid/section'
import { useThree } from '@react-three/fiber'
import { ArrowLeftRight, Rotate3d } from 'lucide-react'
import { type RefObject, useEffect, useMemo } from 'react'
import * as THREE from 'three'
import type { ViewCopies, ViewMesh } from '@/workers/view-mesh'
import type { Box } from './scene'
import { standInStage } from './stage-light'
import { alongLine, type Cast, type Point, type SpaceKnob } from './space-knobs'

/** A plane that what is shown is cut open by, in the view's coordinates; what lies on the side of its normal is taken away. */
export interface Section {
  readonly point: Point
  readonly normal: Point
}

/** Nearer to an axis than this, degrees, a section lies across it. */
const HOLD = 6
const SIZE = 14
const NONE: readonly SpaceKnob[] = []

/** Where a section first lies: across the middle, open to where one looks from. */
export function firstSection(box: Box): Section {
  return { point: [0, 1, 2].map((k) => (box[k] + box[k + 3]) / 2) as unknown as Point, normal: [-1, 0, 0] }
}

/** The same plane in the coordinates of something that stands there by a matrix. */
export function sectionBeside({ point, normal }: Section, matrix: THREE.Matrix4): Section {
  const back = matrix.clone().invert()
  return { point: new THREE.Vector3(...point).applyMatrix4(back).toArray(), normal: new THREE.Vector3(...normal).transformDirection(back).toArray() }
}

/** The plane as three.js clips with it. */
export function useClipping(section: Section | undefined): THREE.Plane[] | undefined {
  return useMemo(
    () => section && [new THREE.Plane().setFromNormalAndCoplanarPoint(new THREE.Vector3(...section.normal).negate(), new THREE.Vector3(...section.point))],
    [section],
  )
}

/** Knobs that push and tilt the section. */
export function useSectionKnobs(
  box: Box | undefined,
  section: Section | undefined,
  cast: RefObject<Cast | undefined>,
  onChange: (section: Section) => void,
): readonly SpaceKnob[] {
  return useMemo(() => {
    if (!box || !section) return NONE
    const { point, normal } = section
    const [x0, y0, z0, x1, y1, z1] = box
    const size = Math.hypot(x1 - x0, y1 - y0, z1 - z0)
    const arm = 0.22 * size
    const moved = (from: Point, mm: number): Point => [0, 1, 2].map((k) => from[k] + mm * normal[k]) as unknown as Point
    const off = [0, 1, 2].reduce((sum, k) => sum + (point[k] - (box[k] + box[k + 3]) / 2) * normal[k], 0)
    const tilted = (to: THREE.Vector3): Point => {
      const n = to.clone().normalize()
      const axes = [new THREE.Vector3(1, 0, 0), new THREE.Vector3(0, 1, 0), new THREE.Vector3(0, 0, 1)].flatMap((a) => [a, a.clone().negate()])
      const held = axes.find((a) => (n.angleTo(a) * 180) / Math.PI < HOLD)
      return (held ?? n).toArray()
    }
    const aside = sideways(normal)
    return [
      {
        name: 'section-push',
        at: point,
        icon: <ArrowLeftRight size={SIZE} aria-hidden />,
        words: `Section ${off.toFixed(1)} mm off the middle`,
        label: 'Section: push',
        value: Number(off.toFixed(2)),
        begin(x, y) {
          const ray = cast.current?.ray(x, y)
          if (!ray) return undefined
          const start = alongLine(ray, point, normal)
          return (px, py, fine) => {
            const now = cast.current?.ray(px, py)
            if (now) onChange({ normal, point: moved(point, (alongLine(now, point, normal) - start) * (fine ? 0.2 : 1)) })
          }
        },
        key: (right, up, fine) => onChange({ normal, point: moved(point, (right + up) * (fine ? 0.1 : 1)) }),
      },
      {
        name: 'section-tilt',
        at: moved(point, arm),
        icon: <Rotate3d size={SIZE} aria-hidden />,
        words: 'Tilt the section',
        label: 'Section: tilt',
        begin() {
          return (px, py) => {
            const ray = cast.current?.ray(px, py)
            if (!ray) return
            // the ball about the middle on which the knob goes
            const centre = new THREE.Vector3(...point)
            const at = ray.intersectSphere(new THREE.Sphere(centre, arm), new THREE.Vector3()) ?? ray.closestPointToPoint(centre, new THREE.Vector3())
            onChange({ point, normal: tilted(at.sub(centre)) })
          }
        },
        key(right, up, fine) {
          const turn = ((fine ? 1 : 7) * Math.PI) / 180
          const [x, y] = aside
          const n = [0, 1, 2].map((k) => normal[k] + Math.tan(turn) * (right * x[k] + up * y[k]))
          onChange({ point, normal: new THREE.Vector3(...(n as [number, number, number])).normalize().toArray() })
        },
      },
    ]
  }, [box, section, cast, onChange])
}

function sideways(normal: Point): readonly [Point, Point] {
  const n = new THREE.Vector3(...normal)
  const x = new THREE.Vector3(...(Math.abs(normal[1]) < 0.9 ? [0, 1, 0] : [0, 0, 1])).cross(n).normalize()
  return [x.toArray(), n.clone().cross(x).toArray()]
}

/** What the section lays open, filled in the material of what is cut. */
export function SectionCaps({ mesh, section }: { mesh: ViewMesh; section: Section }) {
  const invalidate = useThree((s) => s.invalidate)
  const { geometry, materials } = useMemo(() => capsOf(mesh, section), [mesh, section])
  useEffect(() => {
    invalidate()
    return () => {
      geometry.dispose()
      for (const material of materials) material.dispose()
    }
  }, [geometry, materials, invalidate])
  return <mesh geometry={geometry} material={materials} raycast={() => {}} receiveShadow />
}

/** Of so many copies what is laid open is filled. */
const MOST_CAPPED = 400

/** What the section lays open in copies. */
export function CopyCaps({ copies, section }: { copies: ViewCopies; section: Section }) {
  const cut = useMemo(() => {
    const plane = new THREE.Plane().setFromNormalAndCoplanarPoint(new THREE.Vector3(...section.normal), new THREE.Vector3(...section.point))
    const [x0, y0, z0, x1, y1, z1] = copies.mesh.box
    const box = new THREE.Box3(new THREE.Vector3(x0, y0, z0), new THREE.Vector3(x1, y1, z1))
    return Array.from({ length: copies.matrices.length / 16 }, (_, i) => new THREE.Matrix4().fromArray(copies.matrices, 16 * i))
      .filter((matrix) => plane.intersectsBox(box.clone().applyMatrix4(matrix)))
      .slice(0, MOST_CAPPED)
      .map((matrix) => ({ matrix, section: sectionBeside(section, matrix) }))
  }, [copies, section])
  return cut.map(({ matrix, section: own }, i) => (
    <group key={i} matrix={matrix} matrixAutoUpdate={false}>
      <SectionCaps mesh={copies.mesh} section={own} />
    </group>
  ))
}

function capsOf(mesh: ViewMesh, { point, normal }: Section): { geometry: THREE.BufferGeometry; materials: THREE.Material[] } {
  const [x, y] = sideways(normal)
  const loops = sectionLoops(mesh, point, x, y)
  const outer = loops.filter((loop) => loopArea(loop) > 0).map((loop) => ({ loop, holes: [] as SectionLoop[], area: loopArea(loop) }))
  outer.sort((a, b) => a.area - b.area)
  for (const hole of loops) if (loopArea(hole) < 0) outer.find(({ loop }) => within(loop, hole.xy[0], hole.xy[1]))?.holes.push(hole)
  const positions: number[] = []
  const bySurface = new Map<number, number[]>()
  for (const { loop, holes } of outer) {
    const base = positions.length / 3
    const all = [loop, ...holes].map(({ xy }) => Array.from({ length: xy.length / 2 }, (_, i) => new THREE.Vector2(xy[2 * i], xy[2 * i + 1])))
    for (const { x: u, y: v } of all.flat()) positions.push(...[0, 1, 2].map((k) => point[k] + u * x[k] + v * y[k]))
    const surface = surfaceOf(mesh, loop)
    const list = bySurface.get(surface) ?? []
    for (const [a, b, c] of THREE.ShapeUtils.triangulateShape(all[0], all.slice(1))) list.push(base + a, base + b, base + c)
    bySurface.set(surface, list)
  }
  const geometry = new THREE.BufferGeometry()
  geometry.setAttribute('position', new THREE.Float32BufferAttribute(positions, 3))
  geometry.setAttribute(
    'normal',
    new THREE.Float32BufferAttribute(
      Array.from({ length: positions.length }, (_, i) => normal[i % 3]),
      3,
    ),
  )
  const indices: number[] = []
  const materials = [...bySurface].map(([surface, list], i) => {
    geometry.addGroup(indices.length, list.length, i)
    for (const v of list) indices.push(v)
    return standInStage(
      new THREE.MeshStandardMaterial({ color: mesh.surfaces[surface]?.material.colour ?? '#aaa294', roughness: 0.9, metalness: 0, side: THREE.DoubleSide }),
    )
  })
  geometry.setIndex(indices)
  return { geometry, materials }
}

/** The surface that most of a loop was cut from. */
function surfaceOf({ surfaces }: ViewMesh, { xy, triangles }: SectionLoop): number {
  const lengths = new Float64Array(Math.max(1, surfaces.length))
  triangles.forEach((t, i) => {
    const j = (2 * i + 2) % xy.length
    const surface = surfaces.findIndex(({ start, count }) => 3 * t >= start && 3 * t < start + count)
    if (surface >= 0) lengths[surface] += Math.hypot(xy[j] - xy[2 * i], xy[j + 1] - xy[2 * i + 1])
  })
  return lengths.indexOf(Math.max(...lengths))
}

function within({ xy }: SectionLoop, x: number, y: number): boolean {
  let inside = false
  for (let i = 0, j = xy.length - 2; i < xy.length; j = i, i += 2)
    if (xy[i + 1] > y !== xy[j + 1] > y && x < ((xy[j] - xy[i]) * (y - xy[i + 1])) / (xy[j + 1] - xy[i + 1]) + xy[i]) inside = !inside
  return inside
}

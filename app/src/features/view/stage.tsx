import { ContactShadows } from '@react-three/drei'
import { useThree } from '@react-three/fiber'
import { memo, useEffect, useMemo, useRef } from 'react'
import { lendStudio } from './pictures'
import { type Box, type Framing, framingOf, keyLight, shadedGround } from './scene'

/** Sides of the shadow's picture, pixels; the coarse one while frames pass by faster than they can be drawn. */
const FINE = 2048
const COARSE = 512
/** Of how many frames the shadow is drawn for one while they pass so fast, and how many the dark under the piece, which says less. */
const SHADOW_EVERY = 2
const CONTACT_EVERY = 6

/** A value, or while it may be coarse the one of so many changes that is let through. */
function useEvery<T>(value: T, every: number): T {
  const seen = useRef({ last: value, shown: value, passed: 0 })
  const now = seen.current
  if (now.last !== value) {
    now.last = value
    now.passed++
  }
  if (now.passed >= every || every === 1) {
    now.shown = value
    now.passed = 0
  }
  return now.shown
}

/** Light, soft shadows and air of the default stage; rendered anew for new solids only, since their shadows are drawn then. */
export const Stage = memo(function Stage({ box, content, coarse }: { box: Box; content: unknown; coarse?: boolean }) {
  const gl = useThree((s) => s.gl)
  const camera = useThree((s) => s.camera)
  const invalidate = useThree((s) => s.invalidate)
  useEffect(() => lendStudio({ renderer: gl, camera }), [gl, camera])
  const framing = useMemo(() => framingOf(box), [box])
  const throwing = useEvery(content, coarse ? SHADOW_EVERY : 1)
  const standing = useEvery(content, coarse ? CONTACT_EVERY : 1)
  const light = useMemo(() => {
    const light = keyLight(framing, coarse ? COARSE : FINE)
    // in texels: as soft on the ground either way
    if (coarse) light.shadow.radius *= COARSE / FINE
    return light
  }, [framing, coarse])
  useEffect(() => {
    // the shadow is drawn anew only when what throws it has changed
    gl.shadowMap.autoUpdate = false
    gl.shadowMap.needsUpdate = true
    invalidate()
    return () => light.dispose()
  }, [gl, light, invalidate, throwing])
  const reach = Math.max(framing.size.x, framing.size.y)
  const ground = box[1]
  const shade = useMemo(() => shadedGround(box, light), [box, light])
  return (
    <>
      <primitive object={light} />
      <primitive object={light.target} />
      <mesh position={[shade.x, ground - reach * 0.0005, shade.z]} rotation-x={-Math.PI / 2} scale={[shade.width, shade.depth, 1]} receiveShadow>
        <planeGeometry />
        <shadowMaterial transparent opacity={0.26} color="#3a2d1c" />
      </mesh>
      <DarkUnder framing={framing} ground={ground} content={standing} />
    </>
  )
})

/** Drawn once for every new solid: what draws it counts anew whenever it is rendered. */
const DarkUnder = memo(function DarkUnder({ framing, ground }: { framing: Framing; ground: number; content: unknown }) {
  const reach = Math.max(framing.size.x, framing.size.y)
  return (
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
  )
})

import { useEffect, useMemo } from 'react'
import { LineMaterial } from 'three/examples/jsm/lines/LineMaterial.js'
import { LineSegments2 } from 'three/examples/jsm/lines/LineSegments2.js'
import { LineSegmentsGeometry } from 'three/examples/jsm/lines/LineSegmentsGeometry.js'

/**
 * Straight pieces of line as one drawing: x, y, z of both ends of each, mm; `width` is in pixels. The material stays while the lines change: thrown away with them, its shader
 * would be compiled again for every new solid.
 */
export function Segments({ ends, colour, width, opacity }: { ends: Float32Array; colour: string; width: number; opacity: number }) {
  const material = useMemo(() => new LineMaterial({ color: colour, linewidth: width, transparent: true, opacity }), [colour, width, opacity])
  const geometry = useMemo(() => new LineSegmentsGeometry().setPositions(ends), [ends])
  const lines = useMemo(() => new LineSegments2(geometry, material), [geometry, material])
  useEffect(() => () => geometry.dispose(), [geometry])
  useEffect(() => () => material.dispose(), [material])
  return <primitive object={lines} raycast={unpicked} />
}

const unpicked = () => {}

'use client'
import { useFrame, useThree } from '@react-three/fiber'
import { type RefObject, useEffect, useMemo } from 'react'
import styled from 'styled-components'
import * as THREE from 'three'
import { useWorkbench } from '@/state/context'
import { Overlay } from './overlay'

const Layer = styled(Overlay)`
  i {
    position: absolute;
    left: 0;
    top: 0;
    width: 18px;
    height: 18px;
    border: 2px solid var(--action);
    border-radius: 50% 50% 50% 0;
    rotate: -45deg;
    transform-origin: 0 0;
    background: color-mix(in srgb, var(--paper) 82%, transparent);
    visibility: hidden;
  }
`

type Places = readonly (readonly [number, number, number])[]

/** The places that what is said of the open step points at; or where the solid is thinnest, when that is asked for. */
export function useIssuePlaces(): Places {
  const news = useWorkbench((s) => s.news)
  const open = useWorkbench((s) => s.openStep)
  const pointing = useWorkbench((s) => s.pointing)
  const thinnest = useWorkbench((s) => (s.showsThinnest && s.thinnest?.key === s.meshKey ? s.thinnest?.place : undefined))
  return useMemo(() => {
    if (thinnest) return [thinnest]
    const issues = news?.steps.find((step) => step.id === open)?.issues ?? []
    const one = issues.filter(({ code }) => code === pointing)
    return (one.length > 0 ? one : issues).flatMap((issue) => issue.places ?? [])
  }, [news, open, pointing, thinnest])
}

/** A pin for every place, above the canvas; `PlaceKeeper` moves them to their places whenever it is drawn. */
export function PlacePins({ places, layer }: { places: Places; layer: RefObject<HTMLDivElement | null> }) {
  return (
    <Layer ref={layer} role="img" aria-label={`${places.length} ${places.length === 1 ? 'place' : 'places'} pointed out`}>
      {places.map((place) => (
        <i key={place.join()} />
      ))}
    </Layer>
  )
}

/** Moves the pins, their tips on the places. */
export function PlaceKeeper({ places, layer }: { places: Places; layer: RefObject<HTMLDivElement | null> }) {
  const invalidate = useThree((s) => s.invalidate)
  // they may be asked for while nothing else has changed
  useEffect(() => invalidate(), [places, invalidate])
  useFrame(({ camera, size }) => {
    places.forEach((place, i) => {
      const pin = layer.current?.children[i]
      if (!(pin instanceof HTMLElement)) return
      const v = new THREE.Vector3(...place).project(camera)
      pin.style.visibility = v.z < 1 ? 'visible' : 'hidden'
      pin.style.translate = `${((v.x * 0.5 + 0.5) * size.width).toFixed(1)}px ${((0.5 - v.y * 0.5) * size.height - 18).toFixed(1)}px`
    })
  })
  return null
}

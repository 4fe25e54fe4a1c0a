import { useEffect, useState } from 'react'
import { FontFace as CoreFace, type FontAxis } from '@kelvar/core/font/face'

const loading = new Map<string, Promise<void>>()

/** CSS family under which a face of the type case is loaded for specimens. */
export const specimenFamily = (sha256: string): string => `specimen-${sha256.slice(0, 12)}`

/** Loads a face for specimens; true once it can be shown. */
export function useSpecimen(sha256: string): boolean {
  const [ready, setReady] = useState(false)
  useEffect(() => {
    let gone = false
    let load = loading.get(sha256)
    if (!load) {
      const face = new FontFace(specimenFamily(sha256), `url(/api/assets/${sha256})`)
      load = face.load().then(() => {
        document.fonts.add(face)
      })
      loading.set(sha256, load)
    }
    load.then(() => !gone && setReady(true)).catch(() => loading.delete(sha256))
    return () => {
      gone = true
    }
  }, [sha256])
  return ready
}

/** The variation axes of a face; empty until known and for faces that have none. */
export function useAxes(sha256: string): readonly FontAxis[] {
  const [axes, setAxes] = useState<readonly FontAxis[]>([])
  useEffect(() => {
    let gone = false
    setAxes([])
    fetch(`/api/assets/${sha256}`)
      .then((response) => (response.ok ? response.arrayBuffer() : Promise.reject(new Error('not found'))))
      .then((bytes) => CoreFace.open(new Uint8Array(bytes), sha256))
      .then((face) => !gone && setAxes(face.axes))
      .catch(() => {
        // the Lettering step itself says what is wrong with the face
      })
    return () => {
      gone = true
    }
  }, [sha256])
  return axes
}

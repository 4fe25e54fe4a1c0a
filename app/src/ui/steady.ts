import { useCallback, useInsertionEffect, useRef } from 'react'

/** A function that stays the same one and calls the last that was given: for what must not hear of a new handler with every rendering. */
export function useSteady<A extends unknown[], R>(latest: (...args: A) => R): (...args: A) => R {
  const current = useRef(latest)
  useInsertionEffect(() => {
    current.current = latest
  })
  return useCallback((...args: A) => current.current(...args), [])
}

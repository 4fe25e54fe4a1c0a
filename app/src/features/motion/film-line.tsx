'use client'
import { X } from 'lucide-react'
import styled from 'styled-components'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { PlainButton } from '@/ui/buttons'
import { ProgressBar } from '@/ui/long-work'
import { stopFilm } from './film-job'

const Line = styled.div`
  position: absolute;
  top: 10px;
  left: 14px;
  z-index: 9;
  display: flex;
  align-items: center;
  gap: 10px;
  max-width: 460px;
  padding: 4px 6px 4px 12px;
  background: var(--paper);
  border: 1px solid var(--rule);
  border-radius: 4px;
  font-size: 12.5px;
  font-variant-numeric: tabular-nums;
  .stop { color: var(--action); font-weight: 600; }
`

/** Frames that are being written out: how far they are, and the way to end it; it stays while one works on. */
export function FilmLine() {
  const store = useWorkbenchStore()
  const film = useWorkbench((s) => s.film)
  if (!film) return null
  if ('said' in film)
    return (
      <Line role="alert">
        {film.said}
        <PlainButton aria-label="Close" onPress={() => store.getState().tellFilm(undefined)}>
          <X size={14} aria-hidden />
        </PlainButton>
      </Line>
    )
  const words = `${film.words} frame ${Math.min(film.done + 1, film.of)} of ${film.of}`
  return (
    <Line role="status">
      {words}
      <ProgressBar aria-label="Writing frames" max={2 * film.of} value={film.done + (film.words === 'Drawing' ? film.of : 0)} />
      <PlainButton className="stop" onPress={() => stopFilm(store)}>
        Stop
      </PlainButton>
    </Line>
  )
}

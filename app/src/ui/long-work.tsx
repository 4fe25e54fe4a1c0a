'use client'
import { useEffect, useRef, useState } from 'react'
import styled, { keyframes } from 'styled-components'
import { PlainButton } from './buttons'

/** What takes longer than this is shown with its progress and a way to stop it, ms. */
export const PATIENCE = 300

const passing = keyframes`from { background-position: 200% 0; } to { background-position: 0 0; }`

/** How far something is; without a value, that it goes on. */
export const ProgressBar = styled.progress`
  width: 150px;
  height: 4px;
  appearance: none;
  border: 0;
  border-radius: 2px;
  overflow: hidden;
  background: var(--rule);
  &::-webkit-progress-bar { background: var(--rule); }
  &::-webkit-progress-value { background: var(--action); transition: width 0.1s; }
  &::-moz-progress-bar { background: var(--action); }
  &:indeterminate {
    background: linear-gradient(90deg, var(--rule) 35%, var(--action) 50%, var(--rule) 65%) 0 0 / 200% 100%;
    /* a few steps a second: every one has the whole page put together anew, which takes from the work on a machine without a graphics card */
    animation: ${passing} 1.6s steps(12) infinite;
  }
  &:indeterminate::-webkit-progress-bar { background: none; }
  &:indeterminate::-moz-progress-bar { background: none; }
`

const Line = styled.div`
  display: flex;
  align-items: center;
  gap: 10px;
  min-height: 30px;
  font-size: 12.5px;
  white-space: nowrap;
  progress { flex: 1 1 80px; min-width: 40px; max-width: 150px; }
`

/** Whether something has gone on for longer than a person waits without being told. */
export function useIsLong(going: boolean): boolean {
  const [long, setLong] = useState(false)
  useEffect(() => {
    if (!going) return setLong(false)
    const timer = setTimeout(() => setLong(true), PATIENCE)
    return () => clearTimeout(timer)
  }, [going])
  return long
}

/** Work that a person may stop. */
interface LongWork {
  readonly busy: boolean
  /** 0 to 1, where it is known */
  readonly done: number | undefined
  /** Does it; what throws because it was stopped resolves to undefined. One at a time: undefined at once while another goes on. */
  readonly run: <T>(work: (signal: AbortSignal, tell: (done: number) => void) => Promise<T>) => Promise<T | undefined>
  readonly stop: () => void
}

export function useLongWork(): LongWork {
  const [state, setState] = useState<{ busy: boolean; done?: number }>({ busy: false })
  const going = useRef<AbortController>(undefined)
  return {
    busy: state.busy,
    done: state.done,
    async run(work) {
      if (going.current) return undefined
      const controller = new AbortController()
      going.current = controller
      setState({ busy: true })
      try {
        return await work(controller.signal, (done) => setState({ busy: true, done }))
      } catch (error) {
        if (!controller.signal.aborted) throw error
        return undefined
      } finally {
        going.current = undefined
        setState({ busy: false })
      }
    },
    stop: () => going.current?.abort(),
  }
}

/** How far work is and the button that ends it, once it takes long. */
export function LongWorkLine({ work, words }: { work: LongWork; words: string }) {
  const long = useIsLong(work.busy)
  if (!long) return null
  return (
    <Line role="status">
      {words}
      <ProgressBar aria-label={words} max={1} value={work.done} />
      <PlainButton onPress={work.stop} style={{ color: 'var(--action)', fontWeight: 600 }}>
        Stop
      </PlainButton>
    </Line>
  )
}

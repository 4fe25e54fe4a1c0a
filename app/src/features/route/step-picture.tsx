'use client'
import styled from 'styled-components'
import { OutlinePicture } from '@/features/view/outline-picture'
import { useSolidPicture } from '@/features/view/solid-picture'
import { useWorkbench } from '@/state/context'
import type { StepNews } from '@/workers/messages'
import { currentWork } from '@/state/work'

const Box = styled.span`
  display: grid;
  place-items: center;
  width: 64px;
  height: 42px;
  border: 1px solid var(--rule);
  border-radius: 3px;
  background: linear-gradient(var(--stage-near), var(--stage));
  overflow: hidden;
  svg, img { width: 100%; height: 100%; display: block; }
  svg { padding: 5px 6px; fill: var(--ink); }
`

const SIZE = { width: 128, height: 84 }

/** A picture of the piece as of a step, drawn when things have been quiet for a moment. */
export function StepPicture({ step }: { step: StepNews | undefined }) {
  const work = useWorkbench(currentWork)
  const solid = step?.gives === 'solid' || step?.gives === 'assembly'
  const url = useSolidPicture(solid ? work : undefined, step?.id, SIZE, 500, step?.key)
  return <Box aria-hidden>{step?.drawing ? <OutlinePicture drawing={step.drawing} /> : url && solid ? <img src={url} alt="" /> : null}</Box>
}

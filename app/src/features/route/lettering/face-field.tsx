'use client'
import type { FontAxis } from '@kelvar/core/font/face'
import { ChevronRight } from 'lucide-react'
import { useEffect, useState } from 'react'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { FieldName, FieldRow } from '@/ui/buttons'
import { PickButton, SliderInput } from '@/ui/controls'
import { atHand } from '@/workers/maker'

/** The face in use; pressing it opens the type case. */
export function FaceField({ label, stepId, value }: { label: string; stepId: string; value: { sha256: string; name: string } }) {
  const store = useWorkbenchStore()
  const open = useWorkbench((s) => s.typeCase === stepId)
  return (
    <FieldRow>
      <FieldName aria-hidden>{label}</FieldName>
      <PickButton aria-label={`${label}: ${value.name}`} aria-expanded={open} onPress={() => store.getState().openTypeCase(open ? undefined : stepId)}>
        <span>{value.name}</span>
        <ChevronRight size={14} aria-hidden />
      </PickButton>
    </FieldRow>
  )
}

/** Sliders for a variable face's axes; nothing for others. */
export function AxisSliders({ sha256, value, onChange }: { sha256: string; value: Record<string, number>; onChange: (axes: Record<string, number>) => void }) {
  const [axes, setAxes] = useState<readonly FontAxis[]>([])
  useEffect(() => {
    let gone = false
    setAxes([])
    atHand()
      .ask((maker) => maker.axes(sha256))
      .then((found) => !gone && setAxes(found))
      .catch((error) => console.error(error))
    return () => {
      gone = true
    }
  }, [sha256])
  return axes.map((axis) => (
    <SliderInput
      key={axis.tag}
      label={axis.name}
      min={axis.min}
      max={axis.max}
      step={axis.max - axis.min > 10 ? 1 : 0.01}
      value={Math.min(axis.max, Math.max(axis.min, value[axis.tag] ?? axis.default))}
      onChange={(v) => onChange({ ...value, [axis.tag]: v })}
    />
  ))
}

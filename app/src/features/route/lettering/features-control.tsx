'use client'
import { FEATURE_GROUPS } from '@kelvar/core/font/features'
import type { Drawing } from '@kelvar/core/steps/source/lettering/alternates'
import type { FeaturePreview } from '@kelvar/core/steps/source/lettering/previews'
import { ChevronDown } from 'lucide-react'
import { useState } from 'react'
import { Dialog, DialogTrigger, Switch } from 'react-aria-components'
import styled from 'styled-components'
import { FieldName, FieldRow } from '@/ui/buttons'
import { PickButton, PopoverPaper } from '@/ui/controls'
import { useMade } from '@/state/use-made'

const Sheet = styled(Dialog)`
  width: 430px;
  max-height: 70vh;
  overflow: auto;
  outline: none;
  padding: 6px 14px 12px;
  p { margin: 10px 0 0; color: var(--soft); font-size: 12px; }
  h3 { font-size: 13px; padding: 12px 0 4px; border-bottom: 1px solid var(--rule); }
`
const Row = styled(Switch)`
  display: grid;
  grid-template-columns: 34px 150px minmax(0, 1fr);
  gap: 10px;
  align-items: center;
  min-height: 44px;
  padding: 4px 0;
  border-bottom: 1px solid color-mix(in srgb, var(--rule) 55%, transparent);
  cursor: pointer;
  .mark { width: 30px; height: 16px; border: 1px solid var(--ink); border-radius: 9px; display: block; position: relative; }
  .mark::after { content: ''; position: absolute; width: 10px; height: 10px; border-radius: 50%; top: 2px; left: 2px; background: var(--ink); }
  &[data-selected] .mark { background: var(--action); border-color: var(--action); }
  &[data-selected] .mark::after { left: 16px; background: var(--paper); }
  &[data-focus-visible] .mark { outline: 2px solid var(--action); outline-offset: 2px; }
  .name { font-weight: 600; line-height: 1.25; }
  .name small { display: block; font-weight: 400; color: var(--soft); font-size: 11.5px; }
  .shapes { display: grid; grid-template-columns: 1fr 12px 1fr; gap: 6px; align-items: center; text-align: center; color: var(--soft); font-size: 12px; }
  svg { height: 30px; width: 100%; fill: var(--ink); }
  svg[data-idle] { fill: color-mix(in srgb, var(--ink) 38%, var(--paper)); }
`

function Shape({ drawing, idle }: { drawing: Drawing; idle?: boolean }) {
  const [x, y, width, height] = drawing.box
  return (
    <svg
      viewBox={[x, Math.min(y, -11), Math.max(width, 14), Math.max(height + y - Math.min(y, -11), 14)].join(' ')}
      aria-hidden
      data-idle={idle ? '' : undefined}
    >
      <path d={drawing.path} />
    </svg>
  )
}

/** The face's OpenType features by name, each with what it does to the words. */
export function FeaturesControl({
  title,
  params,
  value,
  onChange,
}: {
  title: string
  params: Record<string, unknown>
  value: Record<string, number>
  onChange: (features: Record<string, number>) => void
}) {
  const [open, setOpen] = useState(false)
  // shaping every feature with and without is work for when somebody looks
  const previews = useMade(async (maker) => (open ? maker.features(params) : undefined), [open, params.text, params.font, params.axes], 150, true)
  // what is as usual is not kept
  const chosen = Object.keys(value).length
  // a feature that changes nothing is no choice, unless it was made
  const useful = previews?.filter((p) => p.with !== undefined || value[p.tag] !== undefined)
  const idle = (previews?.length ?? 0) - (useful?.length ?? 0)
  const none = useful !== undefined && useful.length === 0
  const set = (preview: FeaturePreview, on: boolean) => {
    const { [preview.tag]: _, ...rest } = value
    onChange(on === preview.usual ? rest : { ...rest, [preview.tag]: on ? 1 : 0 })
  }
  return (
    <FieldRow>
      <FieldName aria-hidden>{title}</FieldName>
      <DialogTrigger isOpen={open} onOpenChange={setOpen}>
        <PickButton aria-label={`${title}: ${chosen === 0 ? 'as usual' : `${chosen} changed`}`}>
          {chosen === 0 ? 'as usual' : `${chosen} changed`}
          <ChevronDown size={14} aria-hidden />
        </PickButton>
        <PopoverPaper placement="right top" offset={18}>
          <Sheet aria-label={title}>
            {FEATURE_GROUPS.map((group) => {
              const members = useful?.filter((p) => p.group === group) ?? []
              if (members.length === 0) return null
              return (
                <section key={group}>
                  <h3>{group}</h3>
                  {members.map((preview) => {
                    const on = value[preview.tag] === undefined ? preview.usual : value[preview.tag] > 0
                    return (
                      <Row key={preview.tag} isSelected={on} onChange={(next) => set(preview, next)} aria-label={preview.name}>
                        <i className="mark" />
                        <span className="name">
                          {preview.name}
                          <small>{preview.inWords ? 'changes your words' : preview.with ? 'not in these words' : 'changes nothing'}</small>
                        </span>
                        {preview.with && preview.without && (
                          <span className="shapes">
                            <Shape drawing={preview.without} idle={on} />→
                            <Shape drawing={preview.with} idle={!on} />
                          </span>
                        )}
                      </Row>
                    )
                  })}
                </section>
              )
            })}
            {none && <p>This face has one set of letters.</p>}
            {idle > 0 && <p>{idle === 1 ? 'One more feature of this face changes' : `${idle} more features of this face change`} no letter by itself.</p>}
          </Sheet>
        </PopoverPaper>
      </DialogTrigger>
    </FieldRow>
  )
}

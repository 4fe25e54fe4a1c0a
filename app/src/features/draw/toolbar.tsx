'use client'
import type { LucideIcon } from 'lucide-react'
import type { ReactNode } from 'react'
import { ToggleButton, ToggleButtonGroup } from 'react-aria-components'
import styled from 'styled-components'

const Bar = styled.header`
  display: flex;
  align-items: center;
  gap: 4px 14px;
  min-height: 44px;
  flex: none;
  padding: 4px 14px 4px 16px;
  background: var(--paper);
  border-bottom: 1px solid var(--rule);
  font-size: 12.5px;
  .group { display: flex; gap: 2px; }
  .rule { width: 1px; height: 22px; background: var(--rule); }
  .options { display: flex; align-items: center; gap: 14px; }
  .options > div { min-height: 0; grid-template-columns: auto auto; }
  .options input { width: 54px; }
  .right { margin-left: auto; display: flex; align-items: center; gap: 4px; }
  p { margin: 0; color: var(--soft); max-width: 560px; }
  .options { min-width: 0; }
`
const Tool = styled(ToggleButton)`
  display: inline-flex;
  align-items: center;
  gap: 7px;
  border: 1px solid transparent;
  border-radius: 4px;
  background: none;
  padding: 6px 10px;
  cursor: pointer;
  white-space: nowrap;
  &[data-hovered] { background: color-mix(in srgb, var(--ink) 6%, transparent); }
  &[data-selected] { background: var(--tint); border-color: var(--action); color: var(--action); font-weight: 600; }
`

interface ToolChoice<T extends string> {
  readonly id: T
  readonly label: string
  readonly icon: LucideIcon
}

/** The board's tools, the options of the one in hand, and what else belongs to the board. */
export function BoardHead<T extends string>({
  tools,
  value,
  onChange,
  options,
  right,
}: {
  tools: readonly ToolChoice<T>[]
  value?: T
  onChange?: (tool: T) => void
  options?: ReactNode
  right?: ReactNode
}) {
  return (
    <Bar>
      {tools.length > 0 && (
        <ToggleButtonGroup
          className="group"
          aria-label="Tools"
          selectionMode="single"
          disallowEmptySelection
          selectedKeys={value ? [value] : []}
          onSelectionChange={(keys) => onChange?.([...keys][0] as T)}
        >
          {tools.map(({ id, label, icon: Icon }) => (
            <Tool key={id} id={id}>
              <Icon size={15} aria-hidden /> {label}
            </Tool>
          ))}
        </ToggleButtonGroup>
      )}
      {tools.length > 0 && options && <span className="rule" />}
      <div className="options">{options}</div>
      <div className="right">{right}</div>
    </Bar>
  )
}

import { ToggleButton, ToggleButtonGroup } from 'react-aria-components'
import styled from 'styled-components'

/** Some of a few, as small buttons that stay pressed. */
export const Chips = styled(ToggleButtonGroup)`
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
`
export const Chip = styled(ToggleButton)`
  border: 1px solid var(--rule);
  border-radius: 10px;
  background: none;
  padding: 1px 9px;
  font-size: 12px;
  color: var(--soft);
  cursor: pointer;
  &[data-selected] { background: var(--tint); color: var(--action); border-color: var(--action); font-weight: 600; }
`

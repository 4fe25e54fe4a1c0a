import styled from 'styled-components'

/** Lies over the canvas and lets the pointer through. */
export const Overlay = styled.div`
  position: absolute;
  inset: 0;
  overflow: hidden;
  pointer-events: none;
`

'use client'
import Link from 'next/link'
import styled from 'styled-components'

const Mark = styled(Link)`
  font: 800 20px/1 var(--display);
  letter-spacing: -0.02em;
  color: var(--ink);
  text-decoration: none;
  border-radius: 3px;
`

export const Wordmark = () => (
  // not fetched beforehand: it would take the server's time from what this page opens with
  <Mark href="/" prefetch={false} aria-label="Kelvar: to the cabinet">
    Kelvar
  </Mark>
)

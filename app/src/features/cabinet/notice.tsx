'use client'
import Link from 'next/link'
import styled from 'styled-components'

const Page = styled.main`
  min-height: 100%;
  display: grid;
  place-content: center;
  gap: 8px;
  padding: 40px;
  h1 { font-size: 26px; max-width: 28em; text-wrap: balance; }
  a { color: var(--action); font-weight: 600; }
`

/** A whole page that says what is wrong and where to go. */
export function Notice({ title, text }: { title: string; text: string }) {
  return (
    <Page>
      <h1>{title}</h1>
      <p>{text}</p>
      <Link href="/">To the cabinet</Link>
    </Page>
  )
}

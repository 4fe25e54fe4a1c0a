'use client'
import Link from 'next/link'
import styled from 'styled-components'
import { ActionButton } from '@/ui/buttons'

const Page = styled.main`
  min-height: 100%;
  display: grid;
  place-content: center;
  gap: 8px;
  padding: 40px;
  h1 { font-size: 26px; max-width: 28em; text-wrap: balance; }
  p { max-width: 60ch; margin: 4px 0 8px; }
  a { color: var(--action); font-weight: 600; }
  .acts { display: flex; gap: 18px; align-items: center; }
`

/** A whole page that says what is wrong and where to go. */
export function Notice({ title, text, action }: { title: string; text: string; action?: { label: string; onPress: () => void } }) {
  return (
    <Page>
      <h1>{title}</h1>
      <p>{text}</p>
      <span className="acts">
        {action && <ActionButton onPress={action.onPress}>{action.label}</ActionButton>}
        <Link href="/">To the cabinet</Link>
      </span>
    </Page>
  )
}

/** While a project is fetched. */
export const Opening = () => (
  <Page>
    <p role="status" data-pulse>
      Opening the project…
    </p>
  </Page>
)

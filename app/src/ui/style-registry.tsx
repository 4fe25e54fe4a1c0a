'use client'
import { useServerInsertedHTML } from 'next/navigation'
import { type ReactNode, useState } from 'react'
import { ServerStyleSheet, StyleSheetManager } from 'styled-components'
import { GlobalStyle } from './theme'

/** Sends styled-components' rules, first those for everything, along with the server's HTML, under the page's nonce. */
export function StyleRegistry({ nonce, children }: { nonce: string | undefined; children: ReactNode }) {
  const [sheet] = useState(() => new ServerStyleSheet({ nonce }))
  useServerInsertedHTML(() => {
    const styles = sheet.getStyleElement()
    sheet.instance.clearTag()
    return styles
  })
  const styled = (
    <>
      <GlobalStyle />
      {children}
    </>
  )
  if (typeof window !== 'undefined') return styled
  return <StyleSheetManager sheet={sheet.instance}>{styled}</StyleSheetManager>
}

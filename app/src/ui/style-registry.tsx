'use client'
import { useServerInsertedHTML } from 'next/navigation'
import { type ReactNode, useState } from 'react'
import { ServerStyleSheet, StyleSheetManager } from 'styled-components'

/** Sends styled-components' rules along with the server's HTML. */
export function StyleRegistry({ children }: { children: ReactNode }) {
  const [sheet] = useState(() => new ServerStyleSheet())
  useServerInsertedHTML(() => {
    const styles = sheet.getStyleElement()
    sheet.instance.clearTag()
    return styles
  })
  if (typeof window !== 'undefined') return children
  return <StyleSheetManager sheet={sheet.instance}>{children}</StyleSheetManager>
}

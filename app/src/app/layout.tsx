import '@fontsource-variable/bricolage-grotesque/index.css'
import '@fontsource-variable/instrument-sans/index.css'
import type { Metadata } from 'next'
import type { ReactNode } from 'react'
import { GlobalStyle } from '@/ui/theme'
import { StyleRegistry } from '@/ui/style-registry'

export const metadata: Metadata = { title: 'Kelvar', description: 'A workshop for three-dimensional lettering' }

export default function RootLayout({ children }: { children: ReactNode }) {
  return (
    <html lang="en">
      <body>
        <StyleRegistry>
          <GlobalStyle />
          {children}
        </StyleRegistry>
      </body>
    </html>
  )
}

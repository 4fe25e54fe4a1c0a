import '@fontsource-variable/bricolage-grotesque/index.css'
import '@fontsource-variable/instrument-sans/index.css'
import type { Metadata } from 'next'
import { cookies } from 'next/headers'
import type { ReactNode } from 'react'
import { THEME_COOKIE } from '@/ui/theme-cookie'
import { SCRIPT_FACES } from '@/ui/script-faces'
import { GlobalStyle } from '@/ui/theme'
import { StyleRegistry } from '@/ui/style-registry'

export const metadata: Metadata = { title: 'Kelvar', description: 'A workshop for three-dimensional lettering' }

export default async function RootLayout({ children }: { children: ReactNode }) {
  const night = (await cookies()).get(THEME_COOKIE)?.value === 'night'
  return (
    <html lang="en" data-theme={night ? 'night' : undefined} suppressHydrationWarning>
      <body>
        <style href="script-faces" precedence="default">
          {SCRIPT_FACES}
        </style>
        <StyleRegistry>
          <GlobalStyle />
          {children}
        </StyleRegistry>
      </body>
    </html>
  )
}

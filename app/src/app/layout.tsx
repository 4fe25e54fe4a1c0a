import '@fontsource-variable/bricolage-grotesque/index.css'
import '@fontsource-variable/instrument-sans/index.css'
import type { Metadata } from 'next'
import { cookies, headers } from 'next/headers'
import type { ReactNode } from 'react'
import { ServerState } from '@/state/server-state'
import { NONCE_HEADER } from '@/ui/nonce'
import { THEME_COOKIE } from '@/ui/theme-cookie'
import { SCRIPT_FACES } from '@/ui/script-faces'
import { StyleRegistry } from '@/ui/style-registry'

export const metadata: Metadata = { title: 'Kelvar', description: 'A workshop for three-dimensional lettering' }

export default async function RootLayout({ children }: { children: ReactNode }) {
  const night = (await cookies()).get(THEME_COOKIE)?.value === 'night'
  const nonce = (await headers()).get(NONCE_HEADER) ?? undefined
  return (
    <html lang="en" data-theme={night ? 'night' : undefined} suppressHydrationWarning>
      <head>
        {/* the components' libraries look here for it before they add a style sheet */}
        <meta property="csp-nonce" nonce={nonce} />
        <style nonce={nonce} dangerouslySetInnerHTML={{ __html: SCRIPT_FACES }} />
      </head>
      <body>
        <StyleRegistry nonce={nonce}>
          <ServerState>{children}</ServerState>
        </StyleRegistry>
      </body>
    </html>
  )
}

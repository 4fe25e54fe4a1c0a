'use client'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { type ReactNode, useState } from 'react'

/** What pages know of the server, asked for once and kept for all who show it. */
export function ServerState({ children }: { children: ReactNode }) {
  const [client] = useState(() => new QueryClient({ defaultOptions: { queries: { retry: 1, refetchOnWindowFocus: false, staleTime: 30_000 } } }))
  return <QueryClientProvider client={client}>{children}</QueryClientProvider>
}

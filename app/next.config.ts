import type { NextConfig } from 'next'

const isolation = [
  { key: 'Cross-Origin-Opener-Policy', value: 'same-origin' },
  { key: 'Cross-Origin-Embedder-Policy', value: 'require-corp' },
  { key: 'X-Content-Type-Options', value: 'nosniff' },
  { key: 'Referrer-Policy', value: 'same-origin' },
  { key: 'Cross-Origin-Resource-Policy', value: 'same-origin' },
]
/** For what is no page: workers run by the first, answers of the API can do nothing at all. Pages have theirs from src/proxy.ts. */
const worker = [{ key: 'Content-Security-Policy', value: "default-src 'none'; script-src 'self' 'wasm-unsafe-eval'; connect-src 'self'" }]
const inert = [{ key: 'Content-Security-Policy', value: "default-src 'none'; frame-ancestors 'none'; sandbox" }]

const config: NextConfig = {
  transpilePackages: ['@kelvar/core'],
  compiler: { styledComponents: true },
  serverExternalPackages: [
    '@mikro-orm/core',
    '@mikro-orm/postgresql',
    '@mikro-orm/migrations',
    'harfbuzzjs',
    'wawoff2',
    '@jsquash/webp',
    'fast-png',
    'jpeg-js',
  ],
  poweredByHeader: false,
  // `npm run types` does it, for the core as well
  typescript: { ignoreBuildErrors: true },
  turbopack: {
    root: new URL('..', import.meta.url).pathname,
    // WASM loaders import Node.js's "module" (harfbuzzjs, manifold-3d) and "node:fs" (draco3d) by name even in the browser, where they are never called
    resolveAlias: {
      module: { browser: './src/workers/node-module-stub.ts' },
      'node:fs': { browser: './src/workers/node-module-stub.ts' },
      'node:module': { browser: './src/workers/node-module-stub.ts' },
    },
  },
  headers: async () => [
    { source: '/:path*', headers: isolation },
    { source: '/_next/static/:path*', headers: worker },
    { source: '/api/:path*', headers: inert },
    { source: '/icon.svg', headers: inert },
  ],
}

export default config

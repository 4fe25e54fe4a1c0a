import type { NextConfig } from 'next'

const isolation = [
  { key: 'Cross-Origin-Opener-Policy', value: 'same-origin' },
  { key: 'Cross-Origin-Embedder-Policy', value: 'require-corp' },
  { key: 'X-Content-Type-Options', value: 'nosniff' },
  { key: 'Referrer-Policy', value: 'same-origin' },
]

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
  turbopack: {
    root: new URL('..', import.meta.url).pathname,
    // harfbuzzjs and manifold-3d import Node.js's "module" by name even in the browser, where it is never called
    resolveAlias: { module: { browser: './src/workers/node-module-stub.ts' } },
  },
  headers: async () => [{ source: '/:path*', headers: isolation }],
}

export default config

import type { NextConfig } from 'next'
import { INERT, ISOLATION, OF_SCRIPTS } from './src/server/headers'

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
    { source: '/:path*', headers: ISOLATION },
    { source: '/_next/static/:path*', headers: OF_SCRIPTS },
    { source: '/api/:path*', headers: INERT },
    { source: '/icon.svg', headers: INERT },
  ],
}

export default config

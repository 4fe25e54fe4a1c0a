import { fileURLToPath } from 'node:url'
import { defineConfig } from 'vitest/config'

const ALONE = ['core/src/cache/held.test.ts', 'core/src/evaluate/memory.test.ts']
/** What puts something else in the place of modules, looks at its process's own memory, or makes something of all that is in the library. */
const APART = ['assets', 'browser-keeping', 'first-looks', 'looks', 'making', 'painting', 'saving', 'soak', 'worker-bakes'].map(
  (name) => `app/test/${name}.test.ts`,
)
const resolve = { alias: { '@': fileURLToPath(new URL('./app/src', import.meta.url)) } }
const app = { setupFiles: ['core/test/setup.ts'], testTimeout: 60_000, hookTimeout: 60_000, fileParallelism: false }
const core = { setupFiles: ['core/test/setup.ts'], testTimeout: 60_000, hookTimeout: 60_000 }

export default defineConfig({
  test: {
    maxWorkers: 2,
    projects: [
      // files share what is loaded and compiled; what looks at a process's own memory has one to itself
      { test: { ...core, name: 'core', include: ['core/**/*.test.ts'], exclude: ['**/node_modules/**', ...ALONE], isolate: false } },
      { test: { ...core, name: 'core-alone', include: ALONE } },
      { resolve, test: { ...app, name: 'server', include: ['app/test/**/*.test.ts'], exclude: APART, isolate: false } },
      { resolve, test: { ...app, name: 'server-alone', include: APART } },
    ],
  },
})

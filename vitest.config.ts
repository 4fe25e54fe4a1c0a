import { fileURLToPath } from 'node:url'
import { defineConfig } from 'vitest/config'

const ALONE = ['core/src/evaluate/memory.test.ts']
const core = { setupFiles: ['core/test/setup.ts'], testTimeout: 60_000, hookTimeout: 60_000 }

export default defineConfig({
  test: {
    maxWorkers: 2,
    projects: [
      // files share what is loaded and compiled; what looks at a process's own memory has one to itself
      { test: { ...core, name: 'core', include: ['core/**/*.test.ts'], exclude: ['**/node_modules/**', ...ALONE], isolate: false } },
      { test: { ...core, name: 'core-alone', include: ALONE } },
      {
        resolve: { alias: { '@': fileURLToPath(new URL('./app/src', import.meta.url)) } },
        test: {
          name: 'server',
          setupFiles: ['core/test/setup.ts'],
          include: ['app/**/*.test.ts'],
          exclude: ['**/node_modules/**', 'app/e2e/**'],
          testTimeout: 60_000,
          hookTimeout: 60_000,
          fileParallelism: false,
        },
      },
    ],
  },
})

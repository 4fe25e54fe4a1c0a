import { fileURLToPath } from 'node:url'
import { defineConfig } from 'vitest/config'

export default defineConfig({
  test: {
    maxWorkers: 2,
    projects: [
      { test: { name: 'core', setupFiles: ['core/test/setup.ts'], include: ['core/**/*.test.ts'], testTimeout: 60_000, hookTimeout: 60_000 } },
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

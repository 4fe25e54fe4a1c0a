import { defineConfig } from '@playwright/test'

const port = Number(process.env.KELVAR_TEST_PORT ?? 3718)

export default defineConfig({
  testDir: './e2e',
  // only against hanging: machines differ by a factor of three, and from hour to hour
  timeout: 600_000,
  expect: { timeout: 90_000 },
  fullyParallel: false,
  // one test by itself leaves a quarter of two cores idle; files share nothing but the cabinet, where each calls its projects by names of its own
  workers: 2,
  retries: 0,
  reporter: [['list']],
  outputDir: '../test-results',
  use: {
    baseURL: `http://127.0.0.1:${port}`,
    viewport: { width: 1280, height: 800 },
    // half the pixels each way: software draws them, and nothing that is tested hangs on how fine they are
    deviceScaleFactor: 0.5,
    contextOptions: { reducedMotion: 'reduce' },
    // a person who has been here before: the first steps would lie over the view
    storageState: { cookies: [], origins: [{ origin: `http://127.0.0.1:${port}`, localStorage: [{ name: 'kelvar-first-steps', value: 'done' }] }] },
    launchOptions: {
      executablePath: process.env.KELVAR_CHROMIUM ?? '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--use-gl=angle',
        '--use-angle=swiftshader',
        '--enable-unsafe-swiftshader',
        '--ignore-gpu-blocklist',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--disable-quic',
        '--no-first-run',
        '--webgl-antialiasing-mode=none',
        '--webgl-msaa-sample-count=0',
        // without a graphics card the page is put together faster by the browser's own drawing
        '--disable-gpu-compositing',
      ],
    },
  },
  webServer: {
    command: `npx tsx serve.ts --port ${port}`,
    url: `http://127.0.0.1:${port}/api/projects`,
    reuseExistingServer: false,
    timeout: 60_000,
  },
})

import { defineConfig } from '@playwright/test';

const PORT = 3217;

export default defineConfig({
  testDir: 'tests/e2e',
  timeout: 90_000,
  expect: { timeout: 20_000 },
  fullyParallel: false,
  workers: 1,
  // A browser on a busy machine may stumble once; the report names what passed only the second time.
  retries: 1,
  reporter: [['list'], ['json', { outputFile: '.cache/playwright.json' }]],
  use: {
    baseURL: `http://localhost:${PORT}`,
    viewport: { width: 1280, height: 800 },
    acceptDownloads: true,
    launchOptions: {
      executablePath: process.env.CHROMIUM_PATH ?? '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
  },
  webServer: {
    command: 'npm start --silent',
    // What the server prints is kept beside the reports.
    env: { PORT: String(PORT), BOKELUX_WORK: '.cache/e2e-work' },
    url: `http://localhost:${PORT}`,
    timeout: 240_000,
    reuseExistingServer: false,
  },
});

import { defineConfig } from '@playwright/test';

const stacks = JSON.parse(process.env['STACKS'] ?? '[]') as unknown[];

/** What takes minutes: begun first, so that nobody waits for one worker at the end. */
const LONG = ['several', 'sameDrawing', 'resilience', 'simulated', 'conversations', 'tryout'].map((name) => `${name}.spec.ts`);

export default defineConfig({
  testMatch: '*.spec.ts',
  outputDir: 'test-results',
  // Each worker that needs the stack has one of its own.
  workers: stacks.length || 4,
  projects: [
    { name: 'alone', testDir: 'e2e/alone', fullyParallel: true },
    { name: 'long', testDir: 'e2e', testMatch: LONG },
    { name: 'stack', testDir: 'e2e', testIgnore: ['alone/**', ...LONG] },
  ],
  // One that fails is tried once more, to tell the flaky; those fail, too.
  retries: 1,
  failOnFlakyTests: true,
  // How long to wait before something that is waited for counts as missing: long, since nothing else here says how fast the machine is.
  timeout: 480_000,
  expect: { timeout: 90_000 },
  reporter: [['list'], ['json', { outputFile: process.env['PLAYWRIGHT_JSON_OUTPUT_NAME'] ?? 'test-results/report.json' }]],
  use: {
    viewport: { width: 1280, height: 800 },
    // What cannot be done within that time is told where it stands, not by the end of its test.
    actionTimeout: 90_000,
    screenshot: 'only-on-failure',
    launchOptions: {
      // Without a window's machinery, which takes half of the processor where nobody looks at it.
      executablePath: '/usr/bin/chromium-headless-shell',
      args: [
        '--no-sandbox',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        // Pages that a test rewrites have no address of their own, and would be kept from the collector on this machine.
        '--disable-features=LocalNetworkAccessChecks',
        // Headless Chromium says so in its name and would be left out as a robot. Set here, since beacons of a page that
        // is going away do not carry a context's own user agent.
        '--user-agent=Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0.0.0 Safari/537.36',
      ],
    },
  },
});

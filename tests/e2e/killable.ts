import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium, type Page } from '@playwright/test';

/** A Chromium that can be killed as a crash or a power cut would, its profile staying as it is then. */
export interface KillableChromium {
  page: Page;
  kill: () => Promise<void>;
}

const STARTING_MS = 20_000;
const ACTIVE_PORT = 'DevToolsActivePort';

/** Runs some work with a profile's directory, which is removed afterwards. */
export async function withProfile(work: (profile: string) => Promise<void>): Promise<void> {
  const profile = mkdtempSync(join(tmpdir(), 'bokelux-profile-'));
  try {
    await work(profile);
  } finally {
    rmSync(profile, { recursive: true, force: true, maxRetries: 5 });
  }
}

export async function startChromium(profile: string): Promise<KillableChromium> {
  const portFile = join(profile, ACTIVE_PORT);
  rmSync(portFile, { force: true });
  const child = spawn(
    process.env.CHROMIUM_PATH ?? '/usr/bin/chromium',
    [
      '--headless=new',
      '--no-sandbox',
      '--disable-gpu',
      '--no-first-run',
      '--disable-background-networking',
      '--remote-debugging-port=0',
      `--user-data-dir=${profile}`,
      'about:blank',
    ],
    { detached: true, stdio: 'ignore' },
  );
  const gone = once(child, 'exit');
  const port = await waitForPort(portFile);
  const browser = await chromium.connectOverCDP(`http://127.0.0.1:${port}`);
  const [context] = browser.contexts();
  const page = context!.pages()[0] ?? (await context!.newPage());
  await page.setViewportSize({ width: 1280, height: 800 });
  return {
    page,
    async kill() {
      // The whole group: windows, workers, storage.
      process.kill(-child.pid!, 'SIGKILL');
      await gone;
      await browser.close().catch(() => undefined);
    },
  };
}

async function waitForPort(file: string): Promise<string> {
  for (const until = Date.now() + STARTING_MS; Date.now() < until;) {
    try {
      const [port] = readFileSync(file, 'utf8').split('\n');
      if (port) return port;
    } catch {
      // Not written yet.
    }
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  throw new Error('Chromium did not open its port');
}

/** A value that was typed, and when. */
export interface Typed {
  value: number;
  at: number;
}

/** The last value that was typed at least so many milliseconds before a moment. */
export function lastBefore(typed: readonly Typed[], moment: number, ms: number): number | undefined {
  return typed.findLast(({ at }) => at <= moment - ms)?.value;
}

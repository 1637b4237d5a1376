import { expect, test, type Page, type Worker } from '@playwright/test';
import { openApplication, settled, type } from './helpers';

/** The worker whose script is of a kind: `bench` holds plates and caches, `task` does what it is handed. */
async function workersOf(page: Page, kind: 'bench' | 'task'): Promise<Worker[]> {
  const found: Worker[] = [];
  for (const worker of page.workers()) {
    const isBench = await worker.evaluate(() => 'onconnect' in self || self.onmessage === null);
    if (isBench === (kind === 'bench')) found.push(worker);
  }
  return found;
}

const alerts = (page: Page) => page.getByRole('alert');

test('an engine that ends is replaced, its plates are opened again, and no edit is lost', async ({
  page,
}) => {
  await openApplication(page);
  await type(page, 'Bloom Amount', '4');
  await settled(page);
  const [engine] = await workersOf(page, 'bench');
  await engine!.evaluate(() => self.close()).catch(() => undefined);
  await expect(alerts(page).filter({ hasText: 'the engine ended and was started again' })).toBeVisible();
  await settled(page);
  await expect(page.getByRole('textbox', { name: 'Bloom Amount', exact: true })).toHaveValue('4.00');
  await expect(page.getByText('1280 x 720')).toBeVisible();
  // It works on: a change is computed, and undo still knows the one before.
  await type(page, 'Bloom Amount', '2');
  await settled(page);
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Undo' }).click();
  await settled(page);
  await expect(page.getByRole('textbox', { name: 'Bloom Amount', exact: true })).toHaveValue('4.00');
});

test('a thread that ends is replaced, and the work goes on', async ({ page }) => {
  await openApplication(page);
  const [thread] = await workersOf(page, 'task');
  await thread!.evaluate(() => self.close()).catch(() => undefined);
  await type(page, 'Bloom Amount', '3');
  await settled(page);
  await expect(page.getByRole('button', { name: /Veil, .* % light/ })).toBeVisible();
});

test('the door is locked: scripts need this origin and a nonce, and nothing is fetched from elsewhere', async ({
  page,
}) => {
  const refused: string[] = [];
  page.on('console', (message) => {
    if (/Content Security Policy/.test(message.text())) refused.push(message.text());
  });
  const answer = (await page.goto('/'))!;
  const policy = answer.headers()['content-security-policy']!;
  expect(policy).toContain("default-src 'self'");
  const scripts = /script-src ([^;]*)/.exec(policy)![1]!;
  expect(scripts).toMatch(/^'self' 'nonce-[\w+/=]+' 'wasm-unsafe-eval'$/);
  expect(policy).toContain("worker-src 'self' blob:");
  await settled(page);
  // The application itself breaks no rule.
  expect(refused).toEqual([]);
  const ran = await page.evaluate(async () => {
    const script = document.createElement('script');
    script.textContent = 'window.intruder = true';
    document.body.append(script);
    // Run by the page itself: what a test evaluates is not held to the policy.
    const later = setTimeout as unknown as (code: string) => void;
    later('window.evaluated = true');
    await new Promise((resolve) => setTimeout(resolve, 50));
    const fetched = await fetch('http://127.0.0.2:9/').catch(() => 'refused');
    return { intruder: 'intruder' in window, evaluated: 'evaluated' in window, fetched };
  });
  expect(ran).toEqual({ intruder: false, evaluated: false, fetched: 'refused' });
  const second = (await page.goto('/'))!;
  expect(second.headers()['content-security-policy']).not.toBe(policy);
});

test('where threads may not share memory the application says so and works on one thread', async ({
  page,
}) => {
  // As at an address that is not isolated from other origins.
  await page.route('**/*', async (route) => {
    const answer = await route.fetch();
    const headers = { ...answer.headers() };
    delete headers['cross-origin-opener-policy'];
    delete headers['cross-origin-embedder-policy'];
    await route.fulfill({ response: answer, headers });
  });
  await page.goto('/');
  await expect(alerts(page).filter({ hasText: 'threads may not share memory' })).toBeVisible();
  await settled(page);
  expect(await page.evaluate(() => crossOriginIsolated)).toBe(false);
  await type(page, 'Bloom Amount', '4');
  await settled(page);
  await type(page, 'Spikes Amount', '30');
  await settled(page);
  await expect(page.getByRole('button', { name: /Veil, .* % light/ })).toBeVisible();
});

// Takes one picture of each main view at 1280 x 800 from the demo shot, into docs/screenshots/.
import { spawn } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { chromium } from '@playwright/test';
import { ensureChromium } from './chromium.mjs';
import { root } from './prepare.mjs';

const PORT = 3219;
const FOLDER = 'docs/screenshots';
process.chdir(root);
mkdirSync(FOLDER, { recursive: true });

const server = spawn(process.execPath, ['scripts/start.mjs'], {
  stdio: ['ignore', 'pipe', 'inherit'],
  env: { ...process.env, PORT: String(PORT) },
});
await new Promise((resolve) =>
  server.stdout.on('data', (text) => String(text).includes('ready') && resolve()),
);

const browser = await chromium.launch({
  executablePath: ensureChromium(),
  args: ['--no-sandbox', '--disable-gpu'],
});
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });

const settled = async () => {
  await page.waitForTimeout(250);
  await page.waitForSelector('[data-phase="final"]', { timeout: 120_000 });
  await page.waitForTimeout(150);
};
const shoot = async (name) => {
  await settled();
  await page.screenshot({ path: `${FOLDER}/${name}.png` });
  console.log(`${FOLDER}/${name}.png`);
};
const type = async (name, text) => {
  const field = page.getByRole('textbox', { name, exact: true });
  await field.fill(text);
  await field.press('Enter');
};

await page.goto(`http://localhost:${PORT}`);
await settled();
await page.keyboard.press('1');
await shoot('plate');
await page.keyboard.press('2');
await type('Bloom Amount', '2.5');
await type('Bloom Tint', '5600');
await page.mouse.move(870, 462);
await shoot('veil');
await page.keyboard.press('e');
await shoot('feed');
await page.keyboard.press('e');
await page.getByRole('button', { name: 'Bloom alone' }).click();
await shoot('bloom-alone');
await page.keyboard.press('Escape');
await page.keyboard.press('w');
await shoot('wipe');
await page.keyboard.press('w');
await page.keyboard.press('3');
await shoot('film');
await page.keyboard.press('Control+p');
await page.getByRole('dialog', { name: 'Print' }).getByRole('checkbox').check();
await page.waitForTimeout(300);
await shoot('print');

await browser.close();
server.kill('SIGTERM');

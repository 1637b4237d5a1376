// Takes one picture of each main view at 1280 x 800 from the demo shot, into docs/screenshots/.
import { spawn, spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium } from '@playwright/test';
import { ensureChromium } from './programs.mjs';
import { root } from './root.mjs';

const PORT = 3219;
const FOLDER = 'docs/screenshots';
process.chdir(root);
mkdirSync(FOLDER, { recursive: true });

const server = spawn(process.execPath, ['scripts/start.mjs'], {
  stdio: ['ignore', 'pipe', 'inherit'],
  env: { ...process.env, PORT: String(PORT) },
});
await new Promise((resolve) =>
  server.stdout.on('data', (text) => String(text).includes('ready') && resolve(undefined)),
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
const openDemo = async (name) => {
  await page.locator('header [aria-haspopup="menu"]').first().click();
  await page.getByRole('menuitem', { name: `Open the demo: ${name}` }).click();
  await page.waitForTimeout(3000);
};
await page.getByRole('button', { name: 'No, thanks' }).click();
await page.keyboard.press('1');
await openDemo('Window by day');
await page.waitForTimeout(2500);
await shoot('plate');
await openDemo('Quay, a reel');
await page.keyboard.press('2');
await page.getByRole('button', { name: 'Curves over time' }).click();
await type('Frame', '10');
await page.waitForSelector('[data-testid="drafts"][data-ready="24"]', { timeout: 120_000 });
await page.mouse.move(870, 300);
await shoot('reel');
await page.getByRole('button', { name: 'Curves over time' }).click();
await page.keyboard.press('1');
await openDemo('Quay at night');
await settled();
const panel = page.getByRole('complementary');
const down = (pixels) => panel.evaluate((element, top) => element.scrollTo(0, top), pixels);
await type('Plate Curve points', '-6:-7, -2:-1.2, 4:3');
await down(520);
await page.waitForTimeout(1500);
await page.keyboard.press('Control+z');
await page.getByRole('button', { name: 'Masks' }).click();
await page.getByRole('button', { name: 'New mask' }).click();
await page.keyboard.press('Escape');
await page.getByRole('button', { name: 'Add a shape' }).click();
await page.getByRole('menuitem', { name: 'Matte pass' }).click();
await page.getByRole('combobox', { name: 'Mask 1, shape 2 combined by' }).click();
await page.getByRole('option', { name: 'subtract' }).click();
await page.getByRole('button', { name: 'Show Mask 1' }).click();
await down(3000);
await shoot('mask');
await page.keyboard.press('Control+z');
await page.keyboard.press('Control+z');
await page.keyboard.press('Control+z');
await down(0);
// A print of the demo stands in for a photograph.
const photo = join(mkdtempSync(join(tmpdir(), 'bokelux-')), 'evening.png');
spawnSync(process.execPath, [
  'bin/bokelux.mjs',
  'render',
  'public/demo/quay.exr',
  ...[
    '--set',
    'veil.bloom.amount=0.06',
    '--set',
    'veil.bloom.falloff=2.6',
    '--set',
    'veil.bloom.radius=0.02',
  ],
  ...['--set', 'film.exposure=-1', '--set', 'film.view=srgb'],
  '--out',
  photo,
]);
const [chooser] = await Promise.all([
  page.waitForEvent('filechooser'),
  page.getByRole('button', { name: 'Bring in a photo' }).click(),
]);
await chooser.setFiles(photo);
await page.waitForTimeout(1500);
await page.keyboard.press('l');
await page.getByTestId('circle-compared').waitFor();
await page.waitForTimeout(500);
for (const side of ['compared', 'shown']) {
  // The lamp at the ship's mast, before the sky.
  const box = await page.getByTestId(`circle-${side}`).boundingBox();
  if (!box) throw new Error('there is nothing to draw a circle on');
  const { x, y, width, height } = box;
  const zoom = Math.min(width / 1280, height / 720) * 0.96;
  const [left, top] = [x + width / 2 + (284 - 640) * zoom, y + height / 2 + (157 - 360) * zoom];
  await page.mouse.move(left, top);
  await page.mouse.down();
  await page.mouse.move(left + 80 * zoom, top, { steps: 4 });
  await page.mouse.up();
}
await page.waitForTimeout(6000);
await shoot('reference');
await page.keyboard.press('Escape');
await page.getByRole('button', { name: 'Put the reference away' }).click();
await page.keyboard.press('2');
await page.getByRole('switch', { name: 'Focus on' }).click();
await type('Camera Focal length', '33');
await type('Camera f-stop', '0.95');
await type('Camera Focus', '14');
await page.keyboard.press('3');
await type('Pupil Blades', '6');
await page.keyboard.press('2');
await page.mouse.move(870, 462);
await shoot('focus');
await page.keyboard.press('Shift+2');
await page.keyboard.press('4');
await type('Bloom Amount', '2.5');
await type('Bloom Tint', '5600');
await page.mouse.move(870, 462);
await shoot('veil');
await page.keyboard.press('e');
await shoot('feed');
await page.keyboard.press('e');
await page.getByRole('button', { name: 'Bloom alone' }).click();
await page.keyboard.press('Escape');
await type('Spikes Amount', '12');
await type('Spikes Size', '30');
await page.getByRole('region', { name: 'Spikes' }).scrollIntoViewIfNeeded();
await shoot('spikes');
await page.keyboard.press('r');
await page.mouse.move(470, 380);
await page.mouse.down();
await page.mouse.move(700, 540, { steps: 4 });
await page.mouse.up();
await page.getByRole('button', { name: /^Reality check/ }).click();
await page.waitForTimeout(500);
await shoot('reality');
await page.keyboard.press('Escape');
await page.keyboard.press('r');
await page.keyboard.press('3');
await page.getByRole('combobox', { name: 'Start from a pupil' }).click();
await page.getByRole('option', { name: 'Nine worn blades' }).click();
await page.waitForTimeout(1500);
await shoot('pupil');
await page.keyboard.press('4');
await down(0);
await page.getByRole('button', { name: 'Starting points' }).click();
await page.getByRole('button', { name: 'Start from Dirty filter' }).click();
await page.getByRole('button', { name: 'Starting points' }).click();
await page.keyboard.press('k');
await page.getByRole('button', { name: 'Look Squeezed' }).click();
await page.waitForFunction(
  () => document.querySelectorAll('button[aria-label^="Look "] canvas').length === 12,
  undefined,
  { timeout: 60_000 },
);
await page.waitForTimeout(500);
await shoot('looks');
await page.keyboard.press('Escape');
await page.getByRole('button', { name: 'Kernel' }).click();
await down(9000);
await page.waitForTimeout(2500);
await down(9000);
await shoot('kernel');
await page.getByRole('button', { name: 'Kernel' }).click();
for (let steps = 0; steps < 4; steps++) await page.keyboard.press('Control+z');
await page.keyboard.press('4');
await page.locator('[data-setting="veil.bloom.radius"]').hover();
await page.keyboard.press('t');
await page.getByTestId('strip-status').getByText('5 pictures').waitFor();
await shoot('strip');
await page.keyboard.press('Escape');
await page.keyboard.press('p');
await page.getByRole('button', { name: 'Proof Proof 1', exact: true }).waitFor();
await type('Bloom Amount', '6');
await page.getByRole('button', { name: 'Proof Proof 1', exact: true }).click();
await page.waitForTimeout(4000);
await shoot('proofs');
await page.keyboard.press('w');
await page.keyboard.press('Control+z');
await page.keyboard.press('5');
await page.waitForTimeout(5000);
await page.getByRole('button', { name: 'Start from Coated prime, violet' }).click();
await settled();
await page.getByRole('button', { name: 'Take over' }).click();
await down(560);
await page.mouse.move(330, 340);
await page.waitForTimeout(2000);
await shoot('ghosts');
await page
  .getByTestId('ghost-table')
  .getByRole('button', { name: /^Ghost / })
  .first()
  .click();
await down(9000);
await page.waitForTimeout(1500);
await shoot('ghost-table');
for (let steps = 0; steps < 2; steps++) await page.keyboard.press('Control+z');
await page.keyboard.press('6');
await page.getByRole('button', { name: 'Glass in the scene' }).click();
await page.getByRole('combobox', { name: 'Glass in the scene Within' }).click();
await page.getByRole('option', { name: 'matte.floats' }).click();
await page.locator('[data-setting="glass.scene.on"]').getByRole('switch').click();
await page.getByRole('combobox', { name: 'Glass in the scene material' }).click();
await page.getByRole('option', { name: /Dense flint/ }).click();
await down(9000);
await page.keyboard.press('z');
await settled();
await shoot('glass');
await page.keyboard.press('f');
for (let steps = 0; steps < 3; steps++) await page.keyboard.press('Control+z');
await page.keyboard.press('7');
await page.getByRole('button', { name: 'Starting points' }).click();
await page.getByRole('button', { name: 'Start from Night stock' }).click();
await page.keyboard.press('s');
await settled();
await page.waitForTimeout(1500);
await shoot('film');
await page.keyboard.press('s');
await page.keyboard.press('Control+z');
await page.keyboard.press('Control+p');
await page.getByRole('dialog', { name: 'Print' }).getByRole('checkbox').first().check();
await page.waitForTimeout(300);
await shoot('print');

await browser.close();
server.kill('SIGTERM');

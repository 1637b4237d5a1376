import { expect, test, type Page } from '@playwright/test';
import { canvasColour, chooseKind, downloaded, openApplication, readPlanes, settled, type } from './helpers';

const row = (page: Page, path: string) => page.locator(`[data-setting="${path}"]`);
const open = (page: Page, group: string) =>
  page.getByRole('complementary').getByRole('button', { name: group, exact: false }).first().click();

async function choose(page: Page, name: string, option: string): Promise<void> {
  await page.getByRole('combobox', { name, exact: true }).click();
  await page.getByRole('option', { name: option, exact: true }).click();
}

/** A table that turns light around: what is black becomes white. */
const NEGATIVE = [
  'LUT_3D_SIZE 2',
  ...Array.from({ length: 8 }, (_, k) => `${1 - (k & 1)} ${1 - ((k >> 1) & 1)} ${1 - (k >> 2)}`),
].join('\n');

test('glass floats part colours within their matte; the printed parts sum to the final', async ({ page }) => {
  await openApplication(page);
  await page.keyboard.press('6');
  await open(page, 'Glass in the scene');
  await choose(page, 'Glass in the scene Within', 'matte.floats');
  await row(page, 'glass.scene.on').getByRole('switch').click();
  await choose(page, 'Glass in the scene material', 'Dense flint 1.7847 / 25.8');
  await settled(page);
  await expect(page.getByRole('button', { name: 'Glass, 1 in the scene' })).toBeVisible();
  await type(page, 'Glass Lateral colour', '0.05');
  await expect(page.getByTestId('glass-amounts')).toContainText('0.36 px');
  await page.keyboard.press('7');
  await type(page, 'Film Contrast', '1.2');
  await settled(page);
  await page.getByRole('button', { name: 'Print', exact: true }).click();
  const dialog = page.getByRole('dialog', { name: 'Print' });
  await chooseKind(page, 'OpenEXR float');
  await dialog.getByRole('checkbox', { name: /With separations/ }).check();
  const wait = page.waitForEvent('download');
  await dialog.getByRole('button', { name: 'Print file' }).click();
  const { bytes } = await downloaded(wait);
  const parts = ['plate.G', 'glass.scene.G', 'film.G'];
  const { planes } = await readPlanes(bytes, ['G', ...parts, 'glass.scene.R', 'glass.scene.B']);
  const [final, plate, scene, film, red, blue] = planes as [Float32Array, ...Float32Array[]];
  let [worst, coloured, outside] = [0, 0, 0];
  final.forEach((value, i) => {
    const sum = Math.fround(Math.fround(plate![i]! + scene![i]!) + film![i]!);
    worst = Math.max(worst, Math.abs(sum - value) / (1e-6 + Math.abs(value)));
    if (Math.abs(red![i]! - blue![i]!) > 0.01) coloured++;
    // The upper left corner is sky.
    if (i % 1280 < 120 && i < 1280 * 60) outside = Math.max(outside, Math.abs(red![i]!));
  });
  expect(worst).toBeLessThan(1e-5);
  expect(coloured).toBeGreaterThan(500);
  expect(outside).toBe(0);
});

test('a look-up table is dropped in, shows, is kept, and a bad one is refused by its line', async ({
  page,
}) => {
  await openApplication(page);
  const sky = await canvasColour(page, 0.5, 0.3);
  await page.getByTestId('file-input').setInputFiles({
    name: 'negative.cube',
    mimeType: 'text/plain',
    buffer: Buffer.from(NEGATIVE),
  });
  await page.keyboard.press('7');
  await expect(page.getByText(/once the view is Look-up table/)).toBeVisible();
  await choose(page, 'Film View', 'Look-up table');
  await settled(page);
  const turned = await canvasColour(page, 0.5, 0.3);
  expect(turned[0]!).toBeGreaterThan(sky[0]! + 80);
  await page.waitForTimeout(1500);
  await page.reload();
  await settled(page);
  await page.keyboard.press('7');
  await expect(page.getByRole('combobox', { name: 'Film Table', exact: true })).toHaveText('negative.cube');
  expect(await canvasColour(page, 0.5, 0.3)).toEqual(turned);
  await page.getByTestId('file-input').setInputFiles({
    name: 'bad.cube',
    mimeType: 'text/plain',
    buffer: Buffer.from('LUT_3D_SIZE 2\n0 0 zero\n'),
  });
  await expect(page.getByText(/line 2 is not three numbers/)).toBeVisible();
  await expect(page.getByRole('combobox', { name: 'Film Table', exact: true })).toHaveText('negative.cube');
});

test('scopes stand under the picture and follow it; what the display cannot show is painted', async ({
  page,
}) => {
  await openApplication(page);
  await page.keyboard.press('s');
  const scopes = page.getByRole('region', { name: 'Scopes' });
  await expect(scopes.getByRole('img', { name: 'Waveform of luma' })).toBeVisible();
  const white = async (): Promise<number> =>
    Number(/([\d.]+) % white/.exec((await scopes.getByTestId('scope-ends').textContent())!)![1]);
  const before = await white();
  await page.keyboard.press('7');
  await type(page, 'Film Exposure', '4');
  await settled(page);
  await expect.poll(white).toBeGreaterThan(before + 1);
  await page.keyboard.press('c');
  await settled(page);
  await expect(page.getByTestId('out-of-range')).toContainText(/clipped\d+\.\d+ %/);
  await page.keyboard.press('c');
  await page.keyboard.press('s');
  await expect(scopes).toBeHidden();
});

test('a film to start from is one step; halation shows alone', async ({ page }) => {
  await openApplication(page);
  await page.keyboard.press('7');
  await open(page, 'Starting points');
  const start = page.getByRole('button', { name: 'Start from Night stock' });
  await expect(start.locator('canvas')).toBeVisible();
  await start.click();
  await settled(page);
  await expect(page.getByRole('button', { name: 'Film, grain 2.4 %' })).toBeVisible();
  await open(page, 'Halation');
  await page.getByRole('button', { name: 'Halation alone' }).click();
  await settled(page);
  await expect(page.getByRole('combobox', { name: 'Look at' })).toHaveText(/film.halation/);
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('button', { name: 'Film, filmic' })).toBeVisible();
});

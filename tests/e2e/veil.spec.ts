import { expect, test } from '@playwright/test';
import { writeExr } from '../../src/core/formats/exr/write';
import { addChannel, emptyPicture } from '../../src/core/image/picture';
import { canvasColour, openApplication, settled, type } from './helpers';

const [WIDTH, HEIGHT] = [320, 240];

/** One lamp in the dark. */
async function lamp(): Promise<Buffer> {
  const picture = emptyPicture(WIDTH, HEIGHT);
  const plane = new Float32Array(WIDTH * HEIGHT).fill(0.01);
  plane[120 * WIDTH + 160] = 20000;
  for (const name of ['R', 'G', 'B']) addChannel(picture, name, 'float', plane);
  return Buffer.from(await writeExr(picture));
}

test('a lamp gets the spikes of the pupil, which are tuned, seen alone, and taken back', async ({ page }) => {
  await openApplication(page);
  await page
    .getByTestId('file-input')
    .setInputFiles({ name: 'lamp.exr', mimeType: 'image/x-exr', buffer: await lamp() });
  await expect(page.getByRole('button', { name: 'Plate lamp.exr' })).toHaveAttribute('aria-pressed', 'true');
  await settled(page);

  await page.keyboard.press('3');
  await type(page, 'Pupil Blades', '6');
  await expect(page.getByRole('button', { name: /^Pupil, 6 blades/ })).toBeVisible();
  await page.keyboard.press('4');
  // Sixty pixels from the lamp: level, on a spike, and 30 degrees up, in a gap.
  const { width, height } = (await page.getByTestId('picture').boundingBox())!;
  const at = (x: number, y: number): Promise<number[]> =>
    canvasColour(page, 0.5 + (x + 0.5) / width, 0.5 + (y + 0.5) / height);
  const spike = (): Promise<number[]> => at(60, 0);
  const gap = (): Promise<number[]> => at(52, -30);
  const dark = await spike();
  await type(page, 'Spikes Amount', '50');
  await type(page, 'Spikes Size', '120');
  await type(page, 'Spikes Softness', '0');
  await settled(page);
  await expect.poll(async () => (await spike())[1]!).toBeGreaterThan(dark[1]! + 20);
  expect((await spike())[1]!).toBeGreaterThan((await gap())[1]! + 10);
  await expect(page.getByRole('button', { name: /^Veil, \d+\.\d+ % light/ })).toBeVisible();

  // A sixth of a turn brings the same picture, half of one puts the gap where the spike was.
  await page.keyboard.press('3');
  await type(page, 'Pupil Rotation', '30');
  await settled(page);
  await expect.poll(async () => (await spike())[1]!).toBeLessThan((await gap())[1]!);
  await page.getByRole('button', { name: 'Undo' }).click();
  await settled(page);
  await expect.poll(async () => (await spike())[1]!).toBeGreaterThan((await gap())[1]! + 10);

  // Dust lifts the gaps.
  const clean = (await gap())[1]!;
  await page.getByRole('button', { name: 'Dust' }).click();
  await type(page, 'Dust Covered', '20');
  await settled(page);
  await expect.poll(async () => (await gap())[1]!).toBeGreaterThan(clean);

  await page.keyboard.press('4');
  await page.getByRole('button', { name: 'Spikes alone' }).click();
  await expect(page.getByRole('button', { name: 'Spikes alone' })).toHaveAttribute('aria-pressed', 'true');
  await settled(page);
  await page.getByRole('button', { name: 'Spikes alone' }).click();
  await type(page, 'Spikes Amount', '0');
  await settled(page);
  await expect(page.getByRole('button', { name: /^Veil, clear/ })).toBeVisible();
  await expect.poll(spike).toEqual(dark);
});

test('a veil begins from a starting point, gets a layer, is looked at as a kernel and checked for reality', async ({
  page,
}) => {
  await openApplication(page);
  await page.keyboard.press('4');
  await page.getByRole('button', { name: 'Starting points' }).click();
  const begin = page.getByRole('button', { name: 'Start from Dirty filter' });
  // Every thumbnail is the present plate through that veil.
  await expect(page.getByRole('region', { name: 'Starting points' }).locator('canvas')).toHaveCount(8);
  await begin.click();
  await settled(page);
  await expect(page.getByRole('button', { name: /^Veil, \d+\.\d+ % light/ })).toBeVisible();
  await expect(page.getByRole('button', { name: /^Pupil, 8 blades/ })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Reality check: all as real lenses do' })).toBeVisible();
  await page.getByRole('button', { name: 'Starting points' }).click();

  await page.getByRole('button', { name: 'Layers' }).click();
  await page.getByRole('button', { name: 'New layer' }).click();
  await type(page, 'Layer 1 Amount', '2');
  await settled(page);
  await page.getByRole('button', { name: 'Layer 1 alone' }).click();
  await settled(page);
  await expect(page.getByRole('combobox', { name: 'Look at' })).toHaveText('veil.stack[0] alone');
  await page.keyboard.press('Escape');

  await page.getByRole('button', { name: 'Kernel' }).click();
  const kernel = page.getByTestId('kernel-view');
  await expect(kernel.locator('.js-plotly-plot')).toBeVisible();
  await expect(kernel).toContainText('inverse square');
  await expect(kernel).toContainText(/taken from the sources\d/);

  await type(page, 'Bloom Amount', '20');
  await type(page, 'Feed Threshold', '0.2');
  await settled(page);
  await page.getByRole('button', { name: /^Reality check: \d beyond/ }).click();
  const list = page.getByRole('dialog', { name: 'Reality check' });
  await expect(list.getByRole('region', { name: 'Bloom: Amount' })).toContainText('20 %');
  await expect(list.getByRole('region', { name: 'Feed: Threshold' })).toContainText('everything glows');
  // What lamps have lost is found a moment later than the rest.
  await expect(list).toContainText('Lamp cores');
  await list.getByRole('button', { name: 'Bring all back' }).click();
  await expect(list).toContainText('within what real lenses do');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('textbox', { name: 'Bloom Amount', exact: true })).not.toHaveValue('20.00');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('textbox', { name: 'Bloom Amount', exact: true })).toHaveValue('20.00');
});

test('an image becomes the mask of the pupil, is seen in it, and is there after a reload', async ({
  page,
}) => {
  await openApplication(page);
  await page.keyboard.press('3');
  const view = page.getByRole('img', { name: /^The pupil/ });
  const upper = (): Promise<number> =>
    view.evaluate((canvas: HTMLCanvasElement) => {
      const { width, height } = canvas;
      return canvas.getContext('2d')!.getImageData(width / 2, height / 4, 1, 1).data[0]!;
    });
  await expect.poll(upper).toBeGreaterThan(200);
  // Closed above, open below.
  const picture = emptyPicture(64, 64);
  for (const name of ['R', 'G', 'B'])
    addChannel(
      picture,
      name,
      'float',
      Float32Array.from({ length: 64 * 64 }, (_, i) => (i < 32 * 64 ? 0 : 1)),
    );
  const chooser = page.waitForEvent('filechooser');
  await page.getByRole('combobox', { name: 'Pupil Mask' }).click();
  await page.getByRole('option', { name: 'From a file…' }).click();
  await (
    await chooser
  ).setFiles({
    name: 'half.exr',
    mimeType: 'image/x-exr',
    buffer: Buffer.from(await writeExr(picture)),
  });
  await expect(page.getByRole('combobox', { name: 'Pupil Mask' })).toHaveText('half.exr');
  await expect.poll(upper).toBeLessThan(60);
  await settled(page);
  await page.waitForTimeout(800);
  await page.reload();
  await settled(page);
  await page.keyboard.press('3');
  await expect(page.getByRole('combobox', { name: 'Pupil Mask' })).toHaveText('half.exr');
  await expect.poll(upper).toBeLessThan(60);
});

test('a region is drawn and alone is computed, at full size', async ({ page }) => {
  await openApplication(page);
  await page.keyboard.press('4');
  await type(page, 'Bloom Amount', '2');
  await settled(page);
  const { x, y, width, height } = (await page.getByTestId('picture').boundingBox())!;
  const inside = (): Promise<number[]> => canvasColour(page, 0.5, 0.5);
  const outside = (): Promise<number[]> => canvasColour(page, 0.1, 0.5);
  const before = { inside: await inside(), outside: await outside() };
  await page.keyboard.press('r');
  await page.mouse.move(x + 0.35 * width, y + 0.4 * height);
  await page.mouse.down();
  await page.mouse.move(x + 0.6 * width, y + 0.6 * height, { steps: 5 });
  await page.mouse.up();
  await expect(page.getByRole('textbox', { name: /^Region/ })).toBeVisible();
  await settled(page);
  await expect.poll(async () => Math.abs((await inside())[1]! - before.inside[1]!)).toBeLessThan(4);
  await type(page, 'Bloom Amount', '60');
  await settled(page);
  await expect.poll(async () => (await inside())[1]!).toBeGreaterThan(before.inside[1]! + 8);
  expect(await outside()).toEqual(before.outside);
  // Without the region all of it is computed.
  await page.keyboard.press('r');
  await settled(page);
  await expect.poll(async () => (await outside())[1]!).toBeGreaterThan(before.outside[1]! + 8);
});

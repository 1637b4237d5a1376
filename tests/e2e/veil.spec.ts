import { expect, test } from '@playwright/test';
import { writeExr } from '../../src/core/formats/exr/write';
import { addChannel, emptyPicture } from '../../src/core/image/picture';
import { canvasColour, openApplication, settled, type } from './helpers';

const [WIDTH, HEIGHT] = [320, 240];

/** One lamp in the dark. */
function lamp(): Buffer {
  const picture = emptyPicture(WIDTH, HEIGHT);
  const plane = new Float32Array(WIDTH * HEIGHT).fill(0.01);
  plane[120 * WIDTH + 160] = 20000;
  for (const name of ['R', 'G', 'B']) addChannel(picture, name, 'float', plane);
  return Buffer.from(writeExr(picture));
}

test('a lamp gets the spikes of the pupil, which are tuned, seen alone, and taken back', async ({ page }) => {
  await openApplication(page);
  await page
    .getByTestId('file-input')
    .setInputFiles({ name: 'lamp.exr', mimeType: 'image/x-exr', buffer: lamp() });
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

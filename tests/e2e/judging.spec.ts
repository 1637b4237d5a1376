import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { PNG } from 'pngjs';
import { downloaded, openApplication, settled } from './helpers';

test('a value is chosen from a test strip, finely, and the strip printed', async ({ page }) => {
  const errors: string[] = [];
  page.on('pageerror', ({ message }) => errors.push(message));
  await openApplication(page);
  await page.getByRole('button', { name: /^Veil,/ }).click();
  await page.locator('[data-setting="veil.bloom.amount"]').hover();
  await page.keyboard.press('t');
  const strip = page.getByRole('region', { name: 'Test strip' });
  await expect(strip.getByRole('combobox', { name: 'Across: setting' })).toHaveValue('Veil, Bloom: Amount');
  await expect(strip.getByTestId('strip-status')).toContainText('5 pictures');

  // The sheet that is printed has more light in it from picture to picture.
  const wait = page.waitForEvent('download');
  await strip.getByRole('button', { name: 'Print the sheet' }).click();
  const { path, name } = await downloaded(wait);
  expect(name).toMatch(/veil\.bloom\.amount.*\.png$/);
  const sheet = PNG.sync.read(readFileSync(path));
  const cells = await strip.locator('[data-trial] canvas').evaluateAll((all) =>
    all.map((canvas) => {
      const { width, height } = canvas as HTMLCanvasElement;
      const { data } = (canvas as HTMLCanvasElement).getContext('2d')!.getImageData(0, 0, width, height);
      let sum = 0;
      for (let i = 0; i < data.length; i += 4) sum += data[i]! + data[i + 1]! + data[i + 2]!;
      return { mean: sum / data.length, width };
    }),
  );
  expect(sheet.width).toBeGreaterThan(2 * cells[0]!.width);
  for (let k = 1; k < cells.length; k++) expect(cells[k]!.mean).toBeGreaterThan(cells[k - 1]!.mean);

  // Finer about one of them, from there the present one, as one step each.
  await strip
    .getByRole('button', { name: 'Take 1.08 %, as real lenses have' })
    .click({ modifiers: ['Shift'] });
  await expect(strip.getByRole('button', { name: /^Take 1\.08 %, present/ })).toBeVisible();
  await expect(strip.getByTestId('strip-status')).toContainText('5 pictures');
  await strip.getByRole('button', { name: /^Take 1\.58 %/ }).click();
  await expect(strip).toBeHidden();
  await settled(page);
  const field = page.getByRole('textbox', { name: 'Bloom Amount', exact: true });
  await expect(field).toHaveValue('1.58');
  await page.keyboard.press('Control+z');
  await expect(field).toHaveValue('1.08');

  // A grid with whole pupils, given up by Escape.
  await page.getByRole('button', { name: 'Test strip' }).click();
  await strip.getByRole('button', { name: 'Second setting' }).click();
  await expect(strip.getByRole('button', { name: /^Take / })).toHaveCount(15);
  await page.keyboard.press('Escape');
  await expect(strip).toBeHidden();
  expect(errors).toEqual([]);
});

import { expect, test } from '@playwright/test';
import { canvasColour, openApplication, settled, type } from './helpers';

test('what glows is chosen by its share, coloured, streaked, weighed and explained', async ({ page }) => {
  const errors: string[] = [];
  page.on('pageerror', ({ message }) => errors.push(message));
  await openApplication(page);
  await page.getByRole('button', { name: /^Veil,/ }).click();

  // A wished share of the pixels gives the threshold.
  await type(page, 'Feed Wished share of the pixels', '0.5');
  await expect(page.getByRole('textbox', { name: 'Feed Threshold' })).not.toHaveValue('1.00');
  await settled(page);
  const share = await page.getByRole('textbox', { name: 'Feed Wished share of the pixels' }).inputValue();
  expect(Number(share)).toBeGreaterThan(0.4);
  expect(Number(share)).toBeLessThanOrEqual(0.5);

  // A layer that is purple.
  await page.getByRole('button', { name: 'Layers' }).click();
  await page.getByRole('button', { name: 'New layer' }).click();
  await type(page, 'Layer 1 Amount', '30');
  await type(page, 'Layer 1 Tint colour', '#a020ff');
  await settled(page);
  await page.getByRole('button', { name: 'Layer 1 alone' }).click();
  await settled(page);
  // In the sky, where there is nothing but glow.
  const [red, green, blue] = await canvasColour(page, 0.5, 0.3);
  expect(blue! - green!).toBeGreaterThan(10);
  expect(red!).toBeGreaterThan(green!);
  await page.getByRole('button', { name: 'Layer 1 alone' }).click();

  // Two streaks of different length.
  await page.getByRole('button', { name: 'Streaks' }).click();
  await page.getByRole('button', { name: 'New streak' }).click();
  await type(page, 'Streak 1 Length', '60');
  await page.getByRole('button', { name: 'New streak' }).click();
  await type(page, 'Streak 2 Angle', '60');
  await type(page, 'Streak 2 Length', '10');
  await type(page, 'Streak 2 Other side', '0');
  await settled(page);

  // The table tells what each still does, and switches it in place.
  await page.getByRole('button', { name: 'What still matters' }).click();
  const table = page.getByRole('dialog', { name: 'What still matters' });
  await expect(table.getByTestId('weight veil.streaks[0].on')).toContainText(/\d ms/);
  await expect(table.getByTestId('weight veil.stack[0].on')).toContainText(/[+-]\d+\.\d st at \d+, \d+/);
  await table.getByRole('switch', { name: 'Streak 2 on' }).click();
  await settled(page);
  await expect(table.getByTestId('weight veil.streaks[1].on')).toBeHidden();
  // The switch that was pressed is gone; the table gets the focus back.
  await page.waitForTimeout(200);
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Undo' }).click();

  // A wished disc at a place gives the f-stop.
  await page.getByRole('button', { name: /^Focus,/ }).click();
  await page.getByRole('switch', { name: 'Focus on' }).click();
  await type(page, 'Wished disc Pixels', '3');
  await page.getByRole('button', { name: 'Click what should blur so' }).click();
  await page.getByTestId('focus-picker').click({ position: { x: 300, y: 300 } });
  const fStop = page.getByRole('textbox', { name: 'Camera f-stop', exact: true });
  await expect(fStop).not.toHaveValue('2.80');
  expect(Number(await fStop.inputValue())).toBeGreaterThan(2.8);
  await settled(page);
  // The ball there now has that disc.
  await expect(page.getByText(/disc -3\.0 px/)).toBeVisible();
  expect(errors).toEqual([]);
});

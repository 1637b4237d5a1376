import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { PNG } from 'pngjs';
import sharp from 'sharp';
import { canvasColour, downloaded, openApplication, settled, type } from './helpers';

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

test('proofs are saved, compared, taken over in part, put back and kept', async ({ page }) => {
  const errors: string[] = [];
  page.on('pageerror', ({ message }) => errors.push(message));
  await openApplication(page);
  await page.getByRole('button', { name: /^Veil,/ }).click();
  await page.keyboard.press('p');
  await expect(page.getByRole('button', { name: 'Proof Proof 1', exact: true })).toBeVisible();
  await type(page, 'Bloom Amount', '6');
  await type(page, 'Bloom Core radius', '1');
  await settled(page);

  // Wipe: the proof on the left, which has no bloom, is darker about the lamp.
  await page.getByRole('button', { name: 'Proof Proof 1', exact: true }).click();
  const edge = page.getByRole('slider', { name: 'Wipe edge: Proof 1 on the left, final on the right' });
  await edge.press('End');
  await page.waitForTimeout(600);
  const before = await canvasColour(page, 0.72, 0.3);
  await edge.press('Home');
  const now = await canvasColour(page, 0.72, 0.3);
  expect(now[0]!).toBeGreaterThan(before[0]! + 10);

  // Difference in figures, and the settings.
  await page.getByRole('button', { name: 'Compare: difference' }).click();
  await expect(page.getByTestId('difference')).toHaveText(/largest \d.*, mean 0\.\d+/);
  await page.getByRole('button', { name: '2 settings differ' }).click();
  await page.getByRole('button', { name: 'Take over Bloom: Core radius of Proof 1' }).click();
  await expect(page.getByRole('dialog', { name: 'Settings that differ' }).getByRole('row')).toHaveCount(2);
  // The button that was pressed is gone; the list gets the focus back.
  await page.waitForTimeout(200);
  await page.keyboard.press('Escape');
  await expect(page.getByRole('button', { name: '1 setting differs' })).toBeVisible();
  await expect(page.getByRole('textbox', { name: 'Bloom Core radius', exact: true })).toHaveValue('0.60');

  // Side by side, zoom tied; blink; swapped.
  await page.getByRole('button', { name: 'Compare: side by side' }).click();
  await expect(page.getByRole('region', { name: 'Proof 1' }).getByRole('img')).toBeVisible();
  await page.getByRole('button', { name: 'Compare: blink' }).click();
  await type(page, 'Blink seconds', '0.2');
  await page.keyboard.press('x');
  await expect(page.getByRole('combobox', { name: 'Shown' })).toHaveText('Proof 1');
  await page.keyboard.press('x');

  // Put back as one step; kept over a reload, whatever is undone.
  await page.getByRole('button', { name: 'Put Proof 1 back' }).click();
  const amount = page.getByRole('textbox', { name: 'Bloom Amount', exact: true });
  await expect(amount).toHaveValue('0.00');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(amount).toHaveValue('6.00');
  await page.getByRole('button', { name: 'End comparing' }).click();
  await page.waitForTimeout(800);
  await page.reload();
  await settled(page);
  await expect(page.getByRole('img', { name: 'Thumbnail of Proof 1' })).toBeVisible();
  await page.getByRole('button', { name: 'More of Proof 1' }).click();
  await page.getByRole('menuitem', { name: 'Remove' }).click();
  await page.getByRole('button', { name: 'Bring back Proof 1' }).click();
  await expect(page.getByRole('button', { name: 'Proof Proof 1', exact: true })).toBeVisible();
  expect(errors).toEqual([]);
});

test('a reference is held against the picture and matched by a patch on each', async ({ page }) => {
  await openApplication(page);
  const photo = await sharp(new Uint8Array(480 * 270 * 3).fill(120), {
    raw: { width: 480, height: 270, channels: 3 },
  })
    .png()
    .toBuffer();
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: 'Bring in a photo' }).click(),
  ]);
  await chooser.setFiles({ name: 'wall.png', mimeType: 'image/png', buffer: photo });
  const pane = page.getByRole('region', { name: 'Reference wall.png' });
  await expect(pane.getByRole('img')).toBeVisible();
  await page.getByRole('button', { name: 'Match by patches' }).click();
  for (const side of ['shown', 'compared']) {
    const box = (await page.getByTestId(`patch-${side}`).boundingBox())!;
    const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
    await page.mouse.move(x, y);
    await page.mouse.down();
    await page.mouse.move(x + 30, y + 20, { steps: 3 });
    await page.mouse.up();
  }
  await page.getByRole('button', { name: 'Match', exact: true }).click();
  const exposure = page.getByRole('textbox', { name: 'Reference exposure' });
  await expect(exposure).not.toHaveValue('0.0');
  await expect(page.getByRole('button', { name: 'Own white again' })).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(exposure).toHaveValue('0.0');
  // A wipe against it, its own zoom beside, its own scopes.
  await page.getByRole('button', { name: 'Compare: wipe' }).click();
  await expect(page.getByRole('slider', { name: /Wipe edge: wall\.png/ })).toBeVisible();
  await page.keyboard.press('s');
  await page.getByRole('button', { name: 'Scopes of what the picture is held against' }).click();
  await expect(page.getByTestId('scope-ends')).toHaveText('0.00 % black, 0.00 % white');
});

/** A photograph of a lamp, white at its core, whose glow falls off by a power of the distance about a core. */
function lampPhoto(falloff: number, core: number): Promise<Buffer> {
  const [width, height] = [480, 360];
  const bytes = new Uint8Array(width * height * 3);
  for (let i = 0; i < bytes.length; i++) {
    const [dx, dy] = [(Math.floor(i / 3) % width) + 0.5 - 240, Math.floor(i / 3 / width) + 0.5 - 180];
    const light = 2 * (1 + (dx * dx + dy * dy) / core ** 2) ** (-falloff / 2) + 0.01;
    // The sRGB curve (IEC 61966-2-1).
    const encoded = light <= 0.0031308 ? 12.92 * light : 1.055 * Math.min(1, light) ** (1 / 2.4) - 0.055;
    bytes[i] = Math.round(255 * encoded);
  }
  return sharp(bytes, { raw: { width, height, channels: 3 } })
    .png()
    .toBuffer();
}

test('the light of a lamp is measured in a reference and taken over', async ({ page }) => {
  await openApplication(page);
  await page.getByRole('button', { name: /^Veil,/ }).click();
  await page.keyboard.press('l');
  await expect(page.getByText('bring in a reference first')).toBeVisible();
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: 'Bring in a photo' }).click(),
  ]);
  await chooser.setFiles({ name: 'lamp.png', mimeType: 'image/png', buffer: await lampPhoto(2.5, 9) });
  await page.getByRole('button', { name: 'Measure a light' }).click();
  const circle = async (side: string, x: number, y: number, radius: number): Promise<void> => {
    const box = (await page.getByTestId(`circle-${side}`).boundingBox())!;
    const picture = (await page.getByTestId(`circle-${side}`).locator('..').locator('canvas').boundingBox())!;
    expect(picture.width).toBeCloseTo(box.width, 0);
    await page.mouse.move(box.x + x * box.width, box.y + y * box.height);
    await page.mouse.down();
    await page.mouse.move(box.x + x * box.width + radius, box.y + y * box.height, { steps: 4 });
    await page.mouse.up();
  };
  const panel = page.getByRole('region', { name: 'Measured light' });
  await circle('compared', 0.5, 0.5, 90);
  const falloff = panel.getByRole('row', { name: /^Bloom: fall-off/ });
  await expect(falloff).toContainText(/2\.[45]\d? /, { timeout: 30_000 });
  await expect(panel.getByRole('row', { name: /^Bloom: amount/ })).toContainText('too little evidence');
  // The lantern of the pier's nearest post.
  await circle('shown', 0.3, 0.59, 40);
  await expect(panel.getByRole('row', { name: /^Bloom: amount/ })).not.toContainText('too little evidence');
  await panel.getByRole('button', { name: 'Take Bloom: fall-off' }).click();
  await panel.getByRole('button', { name: 'Take Bloom: amount' }).click();
  await settled(page);
  const field = page.getByRole('textbox', { name: 'Bloom Fall-off', exact: true });
  expect(Math.abs(Number(await field.inputValue()) - 2.5)).toBeLessThan(0.1);
  await expect(panel.locator('.js-plotly-plot .scatterlayer .trace').first()).toBeAttached();
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect(field).toHaveValue('2.00');
  await page.keyboard.press('Escape');
  await expect(panel).toBeHidden();
});

test('a whole look is chosen on the present plate, kept, and comes back from a file', async ({ page }) => {
  await openApplication(page);
  await page.keyboard.press('k');
  const looks = page.getByRole('region', { name: 'Whole looks' });
  await expect(looks.locator('button[aria-label^="Look "] canvas')).toHaveCount(12, { timeout: 30_000 });
  await looks.getByRole('button', { name: 'Look Silver' }).click();
  await expect(looks.getByRole('list', { name: 'What it would change' })).toContainText('Saturation');
  await looks.getByRole('button', { name: 'Take it' }).click();
  await settled(page);
  const [r, g, b] = await canvasColour(page, 0.5, 0.5);
  expect(Math.max(r!, g!, b!) - Math.min(r!, g!, b!)).toBeLessThanOrEqual(2);

  await page.keyboard.press('k');
  await looks.getByRole('button', { name: 'Keep the present look' }).click();
  await expect(looks.getByRole('heading', { name: 'My look' })).toBeVisible();
  const wait = page.waitForEvent('download');
  await looks.getByRole('button', { name: 'Save to a file' }).click();
  const { path, name } = await downloaded(wait);
  expect(name).toBe('My_look.look.json');
  await looks.getByRole('button', { name: 'Take and follow it' }).click();
  await expect(page.getByRole('region', { name: 'Shelf' }).getByText('follows My look')).toBeVisible();
  await page.waitForTimeout(800);
  await page.reload();
  await settled(page);
  await expect(page.getByRole('region', { name: 'Shelf' }).getByText('follows My look')).toBeVisible();
  await page.keyboard.press('k');
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    looks.getByRole('button', { name: 'Bring in a look…' }).click(),
  ]);
  await chooser.setFiles({ name, mimeType: 'application/json', buffer: readFileSync(path) });
  await expect(looks.getByRole('button', { name: 'Look My look 2' })).toBeVisible();
});

test('a tour leads through the job, leaves the keys free, and never comes back unasked', async ({ page }) => {
  await openApplication(page);
  await page.getByRole('button', { name: 'Show me' }).click();
  const step = page.getByRole('region', { name: /^Tour: / });
  await expect(step).toHaveAccessibleName('Tour: Look at what came in');
  await page.keyboard.press('v');
  await expect(page.getByRole('button', { name: 'False colour' })).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('v');
  for (let k = 1; k < 10; k++) {
    await step.getByRole('button', { name: 'Next' }).click();
    await expect(step).toContainText(`${k + 1} / 10`);
    const { x, y, width, height } = (await step.boundingBox())!;
    expect(x >= 0 && y >= 0 && x + width <= 1280 && y + height <= 800).toBe(true);
  }
  await step.getByRole('button', { name: 'Back' }).click();
  await page.keyboard.press('Escape');
  await expect(step).toBeHidden();
  await page.reload();
  await settled(page);
  await expect(page.getByRole('button', { name: 'Show me' })).toBeHidden();
  await page.getByRole('button', { name: 'Quay at night' }).click();
  await page.getByRole('menuitem', { name: 'A tour in ten steps' }).click();
  await expect(step).toBeVisible();
});

import { expect, test, type Page } from '@playwright/test';
import { addChannel, emptyPicture } from '../../src/core/image/picture';
import { writeExr } from '../../src/core/formats/exr/write';
import { openApplication, settled, smallPlate, type } from './helpers';
import { lastBefore, startChromium, withProfile, type Typed } from './killable';

/** A plate without depth or emission. */
async function bare(width = 90, height = 60): Promise<Buffer> {
  const picture = emptyPicture(width, height);
  for (const name of ['R', 'G', 'B'])
    addChannel(
      picture,
      name,
      'float',
      Float32Array.from({ length: width * height }, (_, i) => 0.1 + (i % width) / width),
    );
  return Buffer.from(await writeExr(picture));
}

const upload = (name: string, buffer: Buffer) => ({ name, mimeType: 'application/octet-stream', buffer });
const exposure = (page: Page) => page.getByRole('textbox', { name: 'Film Exposure' });
const plates = (page: Page) => page.getByRole('button', { name: /^Plate / });

async function bring(page: Page, name: string, buffer: Buffer): Promise<void> {
  await page.getByTestId('file-input').setInputFiles(upload(name, buffer));
  await expect(page.getByRole('button', { name: `Plate ${name}` })).toHaveAttribute('aria-pressed', 'true');
}

test('a value typed just before a reload, and a plate whose tile has just appeared, are there after it', async ({
  page,
}) => {
  await openApplication(page);
  await page.keyboard.press('7');
  await type(page, 'Film Exposure', '1.25');
  await page.reload();
  await settled(page);
  await page.keyboard.press('7');
  await expect(exposure(page)).toHaveValue('1.25');
  // What is typed but not taken yet is taken as the page goes.
  await exposure(page).fill('0.75');
  await page.reload();
  await settled(page);
  await page.keyboard.press('7');
  await expect(exposure(page)).toHaveValue('0.75');
  await bring(page, 'lamp.exr', await smallPlate());
  await page.reload();
  await settled(page);
  await expect(plates(page)).toHaveCount(2);
});

test('a damaged shot file changes nothing; another shot, and a plate that was removed, are undone', async ({
  page,
}) => {
  await openApplication(page);
  await bring(page, 'lamp.exr', await smallPlate());
  await settled(page);
  await page.getByRole('button', { name: 'Quay at night' }).click();
  const wait = page.waitForEvent('download');
  await page.getByRole('menuitem', { name: 'Save the shot to a file' }).click();
  const saved = await (await wait).createReadStream();
  const parts: Buffer[] = [];
  for await (const part of saved) parts.push(part as Buffer);
  const bytes = Buffer.concat(parts);
  // Garbles the middle of the small plate's pixels, under the ids of what is open.
  const garbled = Buffer.from(bytes);
  const at = garbled.lastIndexOf(Buffer.from([0x76, 0x2f, 0x31, 0x01]));
  garbled.fill(0xff, at + 4, at + 40);
  await page.getByTestId('file-input').setInputFiles(upload('broken.bokelux', garbled));
  await expect(page.getByRole('alert').first()).toBeVisible();
  await page.reload();
  await settled(page);
  await expect(plates(page)).toHaveCount(2);

  await page.getByTestId('file-input').setInputFiles(upload('again.bokelux', bytes));
  await expect(page.getByText(/opened; undo brings Quay at night back/)).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await settled(page);

  await page.getByRole('button', { name: 'More of lamp.exr' }).click();
  await page.getByRole('menuitem', { name: 'Remove from the shot' }).click();
  await expect(plates(page)).toHaveCount(1);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(plates(page)).toHaveCount(2);
  await page.getByRole('button', { name: 'Plate lamp.exr' }).click();
  await settled(page);
});

test('one tab has the shot: another says so, takes it over, or works on a copy', async ({
  page,
  context,
}) => {
  await openApplication(page);
  await page.keyboard.press('7');
  await type(page, 'Film Exposure', '1');
  const other = await context.newPage();
  await other.goto('/');
  await expect(other.getByRole('dialog')).toContainText('open in another tab');
  await other.getByRole('button', { name: 'Take over here' }).click();
  await settled(other);
  await other.keyboard.press('7');
  await expect(exposure(other)).toHaveValue('1.00');
  await expect(page.getByRole('dialog')).toContainText('taken this shot over');
  await page.getByRole('button', { name: 'Go on with a copy' }).click();
  await type(page, 'Film Exposure', '3');
  await type(other, 'Film Exposure', '2');
  for (const [tab, value] of [
    [page, '3.00'],
    [other, '2.00'],
  ] as const) {
    await tab.reload();
    await settled(tab);
    await tab.keyboard.press('7');
    await expect(exposure(tab)).toHaveValue(value);
  }
});

test('a store that is cleared under the page is filled again, and the charts come without the server', async ({
  page,
  context,
}) => {
  await openApplication(page);
  await bring(page, 'lamp.exr', await smallPlate());
  await settled(page);
  await page.evaluate(
    () =>
      new Promise((resolve, reject) => {
        const request = indexedDB.open('bokelux');
        request.onsuccess = () => {
          const clearing = request.result.transaction('shot', 'readwrite').objectStore('shot').clear();
          clearing.onsuccess = () => {
            request.result.close();
            resolve(undefined);
          };
          clearing.onerror = () => reject(new Error('not cleared'));
        };
      }),
  );
  await expect(page.getByText(/was cleared; all that is open has been kept anew/)).toBeVisible();
  await context.setOffline(true);
  await page.keyboard.press('2');
  await expect(
    page.getByRole('complementary', { name: 'Focus settings' }).locator('.js-plotly-plot').first(),
  ).toBeVisible();
  await context.setOffline(false);
  await page.reload();
  await settled(page);
  await expect(plates(page)).toHaveCount(2);
});

test('a plate that cannot be computed is shown as it is, with what is missing; its region is its own', async ({
  page,
}) => {
  await openApplication(page);
  await bring(page, 'plain.exr', await bare());
  await settled(page);
  await page.getByRole('switch', { name: 'Focus on' }).click();
  await expect(page.getByTestId('failure')).toContainText('depth');
  await page.getByRole('button', { name: 'Plate quay.exr' }).click();
  await settled(page);
  await expect(page.getByTestId('failure')).toBeHidden();
  await page.getByRole('button', { name: 'Plate plain.exr' }).click();
  await expect(page.getByTestId('failure')).toBeVisible();
  await page.getByRole('button', { name: 'Switch Focus off' }).click();
  await settled(page);
  await expect(page.getByTestId('failure')).toBeHidden();

  await page.getByRole('button', { name: 'Region' }).click();
  const field = page.getByRole('textbox', { name: /^Region: / });
  await field.fill('10, 10, 40, 30');
  await field.press('Enter');
  await expect(page.getByTestId('region')).toBeVisible();
  await expect(page.getByTestId('figures-of')).toHaveText('figures: whole picture');
  await page.getByRole('button', { name: 'Plate quay.exr' }).click();
  await settled(page);
  await expect(page.getByTestId('region')).toBeHidden();
  await page.getByRole('button', { name: 'Plate plain.exr' }).click();
  await expect(page.getByTestId('region')).toBeVisible();
});

test('a drag that is undone half way is given up, and the step before it is there', async ({ page }) => {
  await openApplication(page);
  const slider = page.getByRole('slider', { name: 'Bloom Amount' });
  const field = page.getByRole('textbox', { name: 'Bloom Amount' });
  await type(page, 'Bloom Amount', '1');
  const box = (await slider.locator('..').boundingBox())!;
  await page.mouse.move(box.x + 30, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + 50, box.y + box.height / 2, { steps: 4 });
  await page.keyboard.press('Control+z');
  await expect(field).toHaveValue('1.00');
  await page.mouse.move(box.x + 60, box.y + box.height / 2, { steps: 4 });
  await expect(field).toHaveValue('1.00');
  await page.mouse.up();
  await page.keyboard.press('Control+z');
  await expect(field).toHaveValue('0.00');
  await page.keyboard.press('Control+Shift+z');
  await expect(field).toHaveValue('1.00');

  // A number that is dragged in its field is one step, and the keys are the application's afterwards.
  const place = (await field.boundingBox())!;
  await page.mouse.move(place.x + 10, place.y + 8);
  await page.mouse.down();
  await page.mouse.move(place.x + 40, place.y + 8, { steps: 6 });
  await page.mouse.up();
  await expect(field).not.toHaveValue('1.00');
  await page.keyboard.press('Control+z');
  await expect(field).toHaveValue('1.00');
  await field.click();
  await page.keyboard.type('2 %');
  await page.keyboard.press('ArrowUp');
  await expect(field).toHaveValue('2.05');
});

test('a browser that is killed in the midst of typing has all that was typed a second before', async ({
  baseURL,
}) => {
  // Four browsers, one after the other.
  test.setTimeout(240_000);
  await withProfile(async (profile) => {
    const typed: Typed[] = [];
    let expected = -Infinity;
    for (let round = 0; round <= 3; round++) {
      const { page, kill } = await startChromium(profile);
      await page.goto(baseURL!);
      await settled(page);
      await page.keyboard.press('7');
      await expect(exposure(page)).toBeVisible();
      expect(Number(await exposure(page).inputValue())).toBeGreaterThanOrEqual(expected);
      for (let k = 0; k < 8 + 6 * round; k++) {
        const value = Number((round + 0.02 * (k + 1)).toFixed(2));
        await exposure(page).fill(String(value));
        await exposure(page).press('Enter');
        typed.push({ value, at: Date.now() });
        await page.waitForTimeout(70);
      }
      const moment = Date.now();
      await kill();
      expected = lastBefore(typed, moment, 1000) ?? expected;
    }
    expect(expected).toBeGreaterThan(2);
  });
});

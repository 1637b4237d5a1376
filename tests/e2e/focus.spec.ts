import { expect, test, type Page } from '@playwright/test';
import { encode as encodePng } from 'fast-png';
import { writeExr } from '../../src/core/formats/exr/write';
import { addChannel, emptyPicture } from '../../src/core/image/picture';
import { canvasColour, openApplication, settled, type } from './helpers';

const [WIDTH, HEIGHT] = [320, 240];

/** A lamp far away on the right, a wall at two metres on the left. */
async function scene(): Promise<Buffer> {
  const picture = emptyPicture(WIDTH, HEIGHT);
  const plane = (value: (x: number, y: number) => number): Float32Array =>
    Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => value(i % WIDTH, Math.floor(i / WIDTH)));
  for (const name of ['R', 'G', 'B'])
    addChannel(
      picture,
      name,
      'float',
      plane((x, y) => (x === 240 && y === 120 ? 4000 : x < 160 ? 0.3 : 0.01)),
    );
  addChannel(
    picture,
    'depth.Z',
    'float',
    plane((x, y) => (x < 160 ? 2 + y / 1e4 : 1000 + y)),
  );
  return Buffer.from(await writeExr(picture));
}

async function openScene(page: Page): Promise<void> {
  await openApplication(page);
  await page
    .getByTestId('file-input')
    .setInputFiles({ name: 'wall.exr', mimeType: 'image/x-exr', buffer: await scene() });
  await expect(page.getByRole('button', { name: 'Plate wall.exr' })).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('2');
  await settled(page);
}

test('a lamp out of focus becomes a disc, and clicking puts the focus on it', async ({ page }) => {
  await openScene(page);
  const beside = (): Promise<number[]> => canvasColour(page, 0.5 + 81.5 / 792, 0.5);
  const dark = await beside();
  await page.getByRole('switch', { name: 'Focus on' }).click();
  await type(page, 'Camera f-stop', '1.4');
  await type(page, 'Camera Focus', '2');
  await settled(page);
  await expect.poll(async () => (await beside())[0]!).toBeGreaterThan(dark[0]! + 40);
  await expect(page.getByTestId('camera-facts')).toContainText('deg across');
  await expect(page.getByRole('button', { name: /^Focus, f\/1\.4 2 m/ })).toBeVisible();

  // The value under the pointer: the disc's diameter, (f/N)(f/s) on the sensor, of the demo's 33 mm.
  const box = (await page.getByTestId('picture').boundingBox())!;
  await page.mouse.move(box.x + box.width / 2 + 80, box.y + box.height / 2 + 30);
  await expect(page.getByTestId('readout')).toContainText(/disc 3\.5 px/);

  await page.getByRole('button', { name: 'Click to focus' }).click();
  await page.mouse.click(box.x + box.width / 2 + 80, box.y + box.height / 2);
  await expect(page.getByRole('textbox', { name: 'Camera Focus', exact: true })).toHaveValue(/^11\d\d/);
  await expect.poll(beside).toEqual(dark);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('textbox', { name: 'Camera Focus', exact: true })).toHaveValue('2.00');
});

test('what is in focus is tinted, the pupil is drawn as it is, and odd depth is spoken of', async ({
  page,
}) => {
  await openScene(page);
  await type(page, 'Camera Focus', '2');
  await page.keyboard.press('o');
  await settled(page);
  // The wall is sharp: green above all; what is far away is blue.
  await expect
    .poll(async () => {
      const [r, g, b] = await canvasColour(page, 0.45, 0.5);
      return g! > r! && g! > b!;
    })
    .toBe(true);
  const [r, , b] = await canvasColour(page, 0.56, 0.55);
  expect(b!).toBeGreaterThan(r!);
  await page.keyboard.press('o');
  await page.keyboard.press('3');
  await type(page, 'Pupil Blades', '7');
  await expect(page.getByRole('button', { name: 'Pupil, 7 blades' })).toBeVisible();
  await page.keyboard.press('2');
  await page.getByRole('combobox', { name: 'Depth Reading' }).click();
  await page.getByRole('option', { name: 'Near to far' }).click();
  await expect(page.getByTestId('depth-warning')).toContainText('beyond 0 to 1');

  // The far end is set by a place whose distance is known.
  await expect(page.getByTestId('depth-picture')).toBeVisible();
  await page.getByRole('button', { name: 'Pick far' }).click();
  const box = (await page.getByTestId('picture').boundingBox())!;
  await page.mouse.click(box.x + box.width / 2 + 80, box.y + box.height / 2 - 30);
  await type(page, 'Known distance', '30');
  await expect(page.getByRole('textbox', { name: 'Depth Far', exact: true })).toHaveValue('30.00');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('textbox', { name: 'Depth Far', exact: true })).toHaveValue('100.00');
});

test('noise and bands are drawn out at full size, and a grey file beside a picture is its depth', async ({
  page,
}) => {
  await openScene(page);
  await page.getByRole('button', { name: 'Noise' }).click();
  await settled(page);
  await expect(page.getByTestId('zoom')).toHaveText('100 %');
  await expect(page.getByTestId('grain')).toContainText(/noise: 0\.00 % sharp/);
  await page.getByRole('button', { name: 'Noise' }).click();
  await expect(page.getByTestId('grain')).toBeHidden();

  const grey = (value: (x: number, y: number) => number): Buffer =>
    Buffer.from(
      encodePng({
        width: WIDTH,
        height: HEIGHT,
        channels: 1,
        depth: 8,
        data: Uint8Array.from({ length: WIDTH * HEIGHT }, (_, i) => value(i % WIDTH, Math.floor(i / WIDTH))),
      }),
    );
  const png = { mimeType: 'image/png' };
  await page.getByTestId('file-input').setInputFiles([
    { name: 'still.png', ...png, buffer: grey((x, y) => (x * y) % 255) },
    { name: 'depth.png', ...png, buffer: grey((x) => (x < 160 ? 51 : 255)) },
  ]);
  await expect(page.getByRole('button', { name: 'Plate still' })).toHaveAttribute('aria-pressed', 'true');
  await settled(page);
  await page.getByRole('combobox', { name: 'Depth Reading' }).click();
  await page.getByRole('option', { name: 'Near to far' }).click();
  // 51 of 255 is a fifth of the way from 1 to 100 m, as it is stored.
  const box = (await page.getByTestId('picture').boundingBox())!;
  // The menu takes a moment to close over the picture.
  await expect(page.locator('.MuiMenu-root')).toHaveCount(0);
  await page.mouse.move(box.x + box.width / 2 - 82, box.y + box.height / 2);
  await page.mouse.move(box.x + box.width / 2 - 80, box.y + box.height / 2);
  await expect(page.getByTestId('readout')).toContainText('20.8');
  await expect(page.getByTestId('depth-warning').first()).toContainText('only 2 distances');
});

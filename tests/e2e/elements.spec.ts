import { expect, test, type Page } from '@playwright/test';
import sharp from 'sharp';
import { writeExr } from '../../src/core/formats/exr/write';
import { addChannel, emptyPicture } from '../../src/core/image/picture';
import { canvasColour, chooseKind, downloaded, openApplication, settled, type } from './helpers';

const [WIDTH, HEIGHT] = [96, 64];

interface RenderFile {
  name: string;
  mimeType: string;
  buffer: Buffer;
}

/** A render of one colour, where it is, at one distance. */
async function render(
  name: string,
  colour: readonly number[],
  alpha: (x: number, y: number) => number,
  distance: number,
): Promise<RenderFile> {
  const picture = emptyPicture(WIDTH, HEIGHT);
  const plane = (value: (a: number) => number): Float32Array =>
    Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => value(alpha(i % WIDTH, Math.floor(i / WIDTH))));
  ['R', 'G', 'B'].forEach((channel, c) =>
    addChannel(
      picture,
      channel,
      'float',
      plane((a) => a * colour[c]!),
    ),
  );
  addChannel(
    picture,
    'A',
    'float',
    plane((a) => a),
  );
  addChannel(
    picture,
    'Z',
    'float',
    plane((a) => (a > 0 ? distance : 0)),
  );
  return { name, mimeType: 'application/octet-stream', buffer: Buffer.from(await writeExr(picture)) };
}

/** Red, green and blue on the screen of a pixel of the picture, which lies in the middle of the canvas at its own size. */
async function colourAt(page: Page, x: number): Promise<number[]> {
  const box = (await page.getByTestId('picture').boundingBox())!;
  return canvasColour(page, 0.5 + (x + 0.5 - WIDTH / 2) / box.width, 0.5);
}

/** Chooses a file in the dialog that a button opens. */
async function choose(page: Page, button: string, file: RenderFile): Promise<void> {
  const chooser = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: button, exact: true }).click();
  await (await chooser).setFiles(file);
}

test('three elements are laid over each other, put in order, corrected, focused, replaced and printed', async ({
  page,
}) => {
  await openApplication(page);
  const left = (x: number): number => (x < 56 ? 1 : 0);
  const wall = await render('wall.exr', [0.1, 0.1, 0.6], (x) => (x < 88 ? 1 : 0), 9);
  const post = await render('post.exr', [0.6, 0.1, 0.1], left, 4);
  const leaf = await render('leaf.exr', [0.1, 0.6, 0.1], (x) => (x < 24 ? 1 : 0), 1.2);
  await page.getByTestId('file-input').setInputFiles(wall);
  await expect(page.getByRole('button', { name: 'Plate wall.exr' })).toBeVisible();
  await settled(page);
  await page.keyboard.press('1');
  await choose(page, 'Bring in an element…', post);
  await expect(page.getByRole('button', { name: 'Work on post.exr' })).toBeVisible();
  await choose(page, 'Bring in an element…', leaf);
  await expect(page.getByRole('button', { name: 'Work on leaf.exr' })).toBeVisible();
  await settled(page);
  const rows = page.getByRole('list', { name: 'Elements, the nearest first' }).getByRole('listitem');
  const isGreen = async (): Promise<boolean> => {
    const [r, g] = await colourAt(page, 10);
    return g! > r!;
  };
  await expect.poll(isGreen).toBe(true);

  // By the keyboard: the leaf goes behind the post, and comes back by undo.
  await page.getByRole('button', { name: 'Move leaf.exr', exact: true }).focus();
  for (const key of ['m', 'ArrowDown', 'm']) {
    await page.keyboard.press(key);
    // The list measures its rows in between.
    await page.waitForTimeout(300);
  }
  await expect(rows.first()).toContainText('post');
  await settled(page);
  await expect.poll(isGreen).toBe(false);
  await page.keyboard.press('Control+z');
  await expect(rows.first()).toContainText('leaf');
  await settled(page);
  await expect.poll(isGreen).toBe(true);

  // The post is corrected within the leaf alone, which covers it, and then everywhere.
  await page.getByRole('button', { name: 'Work on post.exr' }).click();
  const before = await colourAt(page, 40);
  await page
    .getByRole('region', { name: 'Correction 1' })
    .getByRole('combobox', { name: /Within/ })
    .click();
  await page.getByRole('option', { name: 'leaf', exact: true }).click();
  const correction = page.getByRole('region', { name: 'Correction 1' });
  const exposure = correction.getByRole('textbox', { name: /Exposure/ });
  await exposure.fill('2');
  await exposure.press('Enter');
  await settled(page);
  expect(await colourAt(page, 40)).toEqual(before);
  await correction.getByRole('combobox', { name: /Within/ }).click();
  await page.getByRole('option', { name: 'everywhere' }).click();
  await settled(page);
  await expect.poll(async () => (await colourAt(page, 40))[0]).toBeGreaterThan(before[0]!);

  // Focus lies on the post: its edge stays, the leaf's is spread.
  await page.keyboard.press('2');
  await page.getByRole('switch', { name: 'Focus on' }).first().click();
  await type(page, 'Camera Focus', '4');
  await type(page, 'Camera f-stop', '1');
  await settled(page);
  const reds = async (from: number): Promise<number[]> => {
    const out: number[] = [];
    for (let k = -4; k <= 4; k++) out.push((await colourAt(page, from + k))[0]!);
    return out;
  };
  const between = (values: number[]): number => {
    const [low, high] = [Math.min(...values), Math.max(...values)];
    return values.filter((value) => value > low + 0.1 * (high - low) && value < high - 0.1 * (high - low))
      .length;
  };
  await expect.poll(async () => between(await reds(24))).toBeGreaterThan(between(await reds(56)));

  // A newer render of the leaf takes its place; the older one is a step back.
  await page.keyboard.press('1');
  await page.getByRole('button', { name: 'Work on leaf.exr' }).click();
  await choose(
    page,
    'Replace the render…',
    await render('leaf.exr', [0.6, 0.6, 0.6], (x) => (x < 24 ? 1 : 0), 1.2),
  );
  await expect(page.getByRole('button', { name: 'Next version' })).toHaveText('version 2 of 2');
  await settled(page);
  await expect
    .poll(async () => {
      const [r, g, b] = await colourAt(page, 10);
      return Math.max(r!, g!, b!) - Math.min(r!, g!, b!);
    })
    .toBeLessThan(8);

  await page.getByRole('button', { name: 'Print', exact: true }).click();
  const dialog = page.getByRole('dialog');
  await chooseKind(page, 'PNG 16 bit');
  await dialog.getByRole('combobox', { name: 'Alpha' }).click();
  await page.getByRole('option', { name: 'Unassociated' }).click();
  const wait = page.waitForEvent('download');
  await dialog.getByRole('button', { name: 'Print file' }).click();
  const { bytes } = await downloaded(wait);
  // Read by sharp, a general-purpose library.
  const alpha = await sharp(bytes).extractChannel('alpha').raw().toBuffer();
  expect(alpha).toHaveLength(WIDTH * HEIGHT);
  expect(alpha[32 * WIDTH + 40]).toBe(255);
  expect(alpha[32 * WIDTH + WIDTH - 1]).toBeLessThan(64);
});

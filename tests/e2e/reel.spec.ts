import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { unzipSync } from 'fflate';
import { expect, test, type Page } from '@playwright/test';
import { writeExr } from '../../src/core/formats/exr/write';
import { addChannel, emptyPicture } from '../../src/core/image/picture';
import { downloaded, openApplication, readPlanes, settled, type } from './helpers';

const [WIDTH, HEIGHT, FRAMES] = [96, 64, 8];
const LAMP = 200;

/** A lamp that goes to the right, before a wall of which the left half is near and the right half far. */
async function walk(frame: number): Promise<Buffer> {
  const picture = emptyPicture(WIDTH, HEIGHT);
  const lamp = 20 * WIDTH + 10 + 8 * frame;
  const plane = Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => (i === lamp ? LAMP : 0.1));
  for (const name of ['R', 'G', 'B']) addChannel(picture, name, 'float', plane);
  const depth = Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => (i % WIDTH < WIDTH / 2 ? 2 : 20));
  addChannel(picture, 'depth.Z', 'float', depth);
  return Buffer.from(await writeExr(picture));
}

async function bringInWalk(page: Page): Promise<void> {
  await openApplication(page);
  const chooser = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: 'Bring in a render' }).click();
  const files = await Promise.all(
    Array.from({ length: FRAMES }, async (_, k) => ({
      name: `walk.${String(k + 1).padStart(4, '0')}.exr`,
      mimeType: 'image/x-exr',
      buffer: await walk(k + 1),
    })),
  );
  await (await chooser).setFiles(files);
  await expect(page.getByRole('region', { name: 'Reel' })).toBeVisible();
  await settled(page);
}

const playhead = (page: Page) => page.getByRole('slider', { name: 'Playhead' });
const drafts = (page: Page) => page.getByTestId('drafts');

async function goTo(page: Page, frame: number): Promise<void> {
  await type(page, 'Frame', String(frame));
  await expect(playhead(page)).toHaveAttribute('aria-valuenow', String(frame));
  await settled(page);
}

/** Opens the print dialog for the reel. */
async function openReelPrint(page: Page) {
  await page.getByRole('button', { name: 'Print', exact: true }).click();
  const dialog = page.getByRole('dialog', { name: 'Print' });
  await dialog.getByRole('button', { name: 'The reel' }).click();
  return dialog;
}

test('a sequence is on the reel: stepped, scrubbed, played from its drafts, with what is played of it', async ({
  page,
}) => {
  await bringInWalk(page);
  await expect(drafts(page)).toHaveAttribute('data-ready', String(FRAMES));
  await page.getByTestId('picture').hover();
  await page.keyboard.press(']');
  await expect(playhead(page)).toHaveAttribute('aria-valuenow', '2');
  await expect(page.getByText('frame 2 (2 of 8)')).toBeVisible();
  const box = (await playhead(page).boundingBox())!;
  const at = (frame: number): [number, number] => [box.x + ((frame - 0.5) / FRAMES) * box.width, box.y + 20];
  await page.mouse.move(...at(3));
  await page.mouse.down();
  await page.mouse.move(...at(7), { steps: 8 });
  await expect(playhead(page)).toHaveAttribute('aria-valuenow', '7');
  await page.mouse.up();
  await settled(page);
  await expect(page.getByText('frame 7 (7 of 8)')).toBeVisible();

  await type(page, 'In: first frame that is played', '3');
  await type(page, 'Out: last frame that is played', '5');
  await page.getByTestId('picture').hover();
  const seen = new Set<string | null>();
  await page.keyboard.press('y');
  await expect
    .poll(async () => {
      seen.add(await playhead(page).getAttribute('aria-valuenow'));
      return seen.size;
    })
    .toBeGreaterThan(2);
  await page.keyboard.press('y');
  await settled(page);
  expect([...seen].filter((frame) => frame !== '7').every((frame) => ['3', '4', '5'].includes(frame!))).toBe(
    true,
  );
});

test('a frame that was rendered anew is offered, and takes its place in the sequence', async ({ page }) => {
  const folder = await mkdtemp(join(tmpdir(), 'walk-'));
  const paths = Array.from({ length: 3 }, (_, k) => join(folder, `walk.000${k + 1}.exr`));
  for (const [k, path] of paths.entries()) await writeFile(path, await walk(k + 1));
  await openApplication(page);
  const chooser = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: 'Bring in a render' }).click();
  await (await chooser).setFiles(paths);
  await expect(page.getByRole('region', { name: 'Reel' })).toBeVisible();
  await settled(page);
  const mark = page.getByRole('button', { name: 'Key of Bloom Amount' });
  await mark.click();
  const offer = page.getByRole('button', { name: 'Read anew' });
  await expect(offer).toBeHidden();

  // Files tell the second in which they were written.
  await page.waitForTimeout(1100);
  await writeFile(paths[1]!, await walk(7));
  await page.evaluate(() => window.dispatchEvent(new Event('focus')));
  await expect(page.getByText('a file has changed on disk')).toBeVisible();
  const again = page.waitForEvent('filechooser');
  await offer.click();
  await (await again).setFiles([paths[1]!]);
  await expect(page.getByText('version 2 of 2')).toBeVisible();
  await expect(offer).toBeHidden();
  await expect(page.getByText('frame 1 (1 of 3)')).toBeVisible();
  await expect(mark).toHaveAttribute('aria-pressed', 'true');
  await rm(folder, { recursive: true });
});

test('a setting is keyed from its row and by dragging, edited as a curve, undone, and kept', async ({
  page,
}) => {
  await bringInWalk(page);
  const mark = page.getByRole('button', { name: 'Key of Bloom Amount' });
  await expect(mark).toHaveAttribute('aria-pressed', 'false');
  await mark.click();
  await goTo(page, 8);
  await expect(mark).toHaveAttribute('aria-pressed', 'mixed');
  await type(page, 'Bloom Amount', '7');
  await expect(mark).toHaveAttribute('aria-pressed', 'true');
  await goTo(page, 4);
  await expect(page.getByRole('textbox', { name: 'Bloom Amount', exact: true })).toHaveValue(/^3(\.0+)?$/);
  const keys = page.getByRole('group', { name: 'Keys by frame' }).getByRole('button');
  await expect(keys).toHaveCount(2);

  await page.getByRole('button', { name: 'Curves over time' }).click();
  await page.getByRole('button', { name: 'Bloom Amount, key at frame 8: 7.00 %' }).click();
  await type(page, 'Frame of the chosen keys', '6');
  await type(page, 'Value of the chosen keys', '5 %');
  await page.getByRole('combobox', { name: 'How the chosen keys are reached' }).click();
  await page.getByRole('option', { name: 'holds' }).click();
  await expect(page.getByRole('textbox', { name: 'Bloom Amount', exact: true })).toHaveValue('0.00');
  await expect(page.getByRole('button', { name: 'Bloom Amount, key at frame 6: 5.00 %' })).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('textbox', { name: 'Bloom Amount', exact: true })).toHaveValue('3.00');

  await page.waitForTimeout(400);
  await page.reload();
  await settled(page);
  await expect(keys).toHaveCount(2);
  await expect(playhead(page)).toHaveAttribute('aria-valuenow', '4');
  await expect(page.getByRole('textbox', { name: 'Bloom Amount', exact: true })).toHaveValue('3.00');
});

test('the focus is pulled from what is clicked to what is clicked, and follows it; a light blinks', async ({
  page,
}) => {
  await bringInWalk(page);
  await page.keyboard.press('2');
  await page.getByRole('button', { name: 'Pull focus' }).click();
  const surface = page.getByTestId('focus-picker');
  const box = (await surface.boundingBox())!;
  const click = (share: number) =>
    page.mouse.click(box.x + box.width / 2 + share * WIDTH, box.y + box.height / 2);
  await click(-0.3);
  await expect(page.getByRole('button', { name: '1: 2 m' })).toBeVisible();
  await goTo(page, FRAMES);
  await click(0.3);
  await expect(page.getByRole('button', { name: '8: 20 m' })).toBeVisible();
  await page.getByRole('button', { name: 'Follow' }).click();
  await expect(page.getByRole('group', { name: 'Keys by frame' }).getByRole('button')).toHaveCount(FRAMES);
  await goTo(page, 2);
  await expect(page.getByRole('textbox', { name: 'Camera Focus', exact: true })).toHaveValue(/^2(\.0+)?$/);
  await goTo(page, 7);
  await expect(page.getByRole('textbox', { name: 'Camera Focus', exact: true })).toHaveValue(/^20(\.0+)?$/);
  await page.keyboard.press('Escape');

  await page.getByTestId('picture').hover();
  await page.keyboard.press('7');
  await page
    .getByRole('button', { name: /^Key of .*Exposure$/ })
    .first()
    .click({ button: 'right' });
  await page.getByRole('menuitem', { name: /Let it live/ }).click();
  await page.getByRole('combobox', { name: 'What it does by itself' }).click();
  await page.getByRole('option', { name: 'blinks' }).click();
  await type(page, 'Life: from frame', '1');
  await type(page, 'Life: on', '2');
  await type(page, 'Life: off', '2');
  await type(page, 'Its value while off', '-3 st');
  const exposure = page.getByRole('textbox', { name: /Exposure$/ }).first();
  const values: string[] = [];
  for (const frame of [1, 2, 3, 4, 5]) {
    await goTo(page, frame);
    values.push(await exposure.inputValue());
  }
  expect(values.map(Number)).toEqual([0, 0, -3, -3, 0]);
});

test('the camera shakes over the frames, by as much as it is told, and is held still again', async ({
  page,
}) => {
  await bringInWalk(page);
  await page.keyboard.press('6');
  await page.getByRole('button', { name: /^Shake/ }).click();
  await type(page, 'Shake: by up to', '4 % h');
  await page.getByRole('button', { name: 'Let it shake' }).click();
  await settled(page);
  const across = page.getByRole('textbox', { name: 'Shake Across' });
  const enlarged = page.getByRole('textbox', { name: 'Shake Enlarged by' });
  const values: number[] = [];
  for (const frame of [1, 3, 5, 7]) {
    await goTo(page, frame);
    values.push(Number(await across.inputValue()));
  }
  expect(new Set(values).size).toBe(4);
  for (const value of values) expect(Math.abs(value)).toBeLessThanOrEqual(4);
  // Without overscan, twice four hundredths of the height and a little for the roll.
  expect(Number(await enlarged.inputValue())).toBeGreaterThan(8);
  await page.getByRole('button', { name: 'Hold it still' }).click();
  await expect(across).toHaveValue('0.00');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(across).not.toHaveValue('0.00');
});

test('a reel is printed into one archive and as a film, and by the server across a reload', async ({
  page,
}) => {
  test.slow();
  // No file can be chosen without a hand.
  await page.addInitScript(() => Object.assign(window, { showSaveFilePicker: undefined }));
  await bringInWalk(page);
  await page
    .getByRole('button', { name: /^Key of .*Amount$/ })
    .first()
    .click();
  await goTo(page, FRAMES);
  await type(page, 'Bloom Amount', '10');
  // The lamp is found, and followed from frame to frame.
  await page.getByTestId('picture').hover();
  await page.keyboard.press('5');
  await page.getByRole('switch', { name: 'Ghosts on', exact: true }).click();
  await page.getByRole('switch', { name: 'Find lights' }).click();
  await settled(page);

  const dialog = await openReelPrint(page);
  await dialog.getByRole('textbox', { name: 'Frames' }).fill('1-2,8');
  const zipped = page.waitForEvent('download');
  await dialog.getByRole('button', { name: 'Into one ZIP' }).click();
  const zip = await downloaded(zipped);
  const files = unzipSync(zip.bytes);
  const names = Object.keys(files).sort();
  expect(names).toEqual([1, 2, 8].map((frame) => expect.stringMatching(new RegExp(`\\.000${frame}\\.exr$`))));
  const brightest = async (name: string): Promise<{ at: number; value: number }> => {
    const { planes } = await readPlanes(files[name]!, ['G']);
    const value = planes[0]!.reduce((most, one) => Math.max(most, one), 0);
    return { at: planes[0]!.indexOf(value) % WIDTH, value };
  };
  expect(await brightest(names[0]!)).toEqual({ at: 18, value: LAMP });
  // At the last frame a tenth of the light is spread about.
  const last = await brightest(names[2]!);
  expect(last.at).toBe(74);
  expect(last.value).toBeLessThan(LAMP);

  // The film is read by the browser's own decoder.
  const filming = await openReelPrint(page);
  const filmed = page.waitForEvent('download');
  await filming.getByRole('button', { name: 'Preview film' }).click();
  const film = await downloaded(filmed);
  const blank = await page.context().newPage();
  const told = await blank.evaluate(
    async (bytes) => {
      const video = document.createElement('video');
      video.src = URL.createObjectURL(new Blob([new Uint8Array(bytes)], { type: 'video/webm' }));
      await new Promise((resolve, reject) => {
        video.onloadedmetadata = resolve;
        video.onerror = () => reject(new Error(video.error?.message));
      });
      return { width: video.videoWidth, height: video.videoHeight, seconds: video.duration };
    },
    [...film.bytes],
  );
  await blank.close();
  expect(told).toEqual({ width: WIDTH, height: HEIGHT, seconds: expect.closeTo(FRAMES / 24, 1) });

  // The server goes on while the page is loaded anew.
  const serving = await openReelPrint(page);
  await serving.getByRole('button', { name: 'On the server' }).click();
  await expect(serving).toBeHidden();
  await page.reload();
  await settled(page);
  await page.getByRole('button', { name: /^List of prints/ }).click();
  await expect(page.getByText(`done: ${FRAMES} of ${FRAMES}`)).toBeVisible();
  const fetched = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Fetch the frames' }).click();
  const served = unzipSync((await downloaded(fetched)).bytes);
  expect(Object.keys(served)).toHaveLength(FRAMES);
  // Bit for bit what the page printed.
  for (const name of names) expect(Buffer.from(served[name]!).equals(Buffer.from(files[name]!))).toBe(true);
  await page.getByRole('button', { name: 'Remove from the server' }).click();
  await expect(page.getByRole('button', { name: /^List of prints/ })).toBeHidden();
});

import { expect, test, type Page } from '@playwright/test';
import sharp from 'sharp';
import { writeExr } from '../../src/core/formats/exr/write';
import { writeHdr } from '../../src/core/formats/hdr/write';
import { writePfm } from '../../src/core/formats/pfm';
import { writeTiff } from '../../src/core/formats/tiff/write';
import { addChannel, emptyPicture } from '../../src/core/image/picture';
import { canvasColour, chooseKind, downloaded, openApplication, settled, type } from './helpers';

interface Upload {
  name: string;
  mimeType: string;
  buffer: Buffer;
}

const [WIDTH, HEIGHT] = [64, 48];
const COUNT = WIDTH * HEIGHT;
const upload = (name: string, bytes: Uint8Array): Upload => ({
  name,
  mimeType: 'application/octet-stream',
  buffer: Buffer.from(bytes),
});

/** An OpenEXR file of a few channels. */
async function exr(name: string, channels: Record<string, (i: number) => number>): Promise<Upload> {
  const picture = emptyPicture(WIDTH, HEIGHT);
  for (const [channel, value] of Object.entries(channels))
    addChannel(
      picture,
      channel,
      'float',
      Float32Array.from({ length: COUNT }, (_, i) => value(i)),
    );
  return upload(name, await writeExr(picture));
}

const same = (value: (i: number) => number) => ({ R: value, G: value, B: value });
const LAMP = (HEIGHT / 2) * WIDTH + WIDTH / 2;
const ground = (): number => 0.1;
const lamp = (i: number): number => (i === LAMP ? 40 : 0);
/** Three passes of one picture in files of their own. */
let pier: Upload[];

test.beforeAll(async () => {
  pier = [
    await exr('pier_depth.exr', { Z: (i) => 1 + i }),
    await exr(
      'pier_beauty.exr',
      same((i) => ground() + lamp(i)),
    ),
    await exr('pier_diffuse.exr', same(ground)),
    await exr('pier_emission.exr', same(lamp)),
  ];
});

const bring = (page: Page, ...files: Upload[]): Promise<void> =>
  page.getByTestId('file-input').setInputFiles(files);

/** Chooses files through a button that opens the chooser. */
async function choose(page: Page, press: () => Promise<void>, ...files: Upload[]): Promise<void> {
  // Just after a drag the shelf takes no click for a moment: then it is pressed once more.
  await expect(async () => {
    const [chooser] = await Promise.all([page.waitForEvent('filechooser', { timeout: 4000 }), press()]);
    await chooser.setFiles(files);
  }).toPass();
}

async function openPier(page: Page): Promise<void> {
  await openApplication(page);
  await bring(page, ...pier);
  await expect(page.getByRole('button', { name: 'Plate pier' })).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('1');
  await settled(page);
}

test('every format is brought in, each showing the same light', async ({ page }) => {
  await openApplication(page);
  const planes = [0, 1, 2].map(() => new Float32Array(COUNT).fill(0.5));
  const woven = new Float32Array(COUNT * 3).fill(0.5);
  const raw = { raw: { width: WIDTH, height: HEIGHT, channels: 3 } } as const;
  // sRGB 188 is scene-linear 0.5 within half a step.
  const levels = sharp(new Uint8Array(COUNT * 3).fill(188), raw);
  const files = [
    await exr(
      'a.exr',
      same(() => 0.5),
    ),
    upload('b.hdr', writeHdr(planes, WIDTH, HEIGHT)),
    upload('c.pfm', writePfm(planes, WIDTH, HEIGHT)),
    upload('d.tiff', writeTiff({ width: WIDTH, height: HEIGHT, channels: 3, data: woven })),
    upload('e.png', await levels.clone().png().toBuffer()),
    upload('f.jpg', await levels.clone().jpeg({ quality: 100 }).toBuffer()),
  ];
  let first: number[] | undefined;
  for (const file of files) {
    await bring(page, file);
    await expect(page.getByRole('button', { name: `Plate ${file.name}` })).toHaveAttribute(
      'aria-pressed',
      'true',
    );
    await settled(page);
    const colour = await canvasColour(page, 0.5, 0.5);
    first ??= colour;
    colour.forEach((value, c) => expect(Math.abs(value - first![c]!)).toBeLessThanOrEqual(1));
  }
});

test('several files become the passes of one plate, rebuilt and turned down', async ({ page }) => {
  await openPier(page);
  const passes = page.getByRole('list', { name: 'Passes' });
  await expect(passes.getByRole('listitem')).toHaveCount(4);
  await page.getByRole('button', { name: 'Difference' }).click();
  await expect(page.getByTestId('rebuild-difference')).toContainText('at most 0.00, on the mean 0.00');
  await page.getByRole('button', { name: 'Difference' }).click();

  await page.getByRole('button', { name: 'Put the sum into the lens' }).click();
  await settled(page);
  await page.mouse.move(0, 0);
  const middle = () => canvasColour(page, 0.5, 0.5);
  const lit = await middle();
  await page.getByRole('switch', { name: 'emission on' }).click();
  await expect.poll(async () => (await middle())[0]!).toBeLessThan(lit[0]!);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(middle).toEqual(lit);
  await page.getByRole('button', { name: 'Back to the beauty' }).click();

  // A guess is corrected, kept in the shot, and there again after a reload.
  await page.getByRole('combobox', { name: 'What depth is' }).click();
  await page.getByRole('option', { name: 'Other' }).click();
  await expect(page.getByRole('complementary')).toContainText('none');
  await page.waitForTimeout(800);
  await page.reload();
  await settled(page);
  await page.keyboard.press('1');
  await expect(page.getByRole('combobox', { name: 'What depth is' })).toHaveText('Other');
});

test('files of different sizes are refused, numbered ones become a sequence', async ({ page }) => {
  await openApplication(page);
  const small = emptyPicture(16, 16);
  addChannel(small, 'Z', 'float', new Float32Array(256));
  await bring(page, pier[1]!, upload('pier_depth.exr', await writeExr(small)));
  await expect(
    page.getByText(/pier_depth\.exr: it is 16 x 16 pixels, but pier_beauty\.exr is 64 x 48/),
  ).toBeVisible();
  await bring(
    page,
    ...(await Promise.all(
      [3, 1, 2].map((frame) =>
        exr(
          `walk.000${frame}.exr`,
          same(() => frame / 10),
        ),
      ),
    )),
  );
  await settled(page);
  await expect(page.getByText('frame 1 (1 of 3)')).toBeVisible();
  const before = await canvasColour(page, 0.5, 0.5);
  await page.getByRole('button', { name: 'Frame after' }).click();
  await expect(page.getByText('frame 2 (2 of 3)')).toBeVisible();
  await expect.poll(async () => (await canvasColour(page, 0.5, 0.5))[0]!).toBeGreaterThan(before[0]!);
});

test('any pass and channel is looked at, by keys and in false colour', async ({ page }) => {
  await openPier(page);
  const look = page.getByRole('combobox', { name: 'Look at' });
  await page.keyboard.press('.');
  await expect(look).toHaveText('beauty');
  await page.keyboard.press(',');
  await expect(look).toHaveText('final');
  await page.getByRole('button', { name: 'Look at depth' }).click();
  await expect(page.getByTestId('range')).toHaveText(`1 to ${COUNT}`);
  await page.keyboard.press('Escape');
  await page.keyboard.press('v');
  await expect(page.getByRole('img', { name: /Scale of the false colours/ })).toBeVisible();
  await settled(page);
  // 0.1 lies 0.85 stops below middle grey.
  await expect.poll(() => canvasColour(page, 0.48, 0.49)).toEqual([96, 124, 118]);
  await expect(page.getByTestId('histogram')).toContainText('negative 0.00 %');
});

test('preparation is undone step by step, and the bench says when it feeds the veil more', async ({
  page,
}) => {
  await openPier(page);
  await type(page, 'Plate Contrast', '1.4');
  await settled(page);
  await type(page, 'Plate Exposure', '5');
  await settled(page);
  await expect(page.getByTestId('feed-shift')).toContainText('fed light');
  await page.getByRole('button', { name: 'Bring the fed light back' }).click();
  await expect(page.getByTestId('feed-shift')).toBeHidden();
  await settled(page);
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('textbox', { name: 'Plate Exposure' })).toHaveValue('0.00');
  await page.getByRole('button', { name: /^Clean-up/ }).click();
  await type(page, 'Element 1 Clamp', '5');
  await expect(page.getByTestId('touched')).toContainText('1 pixels clamped');
  await page.getByRole('button', { name: 'Show touched' }).click();
  await settled(page);
  await expect.poll(() => canvasColour(page, 0.5, 0.5)).toEqual([224, 96, 76]);
});

test('a mask is drawn with its handles, holds the preparation, and is undone in one step', async ({
  page,
}) => {
  await openPier(page);
  await page.getByRole('button', { name: 'Masks' }).click();
  await page.getByRole('button', { name: 'New mask' }).click();
  const figures = page.getByRole('textbox', { name: /Mask 1, shape 1: x y, radii/ });
  // The pen draws from the middle outwards; the picture is 64 x 48 pixels in the middle of the viewer.
  const sheet = (await page.getByTestId('mask-pen').boundingBox())!;
  const [cx, cy] = [sheet.x + sheet.width / 2, sheet.y + sheet.height / 2];
  await page.mouse.move(cx, cy);
  await page.mouse.down();
  await page.mouse.move(cx + 17, cy + 12, { steps: 4 });
  await page.mouse.up();
  await expect(page.getByTestId('mask-pen')).toBeHidden();
  await expect(figures).toHaveValue(/^50\.0 50\.0 35\.4 25\.0 10\.0 0\.0$/);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(figures).toHaveValue('50.0 50.0 35.0 25.0 10.0 0.0');
  const handle = (await page.getByRole('button', { name: 'Mask 1, shape 1: centre' }).boundingBox())!;
  await page.mouse.move(handle.x + 5, handle.y + 5);
  await page.mouse.down();
  await page.mouse.move(handle.x - 10, handle.y + 5, { steps: 4 });
  await page.mouse.up();
  await expect(figures).not.toHaveValue('50.0 50.0 35.0 25.0 10.0 0.0');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(figures).toHaveValue('50.0 50.0 35.0 25.0 10.0 0.0');
  const [inside, outside] = [() => canvasColour(page, 0.49, 0.48), () => canvasColour(page, 0.47, 0.475)];
  await settled(page);
  const before = [await inside(), await outside()];
  await page.getByRole('combobox', { name: 'Plate Within' }).click();
  await page.getByRole('option', { name: 'Mask 1' }).click();
  await type(page, 'Plate Exposure', '3');
  await expect.poll(async () => (await inside())[0]!).toBeGreaterThan(before[0]![0]!);
  await expect.poll(async () => (await outside())[0]!).toBeLessThanOrEqual(before[1]![0]! + 60);
});

test('a newer render keeps the settings, is wiped against the old one, and can be taken back', async ({
  page,
}) => {
  await openPier(page);
  await type(page, 'Plate Exposure', '1');
  await page.getByRole('button', { name: 'More of pier' }).click();
  const replace = () => page.getByRole('menuitem', { name: 'Replace the render…' }).click();
  await choose(
    page,
    replace,
    await exr(
      'pier_v2.exr',
      same(() => 0.3),
    ),
  );
  await expect(page.getByText(/only some passes; .*depth.* are still of version 1/)).toBeVisible();
  await expect(page.getByText('version 2 of 2')).toBeVisible();
  await expect(page.getByRole('textbox', { name: 'Plate Exposure' })).toHaveValue('1.00');
  await settled(page);
  await page.keyboard.press('w');
  await page.getByRole('combobox', { name: 'Held against' }).click();
  await page.getByRole('option', { name: 'against version 1' }).click();
  const [left, right] = [() => canvasColour(page, 0.47, 0.49), () => canvasColour(page, 0.53, 0.49)];
  await expect.poll(async () => (await left())[0]! < (await right())[0]!).toBe(true);
  await page.keyboard.press('w');
  await page.getByRole('button', { name: 'More of pier' }).click();
  await page.getByRole('menuitem', { name: /Version 1/ }).click();
  await expect(page.getByText('version 1 of 2')).toBeVisible();
  await expect(page.getByRole('list', { name: 'Passes' }).getByRole('listitem')).toHaveCount(4);
});

test('the shelf renames and orders plates, holds references, and tells what is kept', async ({ page }) => {
  await openPier(page);
  await page.getByTitle('pier (double click or F2 to rename)').dblclick();
  const name = page.getByRole('textbox', { name: 'New name of pier' });
  await name.fill('Pier in fog');
  await name.press('Enter');
  await expect(page.getByRole('button', { name: 'Plate Pier in fog' })).toBeVisible();
  const tiles = page.getByRole('button', { name: /^Plate / });
  await expect(tiles).toHaveCount(2);
  const [from, to] = [(await tiles.nth(1).boundingBox())!, (await tiles.nth(0).boundingBox())!];
  await page.mouse.move(from.x + 40, from.y + 30);
  await page.mouse.down();
  await page.mouse.move(to.x + 40, to.y + 20, { steps: 8 });
  await page.mouse.up();
  await expect(tiles.nth(0)).toHaveAccessibleName('Plate Pier in fog');

  const photo = await sharp(new Uint8Array(COUNT * 3).fill(90), {
    raw: { width: WIDTH, height: HEIGHT, channels: 3 },
  })
    .jpeg()
    .toBuffer();
  await choose(
    page,
    () => page.getByRole('button', { name: 'Bring in a photo' }).click(),
    upload('harbour.jpg', photo),
  );
  const pane = page.getByRole('region', { name: 'Reference harbour.jpg' });
  await expect(pane.getByRole('img')).toBeVisible();
  await type(page, 'Reference exposure', '-2');
  await expect(page.getByTestId('storage')).toContainText(/in memory.*kept of/);
  await page.waitForTimeout(800);
  await page.reload();
  await settled(page);
  await page.getByRole('button', { name: 'Reference harbour.jpg' }).click();
  await expect(page.getByRole('textbox', { name: 'Reference exposure' })).toHaveValue('-2.0');
});

test('a full browser is told, and nothing is lost', async ({ page }) => {
  await page.addInitScript(() => {
    // The browser's own store refuses whatever is put in.
    // eslint-disable-next-line @typescript-eslint/unbound-method
    const { put } = IDBObjectStore.prototype;
    IDBObjectStore.prototype.put = function (this: IDBObjectStore, value: unknown, key?: IDBValidKey) {
      if (value instanceof Blob && value.size > 0 && value.size < 100_000)
        throw new DOMException('full', 'QuotaExceededError');
      return put.call(this, value, key);
    };
  });
  await openApplication(page);
  await bring(page, pier[1]!);
  await expect(page.getByText(/this browser has no room to keep it: save the shot/)).toBeVisible();
  await settled(page);
  await page.getByRole('button', { name: 'Quay at night' }).click();
  const wait = page.waitForEvent('download');
  await page.getByRole('menuitem', { name: 'Save the shot to a file' }).click();
  expect((await wait).suggestedFilename()).toBe('Quay_at_night.bokelux');
});

test('a mask goes by depth; what is in doubt and what was clipped is said; a print has alpha and a size', async ({
  page,
}) => {
  await openApplication(page);
  const column = (i: number): number => i % WIDTH;
  const cut = await exr('cut.exr', {
    ...same((i) => (i < 4 * WIDTH ? 1 : 0.2)),
    A: (i) => (column(i) < 32 ? 1 : 0.5),
    Z: (i) => (column(i) < 32 ? 3 : 12),
    ...Object.fromEntries(
      ['diffuse', 'diffuse_direct'].flatMap((layer) =>
        ['R', 'G', 'B'].map((c) => [`${layer}.${c}`, () => 0.1]),
      ),
    ),
  });
  await bring(page, cut);
  await expect(page.getByRole('button', { name: 'Plate cut.exr' })).toHaveAttribute('aria-pressed', 'true');
  await expect(page.getByText(/light is cut off at 1 .* render it unclamped/).first()).toBeVisible();
  await page.keyboard.press('1');
  await settled(page);
  await expect(page.getByText('Not in the sum: it is a part of diffuse')).toBeVisible();

  await page.getByRole('button', { name: 'Masks' }).click();
  await page.getByRole('button', { name: 'New mask' }).click();
  await page.getByRole('button', { name: 'Remove Mask 1, shape 1' }).click();
  await page.getByRole('button', { name: 'Add a shape' }).click();
  await page.getByRole('menuitem', { name: 'By value' }).click();
  await page.getByRole('combobox', { name: 'Mask 1, shape 1 goes by' }).click();
  await page.getByRole('option', { name: 'Depth' }).click();
  const range = page.getByRole('textbox', { name: /shape 1: from, to/ });
  await range.fill('8 open 0');
  await range.press('Enter');
  await page.getByRole('button', { name: 'Show Mask 1' }).click();
  await settled(page);
  const [near, far] = [await canvasColour(page, 0.48, 0.5), await canvasColour(page, 0.52, 0.5)];
  expect(far[0]! - far[2]!).toBeGreaterThan(near[0]! - near[2]! + 40);
  await page.getByRole('button', { name: 'Show Mask 1' }).click();

  await page.getByRole('button', { name: 'Print', exact: true }).click();
  const dialog = page.getByRole('dialog');
  await chooseKind(page, 'PNG 16 bit');
  await dialog.getByRole('combobox', { name: 'Alpha' }).click();
  await page.getByRole('option', { name: 'Unassociated' }).click();
  await dialog.getByRole('textbox', { name: 'Width in pixels' }).fill('32');
  const wait = page.waitForEvent('download');
  await dialog.getByRole('button', { name: 'Print file' }).click();
  const { bytes } = await downloaded(wait);
  // Read by sharp, a general-purpose library.
  const image = sharp(bytes);
  expect(await image.metadata()).toMatchObject({ width: 32, height: 24, hasAlpha: true });
  const alpha = await image.extractChannel('alpha').raw().toBuffer();
  const scale = alpha.length === 32 * 24 ? 255 : undefined;
  expect(scale).toBe(255);
  expect(alpha[12 * 32 + 5]).toBe(255);
  expect(Math.abs(alpha[12 * 32 + 28]! / 255 - 0.5)).toBeLessThan(0.08);
});

test('a folder is watched: what is written there comes in, a part of a render beside what was there', async ({
  page,
}) => {
  // The dialog cannot be answered by a script: a folder of the same kind that the page owns stands in for one on disk.
  await page.addInitScript(() => {
    Object.assign(window, {
      showDirectoryPicker: async () =>
        (await navigator.storage.getDirectory()).getDirectoryHandle('renders', { create: true }),
    });
  });
  await openApplication(page);
  const write = ({ name, buffer }: Upload): Promise<void> =>
    page.evaluate(
      async ([file, text]) => {
        const root = await navigator.storage.getDirectory();
        const folder = await root.getDirectoryHandle('renders', { create: true });
        const handle = await folder.getFileHandle(file!, { create: true });
        const stream = await handle.createWritable();
        await stream.write(Uint8Array.from(atob(text!), (character) => character.charCodeAt(0)));
        await stream.close();
      },
      [name, buffer.toString('base64')],
    );
  const half = (one: Upload): Upload => ({ ...one, buffer: one.buffer.subarray(0, one.buffer.length >> 1) });
  const bright = await exr(
    'crane.exr',
    same(() => 0.7),
  );
  await write(await exr('crane.exr', { ...same(() => 0.1), 'diffuse.R': () => 0.1, Z: () => 5 }));
  await page.getByRole('button', { name: 'Watch a folder' }).click();
  await expect(page.getByText('watching renders')).toBeVisible();
  await page.getByRole('button', { name: 'Plate crane.exr' }).click();
  await page.keyboard.press('1');
  await settled(page);
  const before = await canvasColour(page, 0.5, 0.5);
  await write(half(bright));
  await expect(page.getByText(/crane\.exr.*tried again when the file changes/)).toBeVisible();
  await write(bright);
  await expect(page.getByText(/(diffuse, Z|Z, diffuse) are still of version 1/)).toBeVisible();
  await settled(page);
  expect((await canvasColour(page, 0.5, 0.5))[0]).toBeGreaterThan(before[0]! + 40);
  const passes = page.getByRole('list', { name: 'Passes' });
  await expect(passes.getByText('Still of version 1; the newest has none')).toHaveCount(2);
  await page.getByRole('button', { name: 'More of crane.exr' }).click();
  await page.getByRole('menuitem', { name: 'Leave out what is of older versions' }).click();
  await expect(passes.getByText('Still of version 1')).toHaveCount(0);
  await page.getByRole('button', { name: 'Stop watching renders' }).click();
  await expect(page.getByRole('button', { name: 'Watch a folder' })).toBeVisible();
});

import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { PNG } from 'pngjs';
import {
  canvasColour,
  chooseKind,
  downloaded,
  openApplication,
  readPlanes,
  settled,
  smallPlate,
  type,
} from './helpers';

const RGB = ['R', 'G', 'B'] as const;
const folder = mkdtempSync(join(tmpdir(), 'bokelux-e2e-'));

/** The command line with the same plate and settings. */
function commandLine(plate: string, out: string, ...settings: string[]): Uint8Array {
  const look = ['--look', 'public/demo/quay.look.json', ...settings.flatMap((setting) => ['--set', setting])];
  execFileSync(process.execPath, ['bin/bokelux.mjs', 'render', plate, ...look, '--out', join(folder, out)]);
  return new Uint8Array(readFileSync(join(folder, out)));
}

test('the whole job: the quay gets a bloom, is compared and printed, and the command line agrees', async ({
  page,
}) => {
  test.slow();
  await openApplication(page);
  await expect(page.getByRole('button', { name: 'Quay at night' })).toBeVisible();

  // The feed is painted before it is trusted.
  await expect(page.getByTestId('feed-share')).toContainText('of the pixels');
  await page.getByRole('button', { name: 'Show feed' }).click();
  await settled(page);
  await page.getByRole('button', { name: 'Show feed' }).click();

  // A bloom, typed and dragged.
  await type(page, 'Bloom Amount', '2.5');
  await type(page, 'Bloom Core radius', '0.6');
  await settled(page);
  await expect(page.getByRole('button', { name: /^Veil, .*% light/ })).toBeVisible();
  const bloomed = await canvasColour(page, 0.83, 0.45);

  // Hold for the plate: the bloom is gone as long as the key is down.
  await page.getByTestId('picture').hover();
  await page.keyboard.down('Space');
  await expect.poll(() => canvasColour(page, 0.83, 0.45)).not.toEqual(bloomed);
  await page.keyboard.up('Space');
  await expect.poll(() => canvasColour(page, 0.83, 0.45)).toEqual(bloomed);

  // Wipe: the plate on the left of the edge, the final on the right.
  await page.keyboard.press('w');
  const edge = page.getByRole('slider', { name: /Wipe edge/ });
  await expect(edge).toHaveAttribute('aria-valuenow', '50');
  await edge.focus();
  await page.keyboard.press('Shift+ArrowRight');
  await expect(edge).toHaveAttribute('aria-valuenow', '60');
  await page.keyboard.press('w');
  await expect(edge).toBeHidden();

  // Print as OpenEXR with separations and read it back.
  await page.getByRole('button', { name: 'Print' }).click();
  const dialog = page.getByRole('dialog', { name: 'Print' });
  await chooseKind(page, 'OpenEXR float');
  await dialog.getByRole('checkbox', { name: /With separations/ }).check();
  await dialog.getByLabel('File name').fill('{shot}_{size}');
  const exr = page.waitForEvent('download');
  await dialog.getByRole('button', { name: 'Print file' }).click();
  const printed = await downloaded(exr);
  expect(printed.name).toBe('Quay_at_night_1280x720.exr');
  await expect(dialog.getByRole('status')).toContainText('printed');

  const settings = ['veil.bloom.amount=0.025', 'veil.bloom.radius=0.006'];
  const own = await readPlanes(printed.bytes, [
    ...RGB,
    ...RGB.map((c) => `plate.${c}`),
    ...RGB.map((c) => `veil.bloom.${c}`),
  ]);
  RGB.forEach((_, c) => {
    const [final, plate, bloom] = [own.planes[c]!, own.planes[3 + c]!, own.planes[6 + c]!];
    let wrong = 0;
    for (let i = 0; i < final.length; i++) if (Math.fround(plate[i]! + bloom[i]!) !== final[i]) wrong++;
    expect(wrong).toBe(0);
  });
  execFileSync(process.execPath, ['bin/bokelux.mjs', 'demo', folder]);
  const half = await readPlanes(commandLine(join(folder, 'quay.exr'), 'cli.exr', ...settings), RGB);

  // The same again as half: the same bytes of pixels as the command line's.
  await chooseKind(page, 'OpenEXR half');
  await dialog.getByRole('checkbox', { name: /With separations/ }).uncheck();
  const again = page.waitForEvent('download');
  await dialog.getByRole('button', { name: 'Print file' }).click();
  const halves = await readPlanes((await downloaded(again)).bytes, RGB);
  halves.planes.forEach((plane, c) =>
    expect(Buffer.from(plane.buffer).equals(Buffer.from(half.planes[c]!.buffer))).toBe(true),
  );

  // And as PNG through the view.
  await chooseKind(page, 'PNG 8 bit');
  const png = page.waitForEvent('download');
  await dialog.getByRole('button', { name: 'Print file' }).click();
  const shown = PNG.sync.read(Buffer.from((await downloaded(png)).bytes));
  const wanted = PNG.sync.read(Buffer.from(commandLine(join(folder, 'quay.exr'), 'cli.png', ...settings)));
  expect(shown.data.equals(wanted.data)).toBe(true);
});

test('reload brings everything back: plate, look, name; undo and redo walk the steps', async ({ page }) => {
  await openApplication(page);
  await page
    .getByTestId('file-input')
    .setInputFiles({ name: 'lamp.exr', mimeType: 'image/x-exr', buffer: await smallPlate() });
  await expect(page.getByRole('button', { name: 'Plate lamp.exr' })).toHaveAttribute('aria-pressed', 'true');
  await settled(page);
  await type(page, 'Bloom Amount', '10/4');
  await type(page, 'Bloom Fall-off', '3');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('textbox', { name: 'Bloom Fall-off' })).toHaveValue('2.00');
  await page.keyboard.press('Control+Shift+z');
  await expect(page.getByRole('textbox', { name: 'Bloom Fall-off' })).toHaveValue('3.00');
  await page.getByRole('button', { name: 'Quay at night' }).click();
  await page.getByRole('menuitem', { name: 'Rename…' }).click();
  await page.getByRole('textbox', { name: 'Name' }).fill('Lamp on the pier');
  await page.getByRole('button', { name: 'Rename', exact: true }).click();
  await page.waitForTimeout(800);
  await page.reload();
  await settled(page);
  await expect(page.getByRole('button', { name: 'Lamp on the pier' })).toBeVisible();
  await expect(page.getByRole('button', { name: /^Plate / })).toHaveCount(2);
  await expect(page.getByRole('button', { name: 'Plate lamp.exr' })).toHaveAttribute('aria-pressed', 'true');
  await expect(page.getByRole('textbox', { name: 'Bloom Amount' })).toHaveValue('2.50');
  await expect(page.getByRole('textbox', { name: 'Bloom Fall-off' })).toHaveValue('3.00');
});

test('a shot is saved to one file and opened from it in another browser', async ({ page, browser }) => {
  await openApplication(page);
  await page
    .getByTestId('file-input')
    .setInputFiles({ name: 'lamp.exr', mimeType: 'image/x-exr', buffer: await smallPlate() });
  await settled(page);
  await type(page, 'Bloom Amount', '7');
  await page.getByRole('button', { name: 'Quay at night' }).click();
  const wait = page.waitForEvent('download');
  await page.getByRole('menuitem', { name: 'Save the shot to a file' }).click();
  const saved = await downloaded(wait);
  expect(saved.name).toBe('Quay_at_night.bokelux');
  const other = await browser.newContext();
  const second = await other.newPage();
  await openApplication(second);
  await second
    .getByTestId('file-input')
    .setInputFiles({ name: saved.name, mimeType: 'application/zip', buffer: Buffer.from(saved.bytes) });
  await expect(second.getByRole('button', { name: 'Plate lamp.exr' })).toHaveAttribute(
    'aria-pressed',
    'true',
  );
  await settled(second);
  await expect(second.getByRole('textbox', { name: 'Bloom Amount' })).toHaveValue('7.00');
  await other.close();
});

test('a look is saved to a file and brought back, as one step', async ({ page }) => {
  await openApplication(page);
  await type(page, 'Bloom Amount', '1.75');
  await page.getByRole('button', { name: 'Quay at night' }).click();
  const wait = page.waitForEvent('download');
  await page.getByRole('menuitem', { name: 'Save the look to a file' }).click();
  const saved = await downloaded(wait);
  expect(saved.name).toBe('Quay_at_night.look.json');
  await page.getByRole('button', { name: 'Quay at night' }).click();
  await page.getByRole('menuitem', { name: 'Reset all settings' }).click();
  const amount = page.getByRole('textbox', { name: 'Bloom Amount' });
  await expect(amount).toHaveValue('0.00');
  const file = { name: saved.name, mimeType: 'application/json', buffer: Buffer.from(saved.bytes) };
  await page.getByTestId('file-input').setInputFiles(file);
  await expect(amount).toHaveValue('1.75');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(amount).toHaveValue('0.00');
  const bad = Buffer.from('{"version":1,"veil":{"bloom":{"amount":3}}}');
  await page.getByTestId('file-input').setInputFiles({ ...file, buffer: bad });
  await expect(page.getByText(/veil\.bloom\.amount: a number from 0 to 1/)).toBeVisible();
  await expect(amount).toHaveValue('0.00');
});

test('hostile files are refused in words and nothing is lost', async ({ page }) => {
  await openApplication(page);
  await type(page, 'Bloom Amount', '3');
  const broken = await smallPlate();
  broken.fill(0xff, 400);
  const files: [name: string, buffer: Buffer, message: RegExp][] = [
    ['letter.txt', Buffer.from('dear render'), /letter\.txt: this is not a picture that is understood/],
    ['empty.exr', Buffer.alloc(0), /empty\.exr: the file is empty/],
    ['broken.exr', broken, /broken\.exr/],
    ['deep.exr', readFileSync('fixtures/exr/deep_scanline_zips.exr'), /deep data/],
    ['shot.bokelux', Buffer.from('PK nothing'), /shot\.bokelux: this is not a shot file/],
  ];
  for (const [name, buffer, message] of files) {
    await page
      .getByTestId('file-input')
      .setInputFiles({ name, mimeType: 'application/octet-stream', buffer });
    await expect(page.getByText(message).first()).toBeVisible();
  }
  await settled(page);
  await expect(page.getByRole('button', { name: /^Plate / })).toHaveCount(1);
  await expect(page.getByRole('textbox', { name: 'Bloom Amount' })).toHaveValue('3.00');
});

test('values under the pointer are those of the file', async ({ page }) => {
  await openApplication(page);
  await page
    .getByTestId('file-input')
    .setInputFiles({ name: 'lamp.exr', mimeType: 'image/x-exr', buffer: await smallPlate() });
  await settled(page);
  const box = (await page.getByTestId('picture').boundingBox())!;
  await page.mouse.move(box.x + box.width / 2 + 0.5, box.y + box.height / 2 + 0.5);
  await expect(page.getByTestId('readout')).toContainText('32, 24');
  await expect(page.getByTestId('readout')).toContainText('400.0');
  await expect(page.getByTestId('readout')).toContainText('+11.1 st');
  await page.mouse.move(box.x + 5, box.y + 5);
  await expect(page.getByTestId('readout')).toContainText('under the pointer');
});

test('the picture zooms, pans, fits and shows its actual size; the view alone is exposed', async ({
  page,
}) => {
  await openApplication(page);
  const zoom = page.getByTestId('zoom');
  await expect(zoom).toHaveText('60 %');
  await page.keyboard.press('z');
  await expect(zoom).toHaveText('100 %');
  const picture = page.getByTestId('picture');
  await settled(page);
  const before = await canvasColour(page, 0.3, 0.6);
  const box = (await picture.boundingBox())!;
  await page.mouse.move(box.x + 300, box.y + 300);
  await page.mouse.down();
  await page.mouse.move(box.x + 420, box.y + 360, { steps: 5 });
  await page.mouse.up();
  await expect.poll(() => canvasColour(page, 0.3, 0.6)).not.toEqual(before);
  await page.mouse.wheel(0, -500);
  await expect.poll(async () => Number.parseFloat((await zoom.textContent())!)).toBeGreaterThan(150);
  await page.keyboard.press('f');
  await expect(zoom).toHaveText('60 %');
  await settled(page);
  const plain = await canvasColour(page, 0.3, 0.6);
  const exposure = page.getByRole('textbox', { name: 'View exposure in stops' });
  await exposure.fill('3');
  await exposure.press('Enter');
  await settled(page);
  await expect.poll(async () => (await canvasColour(page, 0.3, 0.6))[0]!).toBeGreaterThan(plain[0]!);
  await expect(page.getByRole('button', { name: 'Undo' })).toBeDisabled();
});

test('stations are bypassed, looked behind, and shown alone', async ({ page }) => {
  await openApplication(page);
  await page
    .getByTestId('file-input')
    .setInputFiles({ name: 'lamp.exr', mimeType: 'image/x-exr', buffer: await smallPlate() });
  await settled(page);
  await type(page, 'Bloom Amount', '60');
  await settled(page);
  const near = (): Promise<number[]> => canvasColour(page, 0.503, 0.505);
  const lit = await near();
  await page.getByRole('button', { name: 'Look at the light behind Plate' }).click();
  await expect.poll(async () => (await near())[0]!).toBeLessThan(lit[0]!);
  await page.keyboard.press('Escape');
  await expect.poll(near).toEqual(lit);
  await page.getByRole('switch', { name: 'Veil on' }).click();
  await expect.poll(async () => (await near())[0]!).toBeLessThan(lit[0]!);
  await expect(page.getByRole('button', { name: 'Veil, off' })).toBeVisible();
  await page.keyboard.press('Shift+4');
  await expect.poll(near).toEqual(lit);
  await page.getByRole('button', { name: 'Bloom alone' }).click();
  await settled(page);
  await expect.poll(() => canvasColour(page, 0.5, 0.5)).toEqual([0, 0, 0]);
  expect((await near())[0]!).toBeGreaterThan(20);
});

test('printing can be cancelled, and an empty shot says what to do', async ({ page }) => {
  const printed: string[] = [];
  page.on('download', (file) => printed.push(file.suggestedFilename()));
  await openApplication(page);
  await type(page, 'Bloom Amount', '4');
  // Separations are computed for the print alone, so that it takes longer than pressing the button.
  await type(page, 'Spikes Amount', '30');
  await page.getByRole('button', { name: 'Print' }).click();
  const dialog = page.getByRole('dialog', { name: 'Print' });
  await chooseKind(page, 'OpenEXR float');
  await dialog.getByRole('checkbox', { name: /With separations/ }).check();
  await dialog.getByRole('button', { name: 'Print file' }).click();
  await dialog.getByRole('button', { name: 'Cancel' }).click();
  await expect(dialog).toBeHidden();
  await page.getByRole('button', { name: 'More of quay.exr' }).click();
  await page.getByRole('menuitem', { name: 'Remove from the shot' }).click();
  await expect(page.getByText('Drop a render here')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Print' })).toBeDisabled();
  await page.getByRole('button', { name: 'Open the demo: Quay at night' }).click();
  await settled(page);
  await expect(page.getByRole('button', { name: 'Plate quay.exr' })).toBeVisible();
  expect(printed).toEqual([]);
});

test('nothing is fetched from elsewhere', async ({ page }) => {
  const outside: string[] = [];
  page.on('request', (request) => {
    const url = new URL(request.url());
    if (!['localhost', ''].includes(url.hostname)) outside.push(request.url());
  });
  await openApplication(page);
  expect(outside).toEqual([]);
});

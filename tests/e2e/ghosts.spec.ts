import { readFile } from 'node:fs/promises';
import { expect, test, type Page } from '@playwright/test';
import { readExr } from '../../src/core/formats/exr/read';
import { channelFloats } from '../../src/core/image/picture';
import { chooseKind, openApplication, settled, type } from './helpers';

const panel = (page: Page) => page.getByRole('complementary', { name: 'Ghosts settings' });

async function openGhosts(page: Page): Promise<void> {
  await openApplication(page);
  await page.keyboard.press('5');
  await page.getByRole('switch', { name: 'Ghosts on', exact: true }).click();
}

/** Finds the brightest lamp of the demo and takes it over as a light of the list. */
async function takeLamp(page: Page): Promise<void> {
  await panel(page).locator('[data-setting="ghosts.find.on"]').getByRole('switch').click();
  await expect(page.getByTestId('found-lights')).toContainText('1 found');
  await page.getByRole('button', { name: 'Take over' }).click();
  await expect(page.getByRole('button', { name: /^Found 1, \d+ % seen/ })).toBeVisible();
}

async function dragBy(page: Page, dx: number, dy: number): Promise<void> {
  const box = (await page.getByRole('button', { name: /^Found 1, / }).boundingBox())!;
  const from = { x: box.x + 11, y: box.y + box.height - 11 };
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  for (let k = 1; k <= 6; k++) await page.mouse.move(from.x + (dx * k) / 6, from.y + (dy * k) / 6);
  await page.mouse.up();
  await settled(page);
}

test('a lamp is found, its ghosts are tamed, and it is dragged out of the picture', async ({ page }) => {
  await openGhosts(page);
  await takeLamp(page);
  await type(page, 'Ghosts Amount', '60');
  const table = page.getByTestId('ghost-table');
  await expect(table).toContainText('4 of 45 shown');
  await type(page, 'Ghosts Number', '6');
  await expect(table).toContainText('6 of 45 shown');
  const solo = table.getByRole('button', { name: /^Ghost .* solo$/ });
  await solo.first().click();
  await expect(table).toContainText('1 of 45 shown');
  // The chosen ghost's way is drawn through the lens.
  await table
    .getByRole('button', { name: /^Ghost \d+-\d+$/ })
    .nth(1)
    .click();
  await expect(page.getByTestId('lens-view')).toContainText('ghost');
  await solo.first().click();
  const across = page.getByRole('textbox', { name: 'Light 1 Across' });
  const before = Number(await across.inputValue());
  await dragBy(page, 260, -60);
  expect(Number(await across.inputValue())).toBeGreaterThan(Math.max(100, before));
  await expect(page.getByRole('button', { name: /^Ghosts, 1 light/ })).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(across).toHaveValue(String(before));
});

test('a light behind the railing loses its flare, and separations are printed and read back', async ({
  page,
}) => {
  await openGhosts(page);
  await takeLamp(page);
  await type(page, 'Ghosts Amount', '60');
  const report = page.getByTestId('light-report');
  await expect(report).toHaveText(/^[5-9]\d % seen|^100 % seen/);
  // The post of the railing stands nearer than the lamp.
  await type(page, 'Light 1 Across', '50');
  await type(page, 'Light 1 Down', '85');
  await expect(report).toHaveText(/^0 % seen/);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect(report).not.toHaveText(/^0 % seen/);
  await panel(page)
    .getByRole('button', { name: /^Shafts/ })
    .first()
    .click();
  await type(page, 'Shafts Amount', '2');
  await settled(page);
  await page.getByRole('button', { name: 'Print', exact: true }).click();
  const dialog = page.getByRole('dialog', { name: 'Print' });
  await chooseKind(page, 'OpenEXR float');
  await dialog.getByRole('checkbox', { name: /With separations/ }).check();
  const download = page.waitForEvent('download');
  await dialog.getByRole('button', { name: 'Print file' }).click();
  const picture = await readExr(await readFile(await (await download).path()));
  const light = (name: string): number =>
    channelFloats(picture.channels.get(name)!).reduce((sum, value) => sum + value, 0);
  expect(light('ghosts.flare.R')).toBeGreaterThan(0);
  expect(light('ghosts.shafts.R')).toBeGreaterThan(0);
});

test('a flare to start from finds its light; places of lights come from a file', async ({ page }) => {
  await openApplication(page);
  await page.keyboard.press('5');
  const start = page.getByRole('button', { name: 'Start from Coated prime, violet' });
  await expect(start.locator('canvas')).toBeVisible();
  await start.click();
  await settled(page);
  await expect(page.getByRole('button', { name: /^Ghosts, 1 light, 5 each/ })).toBeVisible();
  await page.getByLabel('File of lights').setInputFiles({
    name: 'sun.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('name,x,y,z,gain\nSun,-9,6,-12,90000\n'),
  });
  await expect(page.getByRole('button', { name: /^Sun, / })).toBeVisible();
  await page.getByLabel('File of a lens design').setInputFiles({
    name: 'bad.json',
    mimeType: 'application/json',
    buffer: Buffer.from(
      '{"id":"a","focalLength":50,"fNumber":2,"semiFieldDeg":20,"surfaces":[{"radius":0},{"radius":1}]}',
    ),
  });
  await expect(page.getByText(/surface 0/)).toBeVisible();
});

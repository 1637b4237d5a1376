import { readFileSync } from 'node:fs';
import { expect, type Download, type Page } from '@playwright/test';
import { readExr } from '../../src/core/formats/exr/read';
import { writeExr } from '../../src/core/formats/exr/write';
import { addChannel, channelFloats, emptyPicture, type Picture } from '../../src/core/image/picture';

/** Opens the application and waits until the first picture is final. */
export async function openApplication(page: Page): Promise<void> {
  await page.goto('/');
  await settled(page);
}

/** Waits until what is wanted is computed at full quality. */
export async function settled(page: Page): Promise<void> {
  // A change reaches the scheduler within a frame or two.
  await page.waitForTimeout(60);
  await expect(page.getByTestId('status')).toHaveAttribute('data-phase', 'final');
}

/** Types a number into a setting's field. */
export async function type(page: Page, name: string, text: string): Promise<void> {
  const field = page.getByRole('textbox', { name, exact: true });
  await field.fill(text);
  await field.press('Enter');
}

/** Chooses the kind of file in the print dialog. */
export async function chooseKind(page: Page, kind: string): Promise<void> {
  await page.getByRole('combobox', { name: 'Kind of file' }).click();
  await page.getByRole('option', { name: kind, exact: true }).click();
}

export async function downloaded(
  wait: Promise<Download>,
): Promise<{ bytes: Uint8Array; name: string; path: string }> {
  const download = await wait;
  const path = await download.path();
  return { bytes: new Uint8Array(readFileSync(path)), name: download.suggestedFilename(), path };
}

export async function readPlanes(
  bytes: Uint8Array,
  names: readonly string[],
): Promise<{ picture: Picture; planes: Float32Array[] }> {
  const picture = await readExr(bytes);
  return { picture, planes: names.map((name) => channelFloats(picture.channels.get(name)!)) };
}

/** Red, green and blue bytes of the canvas at a share of its width and height. */
export function canvasColour(page: Page, x: number, y: number): Promise<number[]> {
  return page.getByTestId('picture').evaluate(
    (element, place) => {
      const canvas = element as HTMLCanvasElement;
      const context = canvas.getContext('2d')!;
      const data = context.getImageData(
        Math.floor(canvas.width * place.x),
        Math.floor(canvas.height * place.y),
        1,
        1,
      ).data;
      return [...data.slice(0, 3)];
    },
    { x, y },
  );
}

/** A small plate: a dim ramp with one lamp in the middle, and an emission pass that holds the lamp alone. */
export async function smallPlate(width = 64, height = 48): Promise<Buffer> {
  const picture = emptyPicture(width, height);
  const lamp = Math.floor(height / 2) * width + width / 2;
  for (const name of ['R', 'G', 'B']) {
    addChannel(
      picture,
      name,
      'float',
      Float32Array.from({ length: width * height }, (_, i) =>
        i === lamp ? 400 : 0.02 + (0.2 * (i % width)) / width,
      ),
    );
    addChannel(
      picture,
      `emission.${name}`,
      'float',
      Float32Array.from({ length: width * height }, (_, i) => (i === lamp ? 400 : 0)),
    );
  }
  return Buffer.from(await writeExr(picture));
}

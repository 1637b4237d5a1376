import { createRequire } from 'node:module';
import type { RgbaImage } from '../core/image/rgba';
import { drawSheet, layOutSheet, type SheetContent } from '../core/print/sheet';

const FACES = [
  ['Sheet words', '@fontsource-variable/hanken-grotesk/files/hanken-grotesk-latin-wght-normal.woff2'],
  ['Sheet figures', '@fontsource-variable/jetbrains-mono/files/jetbrains-mono-latin-wght-normal.woff2'],
] as const;

/** Draws a sheet of pictures with their captions, and gives it as PNG. */
export async function makeSheet(content: SheetContent, pictures: readonly RgbaImage[]): Promise<Uint8Array> {
  // It holds native code, which no other command needs.
  const { createCanvas, GlobalFonts, ImageData } = await import('@napi-rs/canvas');
  const { resolve } = createRequire(import.meta.url);
  for (const [family, file] of FACES) GlobalFonts.registerFromPath(resolve(file), family);
  const layout = layOutSheet(content);
  const canvas = createCanvas(layout.width, layout.height);
  const context = canvas.getContext('2d');
  drawSheet(context, content, layout, { words: `'${FACES[0][0]}'`, figures: `'${FACES[1][0]}'` });
  for (const [k, { pixels, width, height }] of pictures.entries()) {
    const { x, y } = layout.places[k]!;
    context.putImageData(new ImageData(pixels, width, height), x, y);
  }
  return canvas.encode('png');
}

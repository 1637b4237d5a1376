import { packShot } from '../../src/core/shot/archive';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp, { type Sharp } from 'sharp';
import { writeHdr } from '../../src/core/formats/hdr/write';
import { writeExr } from '../../src/core/formats/exr/write';
import { addChannel, emptyPicture } from '../../src/core/image/picture';
import { defaultLook } from '../../src/core/look/look';
import { EMPTY_SHOT, plateOfFile } from '../../src/core/shot/shot';

export interface CorpusFile {
  name: string;
  bytes: Uint8Array;
}

const [WIDTH, HEIGHT] = [96, 48];
/** Fixtures over this size only slow things down. */
const MAX_BYTES = 60_000;

/** Smooth in places and noisy in others, so that every packing has something to pack. */
const sample = (i: number, c: number): number => {
  const [x, y] = [i % WIDTH, Math.floor(i / WIDTH)];
  return x < WIDTH / 2 ? (x * 4 + y * 2 + c * 40) & 255 : ((i * 7919 + c * 104729) >> 3) & 255;
};

function pictures(): { rgb: Uint8Array; floats: Float32Array[] } {
  const rgb = Uint8Array.from({ length: WIDTH * HEIGHT * 3 }, (_, k) => sample(Math.floor(k / 3), k % 3));
  const floats = [0, 1, 2].map((c) =>
    Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => sample(i, c) / 64),
  );
  return { rgb, floats };
}

/** Small files of every format and packing that is read. `fixtures` is the folder with the OpenEXR files. */
export async function corpus(fixtures: string): Promise<CorpusFile[]> {
  const { rgb, floats } = pictures();
  const raw = { raw: { width: WIDTH, height: HEIGHT, channels: 3 } } as const;
  const image = (): Sharp => sharp(rgb, raw);
  const encoded: [string, Sharp][] = [
    ['lzw.tiff', image().tiff({ compression: 'lzw' })],
    ['lzw-predicted.tiff', image().tiff({ compression: 'lzw', predictor: 'horizontal' })],
    ['deflate.tiff', image().tiff({ compression: 'deflate' })],
    ['tiled.tiff', image().tiff({ compression: 'deflate', tile: true, tileWidth: 32, tileHeight: 16 })],
    ['packbits.tiff', image().tiff({ compression: 'packbits' })],
    ['plain.tiff', image().tiff({ compression: 'none' })],
    ['jpeg.tiff', image().tiff({ compression: 'jpeg' })],
    ['rgb.png', image().png()],
    ['interlaced.png', image().png({ progressive: true })],
    ['palette.png', image().png({ palette: true })],
    ['grey.png', image().greyscale().png()],
    ['wide.png', image().toColourspace('rgb16').png()],
    ['base.jpg', image().jpeg()],
    ['progressive.jpg', image().jpeg({ progressive: true })],
  ];
  const files: CorpusFile[] = [];
  for (const [name, one] of encoded) files.push({ name, bytes: new Uint8Array(await one.toBuffer()) });
  const picture = emptyPicture(WIDTH, HEIGHT);
  ['R', 'G', 'B'].forEach((name, c) => addChannel(picture, name, 'float', floats[c]!));
  const exr = new Uint8Array(await writeExr(picture));
  files.push({ name: 'ours.exr', bytes: exr });
  files.push({ name: 'a.hdr', bytes: writeHdr(floats, WIDTH, HEIGHT) });
  files.push({ name: 'a.pfm', bytes: pfm(floats) });
  const shot = {
    name: 'S',
    plates: [plateOfFile('a', 'ours.exr')],
    references: [],
    images: [],
    proofs: [],
    follows: null,
    tracks: EMPTY_SHOT.tracks,
    reel: EMPTY_SHOT.reel,
    activePlate: 'a',
    look: defaultLook(),
  };
  files.push({ name: 'a.bokelux', bytes: await packShot({ shot, files: new Map([['a', exr]]) }) });
  for (const name of readdirSync(fixtures)) {
    if (!name.endsWith('.exr') || name.startsWith('bad_')) continue;
    const bytes = new Uint8Array(readFileSync(join(fixtures, name)));
    if (bytes.length <= MAX_BYTES) files.push({ name, bytes });
  }
  return files;
}

function pfm(planes: readonly Float32Array[]): Uint8Array {
  const header = Buffer.from(`PF\n${WIDTH} ${HEIGHT}\n-1.0\n`);
  const woven = Float32Array.from(
    { length: WIDTH * HEIGHT * 3 },
    (_, k) => planes[k % 3]![Math.floor(k / 3)]!,
  );
  return new Uint8Array(Buffer.concat([header, Buffer.from(woven.buffer)]));
}

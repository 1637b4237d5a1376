import { deflateSync } from 'node:zlib';
import fc from 'fast-check';
import { fromArrayBuffer } from 'geotiff';
import { PNG } from 'pngjs';
import sharp from 'sharp';
import { FileError } from '../errors';
import { floatsToHalves, halvesToFloats } from '../image/half';
import { channelFloats, type Picture } from '../image/picture';
import { decodeSrgb, encodeSrgb } from '../color/srgb';
import { writeHdr } from './hdr/write';
import { openPicture } from './open';
import { readPfm, writePfm } from './pfm';
import { writePng } from './png/write';
import { writeTiff } from './tiff/write';

const [WIDTH, HEIGHT] = [37, 23];
const COUNT = WIDTH * HEIGHT;

/** Whole numbers that meet every value and no pattern. */
const noise = (count: number, top: number): number[] =>
  Array.from({ length: count }, (_, i) => (i * 7919 + (i >> 3) * 104729) % (top + 1));
const planesOf = (picture: Picture, names: readonly string[]): Float32Array[] =>
  names.map((name) => channelFloats(picture.channels.get(name)!));
const bytes = (text: string, ...rest: ArrayLike<number>[]): Uint8Array =>
  Uint8Array.from([...new TextEncoder().encode(text), ...rest.flatMap((part) => [...Array.from(part)])]);
const refused = (content: Uint8Array, message: RegExp): Promise<void> =>
  expect(openPicture(content, 'x')).rejects.toThrow(message);

/** Values 0 to `top`, sRGB-decoded, are what a channel holds. */
function expectDecoded(
  picture: Picture,
  name: string,
  data: ArrayLike<number>,
  step: number,
  top: number,
): void {
  const plane = channelFloats(picture.channels.get(name)!);
  const at = ['R', 'G', 'B'].indexOf(name);
  for (let i = 0; i < plane.length; i++)
    expect(plane[i]).toBe(Math.fround(decodeSrgb(data[i * step + Math.max(0, at)]! / top)));
}

describe('PNG', () => {
  // Source: sharp (libvips with libspng) writes and pngjs reads: libraries apart from the one that is used.
  it.each([8, 16] as const)('of %d bits is read to the last bit', async (bits) => {
    const top = 2 ** bits - 1;
    const data = noise(COUNT * 3, top);
    const raw = bits === 8 ? Uint8Array.from(data) : Uint16Array.from(data);
    const input = sharp(raw, { raw: { width: WIDTH, height: HEIGHT, channels: 3 } });
    const file = await (bits === 16 ? input.toColourspace('rgb16') : input).png().toBuffer();
    const picture = await openPicture(file, 'a.png');
    expect(picture).toMatchObject({ width: WIDTH, height: HEIGHT, range: 'display' });
    for (const name of ['R', 'G', 'B']) expectDecoded(picture, name, data, 3, top);
  });

  it.each([1, 2, 4] as const)('of %d bits of grey is read', async (depth) => {
    const top = 2 ** depth - 1;
    const values = noise(COUNT, top);
    const picture = await openPicture(packedPng(values, depth, 0), 'a.png');
    expect([...picture.channels.keys()]).toEqual(['Y']);
    expectDecoded(picture, 'Y', values, 1, top);
  });

  it('with a palette is read as its colours', async () => {
    const palette = [10, 20, 30, 200, 100, 50, 0, 255, 7, 90, 91, 92];
    const indices = noise(COUNT, 3);
    const picture = await openPicture(packedPng(indices, 2, 3, palette), 'a.png');
    const red = indices.map((index) => Math.fround(decodeSrgb(palette[3 * index]! / 255)));
    expect([...channelFloats(picture.channels.get('R')!)]).toEqual(red);
  });

  it('multiplies colour by its alpha, which is linear', async () => {
    const png = new PNG({ width: 2, height: 1 });
    png.data.set([255, 128, 0, 51, 255, 255, 255, 0]);
    const picture = await openPicture(PNG.sync.write(png), 'a.png');
    const [r, g, a] = planesOf(picture, ['R', 'G', 'A']);
    expect([...a!]).toEqual([Math.fround(0.2), 0]);
    expect(r![0]).toBeCloseTo(0.2, 6);
    expect(g![0]).toBeCloseTo(0.2 * decodeSrgb(128 / 255), 6);
    expect(r![1]).toBe(0);
  });

  it('that holds data is not taken from the sRGB curve', async () => {
    const file = writePng(new Float32Array(COUNT * 3).fill(0.5), WIDTH, HEIGHT, 16);
    const picture = await openPicture(file, 'depth.png', { data: true });
    expect(channelFloats(picture.channels.get('R')!)[0]).toBeCloseTo(0.5, 4);
  });

  it('comes back as it was after a round trip', async () => {
    const data = Uint8Array.from(noise(COUNT * 3, 255));
    const file = await sharp(data, { raw: { width: WIDTH, height: HEIGHT, channels: 3 } })
      .png()
      .toBuffer();
    const planes = planesOf(await openPicture(file, 'a.png'), ['R', 'G', 'B']);
    const encoded = Float32Array.from({ length: COUNT * 3 }, (_, i) =>
      encodeSrgb(planes[i % 3]![Math.floor(i / 3)]!),
    );
    const again = PNG.sync.read(Buffer.from(writePng(encoded, WIDTH, HEIGHT, 8)));
    for (let i = 0; i < COUNT * 3; i++) expect(again.data[Math.floor(i / 3) * 4 + (i % 3)]).toBe(data[i]);
  });

  it('is refused when it lies or is damaged', async () => {
    const file = Buffer.from(writePng(new Float32Array(COUNT * 3), WIDTH, HEIGHT, 8));
    const huge = Buffer.from(file);
    huge.writeUInt32BE(0x7fffffff, 16);
    await refused(huge, /pixels; at most/);
    const wide = Buffer.from(file);
    wide.writeUInt32BE(60_000, 16);
    wide.writeUInt32BE(8_000, 20);
    await refused(wide, /promises 60000 x 8000/);
    await refused(file.subarray(0, 20), /no header/);
    await refused(file.subarray(0, 60), /damaged/);
  });
});

/** A PNG of few bits a sample, as ISO/IEC 15948 lays it out. */
function packedPng(values: number[], depth: number, colourType: number, palette?: number[]): Uint8Array {
  const pitch = Math.ceil((WIDTH * depth) / 8);
  const rows = Buffer.alloc((pitch + 1) * HEIGHT);
  values.forEach((value, i) => {
    const [x, y] = [i % WIDTH, Math.floor(i / WIDTH)];
    rows[y * (pitch + 1) + 1 + ((x * depth) >> 3)]! |= value << (8 - depth - ((x * depth) & 7));
  });
  const header = Buffer.alloc(13);
  header.writeUInt32BE(WIDTH, 0);
  header.writeUInt32BE(HEIGHT, 4);
  header.set([depth, colourType], 8);
  const chunk = (type: string, content: Uint8Array): Buffer => {
    const body = Buffer.concat([Buffer.from(type), content]);
    const out = Buffer.alloc(body.length + 8);
    out.writeUInt32BE(content.length, 0);
    body.copy(out, 4);
    out.writeUInt32BE(crc32(body), body.length + 4);
    return out;
  };
  return Buffer.concat([
    Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]),
    chunk('IHDR', header),
    ...(palette ? [chunk('PLTE', Uint8Array.from(palette))] : []),
    chunk('IDAT', deflateSync(rows)),
    chunk('IEND', new Uint8Array(0)),
  ]);
}

/** CRC-32 (ISO/IEC 15948, annex D). */
function crc32(content: Uint8Array): number {
  let crc = 0xffffffff;
  for (const byte of content) {
    crc ^= byte;
    for (let k = 0; k < 8; k++) crc = (crc >>> 1) ^ (crc & 1 ? 0xedb88320 : 0);
  }
  return (crc ^ 0xffffffff) >>> 0;
}

describe('JPEG', () => {
  const scene = Uint8Array.from({ length: COUNT * 3 }, (_, i) => {
    const [x, y] = [Math.floor(i / 3) % WIDTH, Math.floor(i / 3 / WIDTH)];
    return [x * 6, y * 9, 255 - x * 3][i % 3]!;
  });
  const write = () => sharp(scene, { raw: { width: WIDTH, height: HEIGHT, channels: 3 } });

  // Source: sharp decodes with libjpeg-turbo, another build of the reference decoder; 2 levels are allowed.
  it.each(['4:4:4', '4:2:0'])('is decoded within two levels of libjpeg (%s)', async (chromaSubsampling) => {
    const file = await write().jpeg({ quality: 90, chromaSubsampling }).toBuffer();
    const wanted = await sharp(file).raw().toBuffer();
    const planes = planesOf(await openPicture(file, 'a.jpg'), ['R', 'G', 'B']);
    let worst = 0;
    for (let i = 0; i < COUNT * 3; i++) {
      const level = encodeSrgb(planes[i % 3]![Math.floor(i / 3)]!) * 255;
      worst = Math.max(worst, Math.abs(level - wanted[i]!));
    }
    expect(worst).toBeLessThanOrEqual(2.01);
  });

  it('that is cut off is read as far as it goes, with a remark in place of chatter', async () => {
    const said = jest.spyOn(console, 'error').mockImplementation(() => undefined);
    const file = await write().jpeg().toBuffer();
    const cut = await openPicture(new Uint8Array(file.subarray(0, file.length - 60)), 'a.jpg');
    expect(cut.warnings.join()).toMatch(/not quite whole: .+/);
    expect((await openPicture(new Uint8Array(file), 'a.jpg')).warnings).toEqual([]);
    expect(said).not.toHaveBeenCalled();
    said.mockRestore();
  });

  it('of grey has one channel, progressive ones are read', async () => {
    const grey = await openPicture(
      await write().toColourspace('b-w').jpeg({ progressive: true }).toBuffer(),
      'a.jpg',
    );
    expect([...grey.channels.keys()]).toEqual(['Y']);
  });

  // Source: CIPA DC-008 (EXIF 2.32), 4.6.4, tag Orientation; sharp turns by the same tag.
  it.each([1, 2, 3, 4, 5, 6, 7, 8])('stands as orientation %d says', async (orientation) => {
    const file = await write()
      .jpeg({ quality: 100, chromaSubsampling: '4:4:4' })
      .withMetadata({ orientation })
      .toBuffer();
    const { data, info } = await sharp(file).rotate().raw().toBuffer({ resolveWithObject: true });
    const picture = await openPicture(file, 'a.jpg');
    expect([picture.width, picture.height]).toEqual([info.width, info.height]);
    const red = channelFloats(picture.channels.get('R')!);
    for (const i of [0, info.width - 1, info.width * (info.height - 1), 300])
      expect(Math.abs(encodeSrgb(red[i]!) * 255 - data[i * 3]!)).toBeLessThanOrEqual(2.01);
  });

  it('is refused when it is damaged, of four components, or promises too much', async () => {
    const file = await write().jpeg().toBuffer();
    await refused(file.subarray(0, 12), /no picture in it/);
    const cmyk = await write().toColourspace('cmyk').jpeg().toBuffer();
    await refused(cmyk, /4 components/);
    const huge = Buffer.from(file);
    const frame = huge.indexOf(Buffer.from([0xff, 0xc0]));
    huge.writeUInt16BE(65500, frame + 5);
    huge.writeUInt16BE(65500, frame + 7);
    await refused(huge, /pixels|promises/);
  });
});

describe('TIFF', () => {
  const names = ['R', 'G', 'B'] as const;
  const ramp = Float32Array.from({ length: COUNT * 3 }, (_, i) => i * 0.037);

  // Source: sharp (libvips with libtiff, the reference library) writes strips and tiles and every packing.
  it.each([
    ['strips', { compression: 'none' }],
    ['tiles', { compression: 'deflate', tile: true, tileWidth: 16, tileHeight: 16 }],
    ['LZW with a predictor', { compression: 'lzw', predictor: 'horizontal' }],
    ['PackBits', { compression: 'packbits' }],
  ] as const)('of 8 bits in %s is read to the last bit', async (_, options) => {
    const data = noise(COUNT * 3, 255);
    const file = await sharp(Uint8Array.from(data), { raw: { width: WIDTH, height: HEIGHT, channels: 3 } })
      .tiff(options)
      .toBuffer();
    const picture = await openPicture(file, 'a.tif');
    expect(picture.range).toBe('display');
    for (const name of names) expectDecoded(picture, name, data, 3, 255);
  });

  it('of 16 bits, and of grey, is read to the last bit', async () => {
    const data = noise(COUNT * 3, 65535);
    const raw = { width: WIDTH, height: HEIGHT, channels: 3 } as const;
    const file = await sharp(Uint16Array.from(data), { raw })
      .toColourspace('rgb16')
      .tiff({ compression: 'none' })
      .toBuffer();
    const picture = await openPicture(file, 'a.tif');
    for (const name of names) expectDecoded(picture, name, data, 3, 65535);
    const grey = noise(COUNT, 255);
    const one = await sharp(Uint8Array.from(grey), { raw: { ...raw, channels: 1 } })
      .toColourspace('b-w')
      .tiff({ compression: 'none' })
      .toBuffer();
    expectDecoded(await openPicture(one, 'b.tif'), 'Y', grey, 1, 255);
  });

  it.each(['none', 'horizontal', 'float'] as const)(
    'of floats is scene-linear and as libtiff reads it (predictor %s)',
    async (predictor) => {
      const input = sharp(ramp, { raw: { width: WIDTH, height: HEIGHT, channels: 3 } });
      const file = await input.toColourspace('scrgb').tiff({ compression: 'deflate', predictor }).toBuffer();
      const read = await sharp(file).toColourspace('scrgb').raw({ depth: 'float' }).toBuffer();
      const wanted = new Float32Array(read.buffer, read.byteOffset, COUNT * 3);
      expect(Math.max(...wanted)).toBeGreaterThan(0);
      const picture = await openPicture(file, 'a.tif');
      expect(picture.range).toBe('scene');
      planesOf(picture, names).forEach((plane, c) =>
        plane.forEach((value, i) => expect(value).toBeCloseTo(wanted[i * 3 + c]!, 5)),
      );
    },
  );

  it('of floats comes back exactly', async () => {
    const picture = await openPicture(
      writeTiff({ width: WIDTH, height: HEIGHT, channels: 3, data: ramp }),
      'a.tif',
    );
    planesOf(picture, names).forEach((plane, c) =>
      plane.forEach((value, i) => expect(value).toBe(ramp[i * 3 + c])),
    );
  });

  it('of half floats comes back exactly', async () => {
    const halves = floatsToHalves(ramp);
    const file = writeTiff({ width: WIDTH, height: HEIGHT, channels: 3, data: halves, half: true });
    const wanted = halvesToFloats(halves);
    planesOf(await openPicture(file, 'a.tif'), names).forEach((plane, c) =>
      plane.forEach((value, i) => expect(value).toBe(wanted[i * 3 + c])),
    );
  });

  // Source: libtiff, through sharp, and geotiff read what is written.
  it('is written so that other libraries read it exactly', async () => {
    const data = Uint16Array.from(noise(COUNT * 3, 65535));
    const file = writeTiff({ width: WIDTH, height: HEIGHT, channels: 3, data });
    const { data: read, info } = await sharp(file)
      .toColourspace('rgb16')
      .raw({ depth: 'ushort' })
      .toBuffer({ resolveWithObject: true });
    expect([info.width, info.height, info.channels]).toEqual([WIDTH, HEIGHT, 3]);
    expect(new Uint16Array(read.buffer, read.byteOffset, COUNT * 3)).toEqual(data);
    const floats = writeTiff({ width: WIDTH, height: HEIGHT, channels: 3, data: ramp });
    const image = await (await fromArrayBuffer(floats.buffer)).getImage();
    expect(await image.readRasters({ interleave: true })).toMatchObject({ width: WIDTH, height: HEIGHT });
    const eight = Uint8Array.from(noise(COUNT * 3, 255));
    const small = await sharp(writeTiff({ width: WIDTH, height: HEIGHT, channels: 3, data: eight }))
      .raw()
      .toBuffer();
    expect(Uint8Array.from(small)).toEqual(eight);
  });

  // Source: TIFF 6.0, section 18: extra samples of kind 1 were multiplied with colour, those of kind 2 were not.
  it('with alpha gives the same light, multiplied before or not', async () => {
    const straight = Uint8Array.from({ length: 64 * 4 }, (_, i) =>
      i % 4 === 3 ? 51 * (1 + ((i >> 2) % 5)) : (i * 37) % 256,
    );
    const multiplied = straight.map((value, i) =>
      i % 4 === 3 ? value : Math.round((value * straight[i - (i % 4) + 3]!) / 255),
    );
    const read = async (data: Uint8Array, kind: number): Promise<Float32Array[]> => {
      const file = await sharp(data, { raw: { width: 8, height: 8, channels: 4 } })
        .tiff({ compression: 'none' })
        .toBuffer();
      const entry = file.indexOf(Buffer.from([0x52, 0x01, 3, 0, 1, 0, 0, 0]));
      expect(entry).toBeGreaterThan(0);
      file.writeUInt16LE(kind, entry + 8);
      return planesOf(await openPicture(new Uint8Array(file), 'a.tif'), ['R', 'G', 'B', 'A']);
    };
    const [apart, together] = [await read(straight, 2), await read(multiplied, 1)];
    apart.forEach((plane, c) =>
      plane.forEach((value, i) => expect(Math.abs(value - together[c]![i]!)).toBeLessThan(0.025)),
    );
  });

  it('is written in several strips when it is large', async () => {
    const [width, height] = [700, 900];
    const data = Float32Array.from({ length: width * height * 3 }, (_, i) => (i % 1009) / 7);
    const picture = await openPicture(writeTiff({ width, height, channels: 3, data }), 'a.tif');
    const blue = channelFloats(picture.channels.get('B')!);
    for (const i of [0, 12345, width * height - 1]) expect(blue[i]).toBe(data[i * 3 + 2]);
  });

  it('is refused when it lies, is damaged, or is of a kind that is not read', async () => {
    const file = writeTiff({ width: WIDTH, height: HEIGHT, channels: 3, data: ramp });
    const lie = (tag: number, value: number): Uint8Array => {
      const copy = file.slice();
      const view = new DataView(copy.buffer);
      for (let k = 0; k < view.getUint16(8, true); k++)
        if (view.getUint16(10 + 12 * k, true) === tag) view.setUint32(18 + 12 * k, value, true);
      return copy;
    };
    await refused(lie(256, 60_000_000), /pixels; at most/);
    await refused(lie(257, 60_000), /promises|damaged/);
    await refused(file.subarray(0, 200), /damaged/);
    await refused(bytes('II', [42, 0, 8, 0, 0, 0, 0, 0]), /damaged|samples/);
    const signed = lie(258, 0);
    await expect(openPicture(signed, 'x')).rejects.toThrow(FileError);
  });

  it('survives any flipped byte with a picture or a typed error', async () => {
    const file = writeTiff({ width: 9, height: 7, channels: 3, data: ramp.slice(0, 189) });
    await fc.assert(
      fc.asyncProperty(fc.nat(file.length - 1), fc.nat(255), async (at, value) => {
        const copy = file.slice();
        copy[at] = value;
        try {
          expect((await openPicture(copy, 'x')).width).toBeGreaterThan(0);
        } catch (error) {
          expect(error).toBeInstanceOf(FileError);
        }
      }),
      { numRuns: 300 },
    );
  });
});

describe('Radiance HDR', () => {
  // Source: Ward, "Real Pixels" (1991): value = mantissa * 2^(exponent - 136), so 128 with 129 is 1.
  it('holds one exponent a pixel', async () => {
    const head = '#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y 1 +X 3\n';
    const picture = await openPicture(bytes(head, [128, 64, 32, 129, 255, 0, 1, 140, 9, 9, 9, 0]), 'a.hdr');
    const [r, g, b] = planesOf(picture, ['R', 'G', 'B']);
    expect([...r!]).toEqual([1, 255 * 16, 0]);
    expect([...g!]).toEqual([0.5, 0, 0]);
    expect([...b!]).toEqual([0.25, 16, 0]);
  });

  it.each([
    ['-Y 2 +X 3', [0, 1, 2, 3, 4, 5]],
    ['+Y 2 +X 3', [3, 4, 5, 0, 1, 2]],
    ['-Y 2 -X 3', [2, 1, 0, 5, 4, 3]],
    ['+Y 2 -X 3', [5, 4, 3, 2, 1, 0]],
    ['+X 3 -Y 2', [0, 2, 4, 1, 3, 5]],
    ['+X 3 +Y 2', [1, 3, 5, 0, 2, 4]],
    ['-X 3 -Y 2', [4, 2, 0, 5, 3, 1]],
    ['-X 3 +Y 2', [5, 3, 1, 4, 2, 0]],
  ])('in the orientation %s stands upright', async (size, wanted) => {
    const pixels = Array.from({ length: 6 }, (_, i) => [i + 1, 0, 0, 136]).flat();
    const picture = await openPicture(bytes(`#?RGBE\n\n${size}\n`, pixels), 'a.hdr');
    expect([picture.width, picture.height]).toEqual([3, 2]);
    expect([...planesOf(picture, ['R'])[0]!].map((value) => value - 1)).toEqual(wanted);
  });

  it('reads old run lengths, several in a row as digits, and undoes the exposure', async () => {
    const head = '#?RADIANCE\nEXPOSURE=2\nEXPOSURE=4\n\n-Y 1 +X 300\n';
    // 1 1 1 n repeats the pixel before; the next one counts in units of 256.
    const picture = await openPicture(bytes(head, [8, 0, 0, 136, 1, 1, 1, 43, 1, 1, 1, 1]), 'a.hdr');
    expect([...planesOf(picture, ['R'])[0]!]).toEqual(Array<number>(300).fill(1));
  });

  it('comes back from our own writer within the steps of the format', async () => {
    const planes = [0, 1, 2].map((c) =>
      Float32Array.from({ length: COUNT }, (_, i) => (i < 60 ? 0.25 : 2 ** ((i % 29) - 14) * (1 + c / 5))),
    );
    const picture = await openPicture(writeHdr(planes, WIDTH, HEIGHT), 'a.hdr');
    planesOf(picture, ['R', 'G', 'B']).forEach((plane, c) =>
      plane.forEach((value, i) => {
        const most = Math.max(planes[0]![i]!, planes[1]![i]!, planes[2]![i]!);
        expect(planes[c]![i]! - value).toBeGreaterThanOrEqual(0);
        expect(planes[c]![i]! - value).toBeLessThanOrEqual(most / 128);
      }),
    );
  });

  it.each([3, 9, 128, 400])('writes %d columns, packed or flat', async (width) => {
    const plane = Float32Array.from({ length: width * 2 }, (_, i) => (i % 50 < 20 ? 1 : (i % 7) / 8));
    const picture = await openPicture(writeHdr([plane, plane, plane], width, 2), 'a.hdr');
    expect([...planesOf(picture, ['G'])[0]!]).toEqual([...plane]);
  });

  it('is refused when it is damaged', async () => {
    await refused(bytes('#?RADIANCE\nFORMAT=other\n\n-Y 1 +X 1\n', [0, 0, 0, 0]), /format other/);
    await refused(bytes('#?RADIANCE\n\n-Y 4 +Y 4\n'), /cannot be understood/);
    await refused(bytes('#?RADIANCE'), /does not end/);
    await refused(bytes('#?RADIANCE\n\n-Y 4 +X 9\n', [2, 2, 0, 9, 200]), /too early|does not fit/);
    await refused(bytes('#?RADIANCE\n\n-Y 1 +X 2\n', [1, 1, 1, 4]), /nothing to repeat/);
    await refused(bytes('#?RADIANCE\n\n-Y 60000 +X 60000\n', [1]), /at most|promises/);
  });
});

describe('PFM', () => {
  // Source: Debevec, "PFM portable floatmap" (2001): rows from the bottom up, a negative scale is little-endian.
  it('is read from the bottom up in either order of bytes', () => {
    const values = [1, 2, 3, 4];
    const little = new Uint8Array(Float32Array.from(values).buffer);
    const big = little.slice();
    for (let i = 0; i < 16; i += 4) big.subarray(i, i + 4).reverse();
    for (const file of [bytes('Pf\n2 2\n-1.0\n', little), bytes('Pf 2 2 1\n', big)]) {
      const picture = readPfm(file);
      expect([...planesOf(picture, ['Y'])[0]!]).toEqual([3, 4, 1, 2]);
    }
  });

  it('comes back exactly, whatever the floats', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 9 }),
        fc.integer({ min: 1, max: 9 }),
        fc.constantFrom(1, 3),
        (width, height, channels) => {
          const planes = Array.from({ length: channels }, (_, c) =>
            Float32Array.from(
              { length: width * height },
              (_v, i) => Math.sin(i * 3 + c) * 10 ** ((i % 60) - 30),
            ),
          );
          const picture = readPfm(writePfm(planes, width, height));
          const names = channels === 3 ? ['R', 'G', 'B'] : ['Y'];
          expect(planesOf(picture, names)).toEqual(planes);
        },
      ),
    );
  });

  it('is refused when it is damaged', async () => {
    await refused(bytes('PF\n2 x\n-1\n'), /cannot be understood/);
    await refused(bytes('PF\n4 4\n-1.0\n', new Uint8Array(20)), /ends too early/);
    await refused(bytes('PF\n99999 4\n-1.0\n', new Uint8Array(20)), /at most/);
  });
});

describe('opening', () => {
  it('refuses what is no picture, in words', async () => {
    await refused(new Uint8Array(0), /is empty/);
    await refused(bytes('GIF89a'), /not a picture that is understood/);
    await expect(openPicture(bytes('hello'), 'letter.txt')).rejects.toMatchObject({
      where: 'letter.txt',
      todo: expect.stringContaining('OpenEXR') as string,
    });
  });
});

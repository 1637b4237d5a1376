import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import { FileError } from '../../errors';
import { floatToHalf, halvesToFloats } from '../../image/half';
import { addChannel, channelFloats, emptyPicture, type Picture, type Window } from '../../image/picture';
import { runJob } from '../../jobs';
import type { TaskRunner } from '../../kernels/runtime/parallel';
import { openPicture } from '../open';
import { inverseDct8x8, ZIGZAG } from './dct';
import { readExr, readParts } from './read';
import { writeExr } from './write';

interface Entry {
  file: string;
  expected: 'exact' | 'near' | 'hostile' | 'refuse';
  /** Of lossy files: half steps by which a sample may differ. */
  tolerance?: number;
  parts?: {
    name: string;
    compression: string;
    dataWindow: number[];
    displayWindow: number[];
    channels: {
      name: string;
      type: string;
      sampling: [number, number];
      sha256: string;
      /** Where its samples lie in the file of reference samples. */
      reference?: [number, number];
    }[];
  }[];
}

const FOLDER = join(__dirname, '../../../../fixtures/exr');
const MANIFEST = JSON.parse(readFileSync(join(FOLDER, 'manifest.json'), 'utf8')) as Entry[];
const of = (...expected: Entry['expected'][]): [string, Entry][] =>
  MANIFEST.filter((entry) => expected.includes(entry.expected)).map((entry) => [entry.file, entry]);
const load = (file: string): Uint8Array => new Uint8Array(readFileSync(join(FOLDER, file)));
const corners = ({ xMin, yMin, xMax, yMax }: Window): number[] => [xMin, yMin, xMax, yMax];

function sha256(samples: Float32Array): string {
  return createHash('sha256')
    .update(new Uint8Array(samples.buffer, samples.byteOffset, samples.byteLength))
    .digest('hex');
}

/** Steps of half floats between the values farthest apart. */
function halfSteps(a: Float32Array, b: Float32Array): number {
  const order = (value: number): number => {
    const half = floatToHalf(value);
    return half & 0x8000 ? -(half & 0x7fff) : half;
  };
  return a.reduce((worst, value, i) => Math.max(worst, Math.abs(order(value) - order(b[i]!))), 0);
}

// Source: the OpenEXR reference implementation 3.1.5 (Academy Software Foundation), whose samples the manifest lists.
describe('files of the reference implementation', () => {
  it.each(of('exact', 'near'))('%s reads as the reference reads it', async (file, entry) => {
    const parts = await readParts(load(file));
    expect(parts).toHaveLength(entry.parts!.length);
    for (const [index, wanted] of entry.parts!.entries()) {
      const part = parts[index]!;
      expect([part.name, part.compression]).toEqual([wanted.name, wanted.compression]);
      expect(corners(part.dataWindow)).toEqual(wanted.dataWindow);
      expect(corners(part.displayWindow)).toEqual(wanted.displayWindow);
      expect(part.channels.map(({ name }) => name).sort()).toEqual(
        wanted.channels.map(({ name }) => name).sort(),
      );
      for (const told of wanted.channels) {
        const channel = part.channels.find(({ name }) => name === told.name)!;
        expect([told.name, channel.type, channel.xSampling, channel.ySampling]).toEqual([
          told.name,
          told.type,
          ...told.sampling,
        ]);
        const floats = channelFloats(channel);
        if (sha256(floats) === told.sha256) continue;
        // Only the channels of lossy files that a transform of floats went over may differ at all.
        expect([told.name, told.reference]).not.toEqual([told.name, undefined]);
        const [at, size] = told.reference!;
        const blob = readFileSync(join(FOLDER, file.replace('.exr', '.bin')));
        const raw = blob.buffer.slice(blob.byteOffset + at, blob.byteOffset + at + size);
        const reference =
          size === floats.length * 2 ? halvesToFloats(new Uint16Array(raw)) : new Float32Array(raw);
        expect([told.name, halfSteps(floats, reference) <= entry.tolerance!]).toEqual([told.name, true]);
      }
    }
  });

  it.each(of('exact').filter(([, entry]) => entry.parts!.length === 1))(
    '%s survives being written and read',
    async (file) => {
      const picture = await readExr(load(file));
      const again = await readExr(await writeExr(picture));
      expect(again.dataWindow).toEqual(picture.dataWindow);
      expect(again.displayWindow).toEqual(picture.displayWindow);
      for (const [name, channel] of picture.channels) {
        expect(
          Buffer.from(again.channels.get(name)!.samples.buffer).equals(Buffer.from(channel.samples.buffer)),
        ).toBe(true);
      }
      for (const [name, { bytes }] of picture.attributes)
        expect(again.attributes.get(name)!.bytes).toEqual(bytes);
    },
  );

  it.each(of('refuse'))('%s is refused', async (file) => {
    await expect(readExr(load(file))).rejects.toThrow(FileError);
  });

  it('says of deep data what they are and what to do', async () => {
    await expect(openPicture(load('deep_scanline_zips.exr'), 'deep.exr')).rejects.toThrow(/deep data/);
  });
});

describe('many parts, one picture', () => {
  it('gives further parts the name of their layer and places them in one window', async () => {
    const picture = await readExr(load('multipart_4_mixed.exr'));
    expect([picture.width, picture.height]).toEqual([133, 77]);
    expect([...picture.channels.keys()]).toEqual(
      expect.arrayContaining(['R', 'G', 'B', 'A', 'depth.Z', 'emission.R', 'emission.G', 'emission.B']),
    );
    const [, , third] = await readParts(load('multipart_4_mixed.exr'));
    const { xMin, yMin, xMax } = third!.dataWindow;
    const stored = channelFloats(third!.channels[0]!);
    const placed = channelFloats(picture.channels.get(`${third!.name}.${third!.channels[0]!.name}`)!);
    const width = xMax - xMin + 1;
    expect(placed[(yMin + 3) * 133 + xMin + 5]).toBe(stored[3 * width + 5]);
    expect(placed[0]).toBe(0);
  });

  it('reads what an unfinished render holds and says which lines are missing', async () => {
    const whole = await readExr(load('incomplete_40_of_77_lines_zip.exr'));
    expect(whole.warnings).toEqual([expect.stringMatching(/lines 32 to 76 are missing/)]);
    const red = channelFloats(whole.channels.get('R')!);
    expect(red.subarray(0, 133).some((value) => value !== 0)).toBe(true);
    expect(red.subarray(32 * 133).every((value) => value === 0)).toBe(true);
  });

  it('finds its pixels when the table of offsets is damaged', async () => {
    const { warnings } = await readExr(load('bad_offset_all_same.exr'));
    expect(warnings).toEqual([expect.stringMatching(/table of offsets is damaged/)]);
  });
});

describe('luminance and chroma', () => {
  // Source: "Technical Introduction to OpenEXR" (Academy Software Foundation): RY = (R-Y)/Y, BY = (B-Y)/Y, and the
  // weights of ITU-R BT.709-6 for a file without primaries of its own.
  it('turns into the red, green and blue it came from', async () => {
    const picture = await readExr(load('rgbafile_yc_zip.exr'));
    expect([...picture.channels.keys()].sort()).toEqual(['B', 'G', 'R']);
    const [r, g, b] = ['R', 'G', 'B'].map((name) => channelFloats(picture.channels.get(name)!));
    const luma = channelFloats(
      (await readParts(load('rgbafile_yc_zip.exr')))[0]!.channels.find(({ name }) => name === 'Y')!,
    );
    for (let i = 0; i < luma.length; i += 97) {
      expect(0.2126 * r![i]! + 0.7152 * g![i]! + 0.0722 * b![i]!).toBeCloseTo(luma[i]!, 3);
    }
  });
});

// Source: Ahmed, Natarajan & Rao (1974), "Discrete Cosine Transform"; the sum is written out.
describe('the cosine transform', () => {
  it('is the orthonormal inverse', () => {
    const coefficients = Float32Array.from({ length: 64 }, (_, i) => Math.sin(i * 7.3) * 10);
    const block = coefficients.slice();
    inverseDct8x8(block);
    const c = (k: number): number => (k === 0 ? Math.SQRT1_2 : 1);
    const cosine = (x: number, k: number): number => Math.cos(((2 * x + 1) * k * Math.PI) / 16);
    for (const at of [0, 9, 37, 63]) {
      const [y, x] = [at >> 3, at & 7];
      let sum = 0;
      for (let v = 0; v < 8; v++)
        for (let u = 0; u < 8; u++)
          sum += (c(u) * c(v) * coefficients[v * 8 + u]! * cosine(x, u) * cosine(y, v)) / 4;
      expect(block[at]).toBeCloseTo(sum, 2);
    }
  });

  // Source: ITU-T T.81 (1992), figure 5.
  it('runs through the block in zigzag', () => {
    expect(ZIGZAG.slice(0, 10)).toEqual([0, 1, 8, 16, 9, 2, 3, 10, 17, 24]);
    expect([...ZIGZAG].sort((a, b) => a - b)).toEqual(Array.from({ length: 64 }, (_, i) => i));
  });
});

describe('hostile files', () => {
  it.each(of('hostile'))('%s ends quickly in a typed error or a bounded picture', async (file) => {
    const started = performance.now();
    try {
      const picture = await openPicture(load(file), file);
      expect(picture.width * picture.height).toBeLessThan(1e6);
    } catch (error) {
      expect(error).toBeInstanceOf(FileError);
      expect((error as FileError).line.startsWith(file)).toBe(true);
      expect((error as FileError).message.length).toBeGreaterThan(10);
    }
    expect(performance.now() - started).toBeLessThan(2000);
  });

  it.each([
    ['scan_mixfh_zip.exr'],
    ['size_9x17_piz.exr'],
    ['size_7x15_pxr24.exr'],
    ['size_8x16_b44a.exr'],
    ['size_9x17_dwab.exr'],
    ['tile_half_rle.exr'],
    ['multipart_layers_zip.exr'],
  ])('survives any flipped byte and any cut of %s', async (file) => {
    const whole = load(file);
    await fc.assert(
      fc.asyncProperty(
        fc.nat(Math.min(1400, whole.length - 1)),
        fc.integer({ min: 1, max: 255 }),
        fc.boolean(),
        async (at, flip, cut) => {
          const bytes = whole.slice(0, cut ? at : whole.length);
          if (!cut) bytes[at]! ^= flip;
          try {
            await readExr(bytes);
          } catch (error) {
            expect(error).toBeInstanceOf(FileError);
          }
        },
      ),
      { numRuns: 250 },
    );
  });

  it('refuses a picture that promises more than the file can hold before taking memory', async () => {
    const bytes = await writeExr(samplePicture(4, 4, () => 1));
    const text = Buffer.from(bytes).toString('latin1');
    const at = text.indexOf('dataWindow\0box2i\0') + 'dataWindow\0box2i\0'.length + 4;
    new DataView(bytes.buffer).setInt32(at + 8, 40000, true);
    new DataView(bytes.buffer).setInt32(at + 12, 40000, true);
    await expect(readExr(bytes)).rejects.toThrow(/40001 x 40001/);
  });

  it.each([
    ['nothing', new Uint8Array(0), /empty/],
    [
      'text',
      new TextEncoder().encode('this is a letter, not a picture'),
      /not a picture that is understood|not an OpenEXR file/,
    ],
    [
      'the first bytes only',
      Uint8Array.of(0x76, 0x2f, 0x31, 0x01),
      /not a picture that is understood|not an OpenEXR file/,
    ],
    ['another version', Uint8Array.of(0x76, 0x2f, 0x31, 0x01, 9, 0, 0, 0), /version 9/],
    ['unknown flags', Uint8Array.of(0x76, 0x2f, 0x31, 0x01, 2, 0x80, 0, 0), /unknown flags/],
  ])('%s', async (_, bytes, message) => {
    await expect(openPicture(bytes, 'some.exr')).rejects.toThrow(message);
  });

  it.each([
    ['channels', /no channels/],
    ['compression', /no compression/],
    ['dataWindow', /no dataWindow/],
  ])('a header without %s is refused', async (name, message) => {
    const bytes = await writeExr(samplePicture(2, 2, () => 1));
    const at = Buffer.from(bytes).indexOf(`${name}\0`);
    bytes[at] = 'X'.charCodeAt(0);
    await expect(readExr(bytes)).rejects.toThrow(message);
  });

  it('refuses an attribute of the wrong type', async () => {
    const bytes = await writeExr(samplePicture(2, 2, () => 1));
    bytes[Buffer.from(bytes).indexOf('box2i\0')] = 'X'.charCodeAt(0);
    await expect(readExr(bytes)).rejects.toThrow(/dataWindow is a Xox2i/);
  });
});

function samplePicture(width: number, height: number, value: (index: number) => number): Picture {
  const picture = emptyPicture(width, height);
  const samples = Float32Array.from({ length: width * height }, (_, index) => value(index));
  for (const name of ['R', 'G', 'B']) addChannel(picture, name, 'float', samples);
  return picture;
}

describe('writing', () => {
  const pictures = fc
    .record({
      width: fc.integer({ min: 1, max: 40 }),
      height: fc.integer({ min: 1, max: 40 }),
      seed: fc.nat(),
      x: fc.integer({ min: -50, max: 50 }),
    })
    .map(({ width, height, seed, x }) => {
      const picture = emptyPicture(width, height);
      picture.dataWindow = { xMin: x, yMin: 9 - x, xMax: x + width - 1, yMax: 9 - x + height - 1 };
      const random = (n: number): number => Math.imul(seed + n, 2654435761) >>> 0;
      const count = width * height;
      addChannel(
        picture,
        'a.R',
        'float',
        new Float32Array(Uint32Array.from({ length: count }, (_, n) => random(n)).buffer),
      );
      addChannel(
        picture,
        'Z',
        'uint',
        Uint32Array.from({ length: count }, (_, n) => random(n + 7)),
      );
      addChannel(
        picture,
        'B',
        'half',
        Uint16Array.from({ length: count }, (_, n) => random(n + 13)),
      );
      return picture;
    });

  it.each(['zip', 'none'] as const)('any samples come back bit for bit (%s)', async (compression) => {
    await fc.assert(
      fc.asyncProperty(pictures, async (picture) => {
        const again = await readExr(await writeExr(picture, { compression }));
        expect(again.dataWindow).toEqual(picture.dataWindow);
        for (const [name, { type, samples }] of picture.channels) {
          const back = again.channels.get(name)!;
          expect(back.type).toBe(type);
          expect(Buffer.from(back.samples.buffer).equals(Buffer.from(samples.buffer))).toBe(true);
        }
      }),
      { numRuns: 40 },
    );
  });

  // Source: "OpenEXR File Layout" (Academy Software Foundation): magic 76 2f 31 01, version 2, channels sorted by name.
  it('has the magic number, the version and its channels in byte order', async () => {
    const picture = emptyPicture(1, 1);
    for (const name of ['b', 'B', 'a.R', 'A']) addChannel(picture, name, 'half', new Uint16Array(1));
    const bytes = await writeExr(picture);
    expect([...bytes.subarray(0, 8)]).toEqual([0x76, 0x2f, 0x31, 0x01, 2, 0, 0, 0]);
    expect([...(await readExr(bytes)).channels.keys()]).toEqual(['A', 'B', 'a.R', 'b']);
  });

  it('sets the long-name flag for names over 31 bytes and refuses names over 255', async () => {
    const picture = emptyPicture(1, 1);
    addChannel(picture, 'x'.repeat(40), 'half', new Uint16Array(1));
    const bytes = await writeExr(picture);
    expect(bytes[5]! & 0x04).toBe(0x04);
    expect([...(await readExr(bytes)).channels.keys()]).toEqual(['x'.repeat(40)]);
    addChannel(picture, 'y'.repeat(256), 'half', new Uint16Array(1));
    await expect(writeExr(picture)).rejects.toThrow(/256 bytes/);
  });

  it('says that its primaries span no colours', async () => {
    const picture = samplePicture(2, 2, () => 1);
    const floats = (...values: number[]): Uint8Array => new Uint8Array(Float32Array.from(values).buffer);
    picture.attributes.set('chromaticities', {
      type: 'chromaticities',
      bytes: floats(0, 0, 0, 0, 0, 0, 0.3, 0.3),
    });
    const { warnings } = await readExr(await writeExr(picture));
    expect(warnings).toEqual([expect.stringContaining('span no colours')]);
  });

  it('takes a channel named __proto__ for a channel like any other', async () => {
    const picture = emptyPicture(1, 1);
    addChannel(picture, '__proto__', 'float', Float32Array.of(3));
    expect(channelFloats((await readExr(await writeExr(picture))).channels.get('__proto__')!)[0]).toBe(3);
  });

  it('is the same on threads, whichever ends first, and so is reading', async () => {
    const picture = samplePicture(700, 600, (n) => Math.sin(n / 90) + (n % 13) / 50);
    let turn = 0;
    const runner: TaskRunner = {
      threads: 3,
      run: async (tasks) => {
        await new Promise((resolve) => setTimeout(resolve, (turn++ * 7) % 5));
        tasks.forEach(runJob);
      },
    };
    const bytes = await writeExr(picture, { runner });
    expect(Buffer.from(bytes).equals(Buffer.from(await writeExr(picture)))).toBe(true);
    const again = await readExr(bytes, { runner });
    expect(turn).toBeGreaterThan(6);
    for (const [name, { samples }] of picture.channels)
      expect(Buffer.from(again.channels.get(name)!.samples.buffer).equals(Buffer.from(samples.buffer))).toBe(
        true,
      );
    bytes.fill(0xa5, bytes.length - 4000);
    await expect(readExr(bytes, { runner })).rejects.toThrow(FileError);
  });

  it('tells its progress up to the end', async () => {
    const steps: number[] = [];
    await writeExr(
      samplePicture(8, 100, (n) => n),
      { progress: (done) => steps.push(done) },
    );
    expect(steps.at(-1)).toBe(1);
    expect([...steps].sort((a, b) => a - b)).toEqual(steps);
  });
});

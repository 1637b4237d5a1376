import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import { FileError, UnsupportedError } from '../../errors';
import { addChannel, channelFloats, emptyPicture, type Picture } from '../../image/picture';
import { openPicture } from '../open';
import { readExr } from './read';
import { writeExr } from './write';

interface Entry {
  file: string;
  expected: 'exact' | 'unsupported' | 'hostile' | 'refuse';
  compression: string;
  dataWindow: [number, number, number, number];
  displayWindow: [number, number, number, number];
  channels: { name: string; type: string; sha256: string }[];
}

const FOLDER = join(__dirname, '../../../../fixtures/exr');
const MANIFEST = JSON.parse(readFileSync(join(FOLDER, 'manifest.json'), 'utf8')) as Entry[];
const of = (expected: Entry['expected']): Entry[] => MANIFEST.filter((entry) => entry.expected === expected);
const load = (file: string): Uint8Array => new Uint8Array(readFileSync(join(FOLDER, file)));

function sha256(samples: Float32Array): string {
  return createHash('sha256')
    .update(new Uint8Array(samples.buffer, samples.byteOffset, samples.byteLength))
    .digest('hex');
}

// Source: the OpenEXR reference implementation 3.1.5 (Academy Software Foundation), whose pixels the manifest lists.
describe('files of the reference implementation', () => {
  it.each(of('exact').map((entry) => [entry.file, entry] as const))('%s reads exactly', (file, entry) => {
    const picture = readExr(load(file));
    const { dataWindow: d, displayWindow: w } = picture;
    expect([d.xMin, d.yMin, d.xMax, d.yMax]).toEqual(entry.dataWindow);
    expect([w.xMin, w.yMin, w.xMax, w.yMax]).toEqual(entry.displayWindow);
    expect(picture.compression).toBe(entry.compression);
    expect([...picture.channels.keys()].sort()).toEqual(entry.channels.map(({ name }) => name).sort());
    for (const { name, type, sha256: wanted } of entry.channels) {
      const channel = picture.channels.get(name)!;
      expect([name, channel.type]).toEqual([name, type]);
      expect([name, sha256(channelFloats(channel))]).toEqual([name, wanted]);
    }
  });

  it.each(of('exact').map((entry) => [entry.file] as const))('%s survives being written and read', (file) => {
    const picture = readExr(load(file));
    const again = readExr(writeExr(picture));
    expect(again.dataWindow).toEqual(picture.dataWindow);
    expect(again.displayWindow).toEqual(picture.displayWindow);
    for (const [name, channel] of picture.channels) {
      expect(
        Buffer.from(again.channels.get(name)!.samples.buffer).equals(Buffer.from(channel.samples.buffer)),
      ).toBe(true);
    }
    for (const [name, { bytes }] of picture.attributes)
      expect(again.attributes.get(name)!.bytes).toEqual(bytes);
  });

  it.each(of('unsupported').map((entry) => [entry.file] as const))(
    '%s is refused by the name of what is missing',
    (file) => {
      expect(() => readExr(load(file))).toThrow(UnsupportedError);
      expect(() => readExr(load(file))).toThrow(/^not supported yet: /);
    },
  );

  it.each(of('refuse').map((entry) => [entry.file] as const))('%s is refused', (file) => {
    expect(() => readExr(load(file))).toThrow(FileError);
  });
});

describe('hostile files', () => {
  it.each(of('hostile').map((entry) => [entry.file] as const))(
    '%s ends quickly in a typed error or a bounded picture',
    (file) => {
      const started = performance.now();
      try {
        const picture = openPicture(load(file), file);
        expect(picture.width * picture.height).toBeLessThan(1e6);
      } catch (error) {
        expect(error).toBeInstanceOf(FileError);
        expect((error as FileError).line.startsWith(file)).toBe(true);
        expect((error as FileError).message.length).toBeGreaterThan(10);
      }
      expect(performance.now() - started).toBeLessThan(2000);
    },
  );

  it.each([
    ['scan_mixfh_zip.exr'],
    ['size_9x17_piz.exr'],
    ['size_7x15_pxr24.exr'],
    ['size_8x16_b44a.exr'],
    ['size_33x257_rle.exr'],
  ])('survives any flipped byte and any cut of %s', (file) => {
    const whole = load(file);
    fc.assert(
      fc.property(
        fc.nat(Math.min(1400, whole.length - 1)),
        fc.integer({ min: 1, max: 255 }),
        fc.boolean(),
        (at, flip, cut) => {
          const bytes = whole.slice(0, cut ? at : whole.length);
          if (!cut) bytes[at]! ^= flip;
          try {
            readExr(bytes);
          } catch (error) {
            expect(error).toBeInstanceOf(FileError);
          }
        },
      ),
      { numRuns: 250 },
    );
  });

  it('refuses a picture that promises more than the file can hold before taking memory', () => {
    const bytes = writeExr(samplePicture(4, 4, () => 1));
    const text = Buffer.from(bytes).toString('latin1');
    const at = text.indexOf('dataWindow\0box2i\0') + 'dataWindow\0box2i\0'.length + 4;
    new DataView(bytes.buffer).setInt32(at + 8, 40000, true);
    new DataView(bytes.buffer).setInt32(at + 12, 40000, true);
    expect(() => readExr(bytes)).toThrow(/40001 x 40001/);
  });

  it.each([
    ['nothing', new Uint8Array(0), /empty/],
    ['text', new TextEncoder().encode('this is a letter, not a picture'), /not an OpenEXR file/],
    ['the first bytes only', Uint8Array.of(0x76, 0x2f, 0x31, 0x01), /not an OpenEXR file/],
    ['another version', Uint8Array.of(0x76, 0x2f, 0x31, 0x01, 9, 0, 0, 0), /version 9/],
    ['unknown flags', Uint8Array.of(0x76, 0x2f, 0x31, 0x01, 2, 0x80, 0, 0), /unknown flags/],
  ])('%s', (_, bytes, message) => {
    expect(() => openPicture(bytes, 'some.exr')).toThrow(message);
  });

  it.each([
    ['channels', /no channels/],
    ['compression', /no compression/],
    ['dataWindow', /no dataWindow/],
  ])('a header without %s is refused', (name, message) => {
    const bytes = writeExr(samplePicture(2, 2, () => 1));
    const at = Buffer.from(bytes).indexOf(`${name}\0`);
    bytes[at] = 'X'.charCodeAt(0);
    expect(() => readExr(bytes)).toThrow(message);
  });

  it('refuses an attribute of the wrong type', () => {
    const bytes = writeExr(samplePicture(2, 2, () => 1));
    bytes[Buffer.from(bytes).indexOf('box2i\0')] = 'X'.charCodeAt(0);
    expect(() => readExr(bytes)).toThrow(/dataWindow is a Xox2i/);
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

  it.each(['zip', 'none'] as const)('any samples come back bit for bit (%s)', (compression) => {
    fc.assert(
      fc.property(pictures, (picture) => {
        const again = readExr(writeExr(picture, { compression }));
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
  it('has the magic number, the version and its channels in byte order', () => {
    const picture = emptyPicture(1, 1);
    for (const name of ['b', 'B', 'a.R', 'A']) addChannel(picture, name, 'half', new Uint16Array(1));
    const bytes = writeExr(picture);
    expect([...bytes.subarray(0, 8)]).toEqual([0x76, 0x2f, 0x31, 0x01, 2, 0, 0, 0]);
    expect([...readExr(bytes).channels.keys()]).toEqual(['A', 'B', 'a.R', 'b']);
  });

  it('sets the long-name flag for names over 31 bytes and refuses names over 255', () => {
    const picture = emptyPicture(1, 1);
    addChannel(picture, 'x'.repeat(40), 'half', new Uint16Array(1));
    const bytes = writeExr(picture);
    expect(bytes[5]! & 0x04).toBe(0x04);
    expect([...readExr(bytes).channels.keys()]).toEqual(['x'.repeat(40)]);
    addChannel(picture, 'y'.repeat(256), 'half', new Uint16Array(1));
    expect(() => writeExr(picture)).toThrow(/256 bytes/);
  });

  it('takes a channel named __proto__ for a channel like any other', () => {
    const picture = emptyPicture(1, 1);
    addChannel(picture, '__proto__', 'float', Float32Array.of(3));
    expect(channelFloats(readExr(writeExr(picture)).channels.get('__proto__')!)[0]).toBe(3);
  });

  it('warns of primaries that are not Rec.709', () => {
    const picture = samplePicture(1, 1, () => 1);
    const wide = Float32Array.of(0.708, 0.292, 0.17, 0.797, 0.131, 0.046, 0.3127, 0.329);
    picture.attributes.set('chromaticities', { type: 'chromaticities', bytes: new Uint8Array(wide.buffer) });
    expect(readExr(writeExr(picture)).warnings).toHaveLength(1);
  });

  it('tells its progress up to the end', () => {
    const steps: number[] = [];
    writeExr(
      samplePicture(8, 100, (n) => n),
      { progress: (done) => steps.push(done) },
    );
    expect(steps.at(-1)).toBe(1);
    expect([...steps].sort((a, b) => a - b)).toEqual(steps);
  });
});
